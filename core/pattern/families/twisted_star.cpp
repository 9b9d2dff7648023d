// The twisted star: in the middle of a regular n-gon stands a smaller one, and from each of its sides a pleat runs off
// at the angle f to the side, so that all turn together. At a corner of the middle lie its own angle t = 180 - 360 / n,
// f, the supplement of t and 180 - f (Kawasaki). With f the least of them the creases beside it are opposite and the
// other two alike; the middle's sides are all alike, which folds flat up to f = 90 - 180 / n.
#include "base/quantity.h"
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

Result<FamilyDrawing> draw_star(const ParameterValues& values, const Polygon& sheet) {
  const int n = static_cast<int>(values.at("points"));
  const double slant = values.at("slant");
  const double most = std::min(90 - 180.0 / n, 360.0 / n - 1);
  if (slant > most)
    return Error{
        fmt::format("slant: with {} points pleats lock up to {:.1f} degrees; {:.1f} is too much", n, most, slant)};
  const Polygon outline = largest_regular(n, sheet);
  Point middle = Point::Zero();
  for (const Point& p : outline) middle += p / n;
  const double scale = values.at("middle");
  // The middle is turned so that the pleats run about to the sheet's sides.
  const Isometry turn = Isometry::rotation_about(Point::Zero(), Degrees{90 - slant}.radians());
  const auto corner = [&](int i) -> Point {
    return middle + scale * (turn.linear * (outline[static_cast<std::size_t>(i % n)] - middle));
  };
  const Isometry along = Isometry::rotation_about(Point::Zero(), Degrees{slant}.radians());
  CreaseLines lines(outline);
  for (int i = 0; i < n; ++i) {
    const Point direction = along.linear * (corner(i) - corner(i + 1));
    lines.add(corner(i), corner(i + 1), EdgeKind::valley);
    lines.ray(corner(i), direction, EdgeKind::valley);
    lines.ray(corner(i + 1), direction, EdgeKind::mountain);
  }
  FamilyDrawing out{lines.design(), {}};
  const double side = (corner(1) - corner(0)).norm();
  out.figures.pleat_mm = side * std::sin(Degrees{slant}.radians());
  out.figures.more = {{"middle_side_mm", side}};
  return out;
}

} // namespace

PatternFamily twisted_star_family() {
  return {
      "twisted-star",
      "Twisted star",
      FamilyGroup::star,
      true,
      {{"points", "Points", ParameterType::integer, 3, 12, 6, "As many as the sheet has sides."},
       {"middle", "Middle in the sheet", ParameterType::number, 0.1, 0.45, 0.25, "Its width over that of the sheet."},
       {"slant", "Slant of the pleats", ParameterType::degrees, 8, 45, 25,
        "Between a side of the middle and its pleat; more points allow less."}},
      draw_star};
}

} // namespace uc
