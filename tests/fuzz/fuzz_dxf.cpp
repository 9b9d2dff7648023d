// The DXF reader of patterns: whatever the bytes, an answer or one sentence.
#include "read_and_prove.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  return uc::fuzz::read_and_prove({reinterpret_cast<const char*>(data), size}, uc::PatternFormat::dxf);
}
