// What a log keeps of a run: programme and plans, whatever the bytes, are read or refused with one sentence.
#include "io/json_codec.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string text(reinterpret_cast<const char*>(data), size);
  const auto split = text.find('\0');
  uc::RunDetail run;
  run.programme_json = text.substr(0, split);
  run.plans_json = split == std::string::npos ? "[]" : text.substr(split + 1);
  run.events = {{uc::EventKind::done, 0, 1, "", ""}};
  run.measured = {{"x", 1, 30, 30, 0.25, 0.15}};
  const auto families = uc::measured_families(run);
  if (!families && families.error().find('\n') != std::string::npos) std::abort();
  return 0;
}
