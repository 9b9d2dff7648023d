// A bowl of n petals from a regular n-gon: round a floor like it the walls rise at b degrees. Where two walls meet
// above a corner of the floor, whose angle is t, the seam makes the angle r = 90 + atan(cos b / tan(t / 2)) with both
// edges (from the seam's rise z, its run z / tan b square to either edge, and the corner's own bisector). The paper
// there has 360 - t; the rest, e = 360 - t - 2 r, is a pleat folded in half and laid outside along a wall.
#include "base/quantity.h"
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <cmath>
#include <numbers>

namespace uc {
namespace {

Result<FamilyDrawing> draw_bowl(const ParameterValues& values, const Polygon& sheet) {
  const int n = static_cast<int>(values.at("petals"));
  const double pi = std::numbers::pi;
  const Polygon outline = largest_regular(n, sheet);
  Point middle = Point::Zero();
  for (const Point& p : outline) middle += p / n;
  const double scale = values.at("floor");
  const double b = Degrees{values.at("slope")}.radians();
  const double t = pi - 2 * pi / n;
  const double seam = pi / 2 + std::atan(std::cos(b) / std::tan(t / 2));
  const double excess = 2 * pi - t - 2 * seam;
  // Two walls meet at this outer angle; the pleat stands off between them until it is laid along one.
  const double between =
      std::acos(std::sin(b) * std::sin(b) * std::cos(2 * pi / n) + std::cos(b) * std::cos(b)) * 180 / pi;
  const double standing = 90 - between / 2;
  const auto corner = [&](int i) -> Point {
    return middle + scale * (outline[static_cast<std::size_t>((i + n) % n)] - middle);
  };
  CreaseLines lines(outline);
  for (int i = 0; i < n; ++i) {
    lines.add(corner(i), corner(i + 1), EdgeKind::valley, values.at("slope"));
    const Point back = (corner(i - 1) - corner(i)).normalized();
    const auto turned = [&](double angle) -> Point {
      return Isometry::rotation_about(Point::Zero(), angle).linear * back;
    };
    lines.ray(corner(i), turned(seam), EdgeKind::mountain, standing);
    lines.ray(corner(i), turned(seam + excess / 2), EdgeKind::valley);
    lines.ray(corner(i), turned(seam + excess), EdgeKind::mountain, standing);
  }
  Polygon floor;
  for (int i = 0; i < n; ++i) floor.push_back(corner(i));
  FamilyDrawing out{lines.design(), {}, {{"floor", floor}}};
  const double apothem = std::abs(Line::through(outline[0], outline[1]).distance(middle));
  const double wall = apothem * (1 - scale);
  const double across = 2 * (apothem * scale + wall * std::cos(b));
  out.figures.inside_mm = {{2 * apothem * scale, 2 * apothem * scale, wall * std::sin(b)}};
  out.figures.pleat_mm = (corner(1) - corner(0)).norm();
  out.figures.more = {
      {"rim_width_mm", across}, {"height_mm", wall * std::sin(b)}, {"pleat_deg", excess / 2 * 180 / pi}};
  return out;
}

} // namespace

PatternFamily petal_bowl_family() {
  return {"petal-bowl",
          "Bowl of petals",
          FamilyGroup::star,
          false,
          {{"petals", "Petals", ParameterType::integer, 4, 12, 6, "As many as the sheet has sides."},
           {"floor", "Floor in the sheet", ParameterType::number, 0.2, 0.8, 0.45, "Its width over that of the sheet."},
           {"slope", "Slope of the walls", ParameterType::degrees, 20, 90, 60, "From the table; 90 stands upright."}},
          draw_bowl};
}

} // namespace uc
