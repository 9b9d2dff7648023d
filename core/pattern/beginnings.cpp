#include "pattern/beginnings.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {

const std::vector<Beginning>& beginnings() {
  static const std::vector<Beginning> all = {{"chevron", "Chevron", 12, 2, 96},
                                             {"square-twists", "Square twists", 18, 6, 96},
                                             {"turned-pleats", "Pleats turned at a line", 16, 4, 96},
                                             {"map", "A map", 4, 2, 32}};
  return all;
}

Result<PatternDesign> beginning(const std::string& name, int count) {
  const auto found =
      std::find_if(beginnings().begin(), beginnings().end(), [&](const Beginning& b) { return b.name == name; });
  if (found == beginnings().end()) {
    std::string names;
    for (const Beginning& b : beginnings()) names += (names.empty() ? "" : ", ") + b.name;
    return Error{fmt::format("\"{}\" is no pattern known here; there are {}", name, names)};
  }
  if (count < found->least || count > found->greatest)
    return Error{fmt::format("count must be {} to {} for {}", found->least, found->greatest, name)};
  PatternDesign d;
  d.count = count;
  const int n = count;
  if (name == "chevron") {
    d.rules = {fmt::format("run 0,0 step 1,0.5 step 1,-0.5 repeat {} mountain", n + 1),
               fmt::format("copy 0,1 times {} alternating", n),
               fmt::format("run 1,-0.5 step 0,1 repeat {} valley alternating", n + 2),
               "copy 1,-0.5 times 1 alternating of 3", fmt::format("copy 2,0 times {} of 3-4", (n + 1) / 2)};
  } else if (name == "square-twists") {
    const int times = n / 6;
    d.rules = {"run 4,3 step 1,1 step -1,1 step -1,-1 step 1,-1 repeat 4",
               "crease 4,3 4,-2",
               "crease 5,4 5,-1",
               "turn 4,4 into 4 of 2-3",
               fmt::format("copy 6,1 times {}", times + 1),
               fmt::format("copy -6,-1 times {} of 1-4", times + 1),
               fmt::format("copy -1,6 times {}", times + 1),
               fmt::format("copy 1,-6 times {} of 1-6", times + 1)};
  } else if (name == "turned-pleats") {
    // A slanted line right across: every pleat goes on beyond it as its mirror image.
    const double half = n / 2.0;
    d.rules = {"line 0,1 along 1,0", fmt::format("copy 0,1 times {}", n - 2),
               fmt::format("reflect {},{} {},{} {},{}", half - n / 16.0, -1, 3 * n, half, half + n / 16.0, n + 1)};
  } else {
    d.rules = {"line 0,1 along 1,0", fmt::format("copy 0,1 times {}", std::max(1, n - 2)), "line 1,0 along 0,1",
               fmt::format("copy 1,0 times {} of 3", std::max(1, n - 2))};
  }
  return d;
}

} // namespace uc
