// Measured runs from elsewhere, and what is made of them.
#include "io/measured_file.h"
#include "measure/hand_fit.h"
#include "measure/judgement.h"

#include <cstdint>
#include <string>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size > 2000) return 0;
  const auto runs = uc::parse_measured(std::string(reinterpret_cast<const char*>(data), size), 2);
  if (!runs) return 0;
  std::vector<uc::MeasuredFamily> families;
  for (const uc::MeasuredRun& run : *runs) {
    (void)uc::judge(run.family, 0.1);
    families.push_back(run.family);
  }
  (void)uc::fit_hand(families);
  return 0;
}
