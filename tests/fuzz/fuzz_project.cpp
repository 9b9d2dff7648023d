// The project reader: whatever the bytes, a project that can be written and read again, or one sentence.
#include "io/project_file.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const auto project = uc::project_from_text({reinterpret_cast<const char*>(data), size}, "job");
  if (!project) {
    if (!project.error().starts_with("job:") || project.error().find('\n') != std::string::npos) std::abort();
    return 0;
  }
  if (!uc::project_from_text(uc::project_text(*project), "again")) std::abort();
  return 0;
}
