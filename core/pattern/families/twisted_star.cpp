// The twisted star: in the middle of a regular n-gon stands a smaller one, and from each of its sides a pleat runs off
// at the angle f to the side, so that all turn together. At a corner of the middle lie its own angle t = 180 - 360 / n,
// f, the supplement of t and 180 - f (Kawasaki). With f the least of them the creases beside it are opposite and the
// other two alike; the middle's sides are all alike, which folds flat up to f = 90 - 180 / n. The finishing folds put
// the sheet's corners, the tips of the arms, behind: one layer each, as long as the crease stays clear of the pleats.
#include "base/quantity.h"
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

/// How far from its corners the outline is free of pleats.
double room_for_tips(const Polygon& outline, const std::vector<Segment>& rays) {
  double room = 1e300;
  for (const Segment& ray : rays) {
    double nearest = 1e300;
    Point end = ray.to;
    for (std::size_t i = 0; i < outline.size(); ++i) {
      const auto hit = ray_hit(ray.from, ray.to - ray.from, {outline[i], outline[(i + 1) % outline.size()]});
      if (!hit || hit->along <= 0 || hit->along > nearest) continue;
      nearest = hit->along;
      end = ray.from + hit->along * (ray.to - ray.from);
    }
    for (const Point& corner : outline) room = std::min(room, (corner - end).norm());
  }
  return room;
}

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
  lines.stage(1);
  Polygon held;
  std::vector<Segment> ends; // where pleats leave, and which way
  for (int i = 0; i < n; ++i) {
    const Point direction = along.linear * (corner(i) - corner(i + 1));
    held.push_back(corner(i));
    lines.add(corner(i), corner(i + 1), EdgeKind::valley);
    lines.ray(corner(i), direction, EdgeKind::valley);
    lines.ray(corner(i + 1), direction, EdgeKind::mountain);
    ends.push_back({corner(i), corner(i) + direction});
    ends.push_back({corner(i + 1), corner(i + 1) + direction});
  }
  const double tips = values.at("tips") * room_for_tips(outline, ends);
  lines.stage(2);
  for (int i = 0; i < n && tips > 0; ++i) {
    const Point& tip = outline[static_cast<std::size_t>(i)];
    const auto towards = [&](int j) -> Point {
      return tip + tips * (outline[static_cast<std::size_t>((j + n) % n)] - tip).normalized();
    };
    lines.add(towards(i - 1), towards(i + 1), EdgeKind::mountain);
  }
  FamilyDrawing out{lines.design(), {}, {{"middle", held}}};
  const double side = (corner(1) - corner(0)).norm();
  out.figures.pleat_mm = side * std::sin(Degrees{slant}.radians());
  out.figures.more = {{"middle_side_mm", side}, {"tip_mm", tips}};
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
        "Between a side of the middle and its pleat; more points allow less."},
       {"tips", "Tips folded behind", ParameterType::number, 0, 0.95, 0.6,
        "The finishing folds: how much of the room between a tip and the pleats beside it is folded behind; 0: none."}},
      draw_star};
}

} // namespace uc
