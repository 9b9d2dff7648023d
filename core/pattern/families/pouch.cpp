// The twist-closing pouch: round a regular n-gon the rest of a larger one is folded in. At a corner of the inner
// polygon its angle is t = 180 - 360 / n; a pleat of the supplement, 360 / n, leaves the corner, so that the two walls
// meet the floor at angles that make 180 (Kawasaki): 90 + lean and 90 - lean. The edges are valleys; of the pleat's
// creases the one nearer to its edge is a valley, the other a mountain (Maekawa), all pleats the same way round, so the
// flaps lock by a twist. Flaps reach to the middle where the outer polygon's walls are as high as the inner one's
// apothem.
#include "base/quantity.h"
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <cmath>
#include <numbers>

namespace uc {
namespace {

Result<FamilyDrawing> draw_pouch(const ParameterValues& values, const Polygon& sheet) {
  const int n = static_cast<int>(values.at("sides"));
  const double pi = std::numbers::pi;
  const Polygon outline = largest_regular(n, sheet);
  Point middle = Point::Zero();
  for (const Point& p : outline) middle += p / n;
  const double reach = values.at("reach"); // of a flap, in apothems of the floor
  const double scale = 1 / (1 + reach);
  const auto corner = [&](int i) -> Point {
    return middle + scale * (outline[static_cast<std::size_t>((i + n) % n)] - middle);
  };
  const double lean = Degrees{values.at("lean")}.radians();
  CreaseLines lines(outline);
  for (int i = 0; i < n; ++i) {
    lines.add(corner(i), corner(i + 1), EdgeKind::valley);
    // The wall of the side before ends square to it, turned by the lean; the pleat follows.
    const Point along = (corner(i) - corner(i - 1)).normalized();
    const Point first = Isometry::rotation_about(Point::Zero(), -pi / 2 + lean).linear * along;
    lines.ray(corner(i), first, EdgeKind::mountain);
    lines.ray(corner(i), Isometry::rotation_about(Point::Zero(), 2 * pi / n).linear * first, EdgeKind::valley);
  }
  const double side = (corner(1) - corner(0)).norm();
  Polygon floor;
  for (int i = 0; i < n; ++i) floor.push_back(corner(i));
  FamilyDrawing out{lines.design(), {}, {{"floor", floor}}};
  out.figures.pleat_mm = std::min(side, reach * side / 2 / std::tan(pi / n));
  out.figures.more = {{"floor_side_mm", side}, {"floor_width_mm", bounding_box(floor).size().x()}};
  return out;
}

} // namespace

PatternFamily pouch_family() {
  return {"pouch",
          "Twist-closing pouch",
          FamilyGroup::box,
          true,
          {{"sides", "Sides", ParameterType::integer, 5, 12, 6, "Of the sheet and of the floor."},
           {"reach", "Reach of the flaps", ParameterType::number, 0.2, 1, 0.9,
            "How far they come in: at 1 they meet in the middle."},
           {"lean", "Lean of the pleats", ParameterType::degrees, 0, 15, 0,
            "From square to the floor's side; leaning pleats lock better."}},
          draw_pouch};
}

} // namespace uc
