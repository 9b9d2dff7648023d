// Level pleats that turn at a slanted line right across the sheet: each goes on beyond it as its mirror image
// (Kawasaki) in its own direction, and the line changes direction at each pleat (Maekawa). The line leans to the right,
// so below it both arms of a pleat make the lesser angle with it, and there its direction is the other one: it begins
// at the lower edge as a mountain, below a valley.
#include "pattern/families/all.h"

#include <fmt/format.h>

namespace uc {
namespace {

Result<FamilyDrawing> draw_turned_pleats(const ParameterValues& values, const Polygon& /*sheet*/) {
  PatternDesign d;
  const int n = static_cast<int>(values.at("count"));
  d.count = n;
  // The line leans an eighth of the count over the sheet; the outline's other two sides lie beyond any sheet.
  constexpr double far = 30;
  const Point middle{n / 2.0, n / 2.0};
  const Point reach = far * Point{n / 8.0, n + 2.0};
  d.rules = {"line 0,1 along 1,0 valley", fmt::format("copy 0,1 times {} alternating", n - 2),
             fmt::format("reflect {},{} {},{} {},{} alternating", middle.x() + reach.x(), middle.y() + reach.y(),
                         3 * far * n, middle.y(), middle.x() - reach.x(), middle.y() - reach.y())};
  return FamilyDrawing{d, {}};
}

} // namespace

PatternFamily turned_pleats_family() {
  return {
      "turned-pleats",
      "Pleats turned at a line",
      FamilyGroup::relief,
      true,
      {{"count", "Pleats", ParameterType::integer, 4, 96, 16, "Each pleat is as wide as the sheet over this count."}},
      draw_turned_pleats};
}

} // namespace uc
