// A map: level folds right across, and upright ones that change direction at each of them (Maekawa), as when the strip
// is folded to and fro first and then the packet.
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

Result<PatternDesign> make_map(const ParameterValues& values) {
  PatternDesign d;
  const int n = static_cast<int>(values.at("count"));
  d.count = n;
  d.rules = {"line 0,1 along 1,0 mountain", fmt::format("copy 0,1 times {} alternating", std::max(1, n - 2)),
             fmt::format("run 1,0 step 0,1 repeat {} valley alternating", 4 * n),
             fmt::format("copy 1,0 times {} alternating of 3", std::max(1, n - 2))};
  return d;
}

} // namespace

PatternFamily map_family() {
  return {"map",
          "A map",
          true,
          {{"count", "Cells across", ParameterType::integer, 2, 32, 4, "Folds both ways; the packet is one cell."}},
          make_map};
}

} // namespace uc
