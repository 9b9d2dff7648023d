// Relief pleats: level pleats right across the sheet, mirrored at every closed outline they meet. The outlines are
// squares on their corners, one within the other; where a pleat meets one it goes on square to itself (Kawasaki: mirror
// images), and the outline changes direction there. With the corners half-way between two pleats the vertices lie flat
// everywhere but at those corners, where the outline ends its side; the paper bridges the last half pleat there.
#include "pattern/families/all.h"

#include <fmt/format.h>

namespace uc {
namespace {

Result<FamilyDrawing> draw_relief(const ParameterValues& values, const Polygon& sheet) {
  PatternDesign d;
  const int n = static_cast<int>(values.at("count"));
  const int nested = static_cast<int>(values.at("outlines"));
  const int size = static_cast<int>(values.at("size"));
  const int step = static_cast<int>(values.at("step"));
  const Point box = bounding_box(sheet).size();
  const int rows = static_cast<int>(box.y() / box.x() * n);
  if (2 * size >= std::min(n, rows))
    return Error{fmt::format("size: {} cells from the middle to a corner do not fit on {}; type up to {}", size,
                             std::min(n, rows), (std::min(n, rows) - 1) / 2)};
  if (size - (nested - 1) * step < 1)
    return Error{fmt::format("outlines: {} within each other, {} apart, need a size of {} or more", nested, step,
                             (nested - 1) * step + 1)};
  d.count = n;
  d.rules = {"line 0,1 along 1,0 valley", fmt::format("copy 0,1 times {} alternating", rows - 2)};
  const double x = n / 2;
  const double y = rows / 2;
  for (int i = 0; i < nested; ++i) {
    const double r = size - i * step - 0.5;
    d.rules.push_back(fmt::format("reflect {},{} {},{} {},{} {},{} alternating", x, y - r, x + r, y, x, y + r, x - r, y));
  }
  FamilyDrawing out{d, {}};
  out.figures.finished_mm = box; // while the pleats stand
  return out;
}

} // namespace

PatternFamily relief_family() {
  return {"relief",
          "Relief of pleats",
          FamilyGroup::relief,
          false,
          {{"count", "Pleats", ParameterType::integer, 8, 96, 24, "Each is as wide as the sheet over this count."},
           {"size", "Size of the outline", ParameterType::integer, 2, 40, 8, "Cells from its middle to a corner."},
           {"outlines", "Outlines", ParameterType::integer, 1, 8, 2, "One within the other; each turns the pleats again."},
           {"step", "Apart", ParameterType::integer, 1, 8, 3, "Cells between an outline and the next."}},
          draw_relief};
}

} // namespace uc
