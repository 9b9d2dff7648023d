// Rules as typed, and what they draw.
#include "pattern/design.h"

#include <cstdint>
#include <sstream>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size > 300) return 0;
  uc::PatternDesign design;
  design.count = 8;
  std::istringstream lines(std::string(reinterpret_cast<const char*>(data), size));
  for (std::string line; std::getline(lines, line) && design.rules.size() < 5;) {
    // Long repeats are allowed but take long; here only their reading is of interest.
    if (const auto rule = uc::parse_rule(line); rule && rule->repeat < 20) design.rules.push_back(uc::rule_text(*rule));
  }
  (void)uc::drawn_pattern(design, {{0, 0}, {80, 0}, {80, 80}, {0, 80}});
  return 0;
}
