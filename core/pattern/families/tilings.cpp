#include "pattern/families/tilings.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

Point at_angle(double r, double degrees) {
  return r * Point{std::cos(degrees * std::numbers::pi / 180), std::sin(degrees * std::numbers::pi / 180)};
}
Tile tile(int sides, const Point& centre, double normal_deg, bool second = false) {
  return {sides, centre, normal_deg * std::numbers::pi / 180, second};
}

std::vector<Tiling> made() {
  const double r2 = std::sqrt(2.0);
  const double r3 = std::sqrt(3.0);
  const double l488 = 1 + r2;
  const double l31212 = 2 + r3;
  const double l3464 = 1 + r3;
  using A = Tiling::Alike;
  return {
      {"4.4.4.4", {1, 0}, {0, 1}, {tile(4, {0, 0}, 0)}, A::tiles, true},
      {"3.3.3.3.3.3", {1, 0}, {0.5, r3 / 2}, {tile(3, {0.5, r3 / 6}, -90), tile(3, {1, r3 / 3}, 90, true)}},
      {"6.6.6", {r3, 0}, {r3 / 2, 1.5}, {tile(6, {0, 0}, 0)}, A::corners},
      {"3.6.3.6",
       {2, 0},
       {1, r3},
       {tile(6, {0, 0}, 30), tile(3, at_angle(2 / r3, 30), 210, true), tile(3, at_angle(2 / r3, 90), 270, true)}},
      {"4.8.8", {l488, 0}, {0, l488}, {tile(8, {0, 0}, 0), tile(4, {l488 / 2, l488 / 2}, 45)}, A::corners},
      {"3.12.12",
       {l31212, 0},
       at_angle(l31212, 60),
       {tile(12, {0, 0}, 0), tile(3, at_angle(l31212 / r3, 30), 210, true),
        tile(3, at_angle(l31212 / r3, 90), 270, true)}},
      {"3.4.6.4",
       {l3464, 0},
       at_angle(l3464, 60),
       {tile(6, {0, 0}, 0), tile(4, {l3464 / 2, 0}, 0, true), tile(4, at_angle(l3464 / 2, 60), 60, true),
        tile(4, at_angle(l3464 / 2, 120), 120, true), tile(3, at_angle(l3464 / r3, 30), 30),
        tile(3, at_angle(l3464 / r3, 90), 90)}},
  };
}

} // namespace

Point Tile::corner(int i) const {
  const double half = std::numbers::pi / sides;
  const double angle = normal - half + 2 * half * i;
  return centre + Point{std::cos(angle), std::sin(angle)} / (2 * std::sin(half));
}

const std::vector<Tiling>& all_tilings() {
  static const std::vector<Tiling> all = made();
  return all;
}

std::vector<Tile> tiles_over(const Tiling& tiling, const Point& half_size) {
  const double shortest = std::min(tiling.u.norm(), tiling.v.norm());
  const int most = static_cast<int>(std::ceil(2 * half_size.norm() / shortest)) + 1;
  std::vector<Tile> out;
  for (int i = -most; i <= most; ++i) {
    for (int j = -most; j <= most; ++j) {
      for (Tile t : tiling.tiles) {
        t.centre += i * tiling.u + j * tiling.v;
        if (tiling.checkered) t.second = (i + j) % 2 != 0;
        if (std::abs(t.centre.x()) <= half_size.x() && std::abs(t.centre.y()) <= half_size.y()) out.push_back(t);
      }
    }
  }
  return out;
}

} // namespace uc
