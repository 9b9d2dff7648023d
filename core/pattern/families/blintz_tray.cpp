// The tray from a blintz: the corners of a square of side s are folded to the middle, the smaller square (side s / sqrt
// 2, turned by 45 degrees) is divided in quarters or thirds, walls rise on the outer divisions, and the corner flaps
// come back over the rim and lie on the floor. Quarters: inner side s / (2 sqrt 2), height half of it. Thirds: side and
// height s / (3 sqrt 2). The two walls that are folded last hold the gussets of the others.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <cmath>

namespace uc {
namespace {

Result<FamilyDrawing> draw_blintz_tray(const ParameterValues& values, const Polygon& sheet) {
  const Polygon outline = largest_square(sheet);
  const double side = (outline[1] - outline[0]).norm();
  const double part = values.at("division") == 0 ? 4 : 3;
  const double height = side / std::sqrt(2.0) / part;
  const double inner = part == 4 ? 2 * height : height;
  const Point middle = bounding_box(outline).centre();
  const double half = inner / 2;    // of the floor
  const double rim = half + height; // of the blintz square
  const double foot = rim + height; // where the flap meets the floor again
  // Coordinates along the diagonals of the sheet.
  const auto place = [&](double u, double v) -> Point { return middle + std::sqrt(0.5) * Point{u - v, u + v}; };
  CreaseLines lines(outline);
  const auto add = [&](double u, double v, double u2, double v2, EdgeKind kind, CreaseGoals goals) {
    lines.add_by_stages(place(u, v), place(u2, v2), kind, std::move(goals));
  };
  constexpr EdgeKind M = EdgeKind::mountain;
  constexpr EdgeKind V = EdgeKind::valley;
  // By hand: two flaps to the middle, their walls up from the floor, the other walls with the gussets, and their flaps
  // over the rim, one after the other, for they meet over the middle.
  enum : int { flaps = 1, walls, end_walls, first_end, last_end };
  const auto end_flap = [&](int side) -> int { return side > 0 ? first_end : last_end; };
  for (const int s : {1, -1}) {
    add(s * half, -half, s * half, half, V, {{walls, 90}}); // the floor
    add(-half, s * half, half, s * half, V, {{end_walls, 90}});
    add(s * rim, -half, s * rim, half, V, {{flaps, 180}}); // rims of the walls that stay folded to the floor
    add(-half, s * rim, half, s * rim, V, {{end_flap(s), 180}});
    // With the floor's edge below it, seen from the other side.
    add(s * foot, -2 * rim, s * foot, 2 * rim, M, {{walls, 90}});
    add(-2 * rim, s * foot, 2 * rim, s * foot, M, {{end_flap(s), 90}});
    for (const int r : {1, -1}) {
      // Upright corners: a gusset of two halves on the end wall.
      add(s * half, r * half, s * half, r * rim, V, {{walls, 90}, {end_walls, 180}});
      add(s * half, r * half, s * rim, r * half, V, {{end_walls, 90}});
      add(s * half, r * half, s * rim, r * rim, M, {{end_walls, 180}});
      add(s * half, r * rim, s * half, r * foot, V, {{walls, 90}, {end_walls, 180}});
      add(s * rim, r * half, s * foot, r * half, M, {{end_walls, 90}});
      // The rim goes on across the gusset, seen from its other side.
      add(s * half, r * rim, s * rim, r * rim, M, {{end_flap(r), 180}});
      add(s * rim, r * half, s * rim, r * rim, V, {{flaps, 180}});
    }
  }
  FamilyDrawing out{lines.design(),
                    {},
                    {{"floor", {place(half, -half), place(half, half), place(-half, half), place(-half, -half)}}}};
  out.figures.inside_mm = {{inner, inner, height}};
  out.figures.pleat_mm = height;
  return out;
}

} // namespace

PatternFamily blintz_tray_family() {
  return {"blintz-tray",
          "Tray from a blintz",
          FamilyGroup::box,
          false,
          {{"division",
            "Divided in",
            ParameterType::choice,
            0,
            1,
            0,
            "Quarters make it shallow, thirds a cube.",
            {"quarters", "thirds"}}},
          draw_blintz_tray};
}

} // namespace uc
