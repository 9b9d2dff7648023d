// Relief pleats: level pleats right across the sheet, mirrored at every closed outline they meet, so that they are
// level and upright in turn (see relief_pleats). The outlines are rectangles on their corners, with corners cut in or
// off where wanted, one within the other; any other outline of such sides can be typed as a rule.
#include "pattern/families/all.h"
#include "pattern/relief_pleats.h"

#include <fmt/format.h>

#include <cmath>

namespace uc {
namespace {

/// A rectangle on its corners about a middle, counter-clockwise, in cells: `radius` to the right corner were it a
/// square, `longer` by twice so many cells along the sides that rise; each corner cut in by `notch` along both its
/// sides, or cut off by a level or upright side `blunt` along them.
Polygon outline_on_corners(const Point& middle, double radius, double longer, double notch, double blunt) {
  const double far = radius + longer;
  const Polygon corners{{far, longer}, {longer, far}, {-far, -longer}, {-longer, -far}};
  Polygon out;
  for (std::size_t i = 0; i < 4; ++i) {
    const Point in = (corners[i] - corners[(i + 3) % 4]).cwiseSign();
    const Point on = (corners[(i + 1) % 4] - corners[i]).cwiseSign();
    out.push_back(middle + corners[i] - (notch + blunt) * in);
    if (blunt > 0) out.push_back(middle + corners[i] + blunt * on);
    if (notch == 0) continue;
    out.push_back(middle + corners[i] - notch * in + notch * on);
    out.push_back(middle + corners[i] + notch * on);
  }
  return out;
}

Result<FamilyDrawing> draw_relief(const ParameterValues& values, const Polygon& sheet) {
  const int count = static_cast<int>(values.at("count"));
  const double radius = values.at("radius");
  const double longer = values.at("longer");
  const double cut = values.at("cut");
  const bool cut_in = values.at("corners") == 1;
  const bool cut_off = values.at("corners") == 2;
  const Box box = bounding_box(sheet);
  const double cell = box.size().x() / count;
  const Point middle = (box.size() / cell / 2).array().floor();
  const double room = std::min(middle.minCoeff(), (box.size() / cell - middle).minCoeff());
  if (radius + longer >= room)
    return Error{fmt::format("radius: {} cells from the middle to a corner do not fit on the sheet; type up to {} for "
                             "radius and longer together",
                             radius + longer, std::ceil(room) - 1)};
  if ((cut_in || cut_off) && 2 * cut >= radius)
    return Error{fmt::format("cut: corners cut by {} meet in an outline of radius {}; type up to {}", cut, radius,
                             std::ceil(radius / 2) - 1)};
  const ReliefWish wish{outline_on_corners(middle, radius, longer, cut_in ? cut : 0, cut_off ? cut : 0),
                        static_cast<int>(values.at("outlines")), static_cast<int>(values.at("step")),
                        values.at("lines") == 1};
  if (const auto fits = relief_creases(wish, {Point::Zero(), box.size() / cell}); !fits)
    return Error{"outlines: " + fits.error()};
  PatternRule rule;
  rule.kind = PatternRule::Kind::relief;
  rule.points = wish.outline;
  rule.repeat = wish.nested;
  rule.apart = wish.step;
  rule.grid = wish.grid;
  PatternDesign design;
  design.count = count;
  design.rules = {rule_text(rule)};
  FamilyDrawing out{design, {}};
  out.usual_part = 0.5; // pleats that stand up throw the shadows
  out.figures.pleat_mm = cell;
  return out;
}

} // namespace

PatternFamily relief_family() {
  return {
      "relief",
      "Relief of pleats",
      FamilyGroup::relief,
      false,
      {{"count", "Pleats", ParameterType::integer, 8, 96, 24, "Each is as wide as the sheet over this count."},
       {"radius", "Size of the outline", ParameterType::integer, 2, 40, 8, "Cells from its middle to a corner."},
       {"longer", "Longer", ParameterType::integer, 0, 40, 0,
        "Cells that two of its corners move outward, so that the square becomes a rectangle."},
       {"corners",
        "Corners",
        ParameterType::choice,
        0,
        2,
        0,
        "Pointed, cut in by a square, or cut off by a level or upright side.",
        {"pointed", "cut-in", "cut-off"}},
       {"cut", "Corners cut by", ParameterType::integer, 1, 19, 2,
        "Cells along both sides of each corner that is cut; less than half the size."},
       {"outlines", "Outlines", ParameterType::integer, 1, 8, 2, "One within the other; each turns the pleats again."},
       {"step", "Apart", ParameterType::integer, 1, 8, 3, "Cells between an outline and the next."},
       {"lines",
        "Lines drawn",
        ParameterType::choice,
        0,
        1,
        0,
        "Only the creases that stay, or the whole grid with them.",
        {"folded", "all"}}},
      draw_relief};
}

} // namespace uc
