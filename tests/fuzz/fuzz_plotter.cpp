// Plotter files from elsewhere, in both languages, followed and drawn.
#include "io/plotter_file.h"

#include <cstdint>
#include <string>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 1 || size > 4000) return 0;
  const std::string text(reinterpret_cast<const char*>(data) + 1, size - 1);
  const auto trace = uc::parse_plotter(text, data[0] % 2 ? "a.hpgl" : "a.gcode");
  if (trace && trace->strokes.size() < 5000)
    (void)uc::trace_svg(*trace, {{0, 0}, {100, 0}, {100, 100}, {0, 100}}, "seen");
  return 0;
}
