#include "divide/guides.h"

#include <cmath>

namespace uc {

std::optional<GuideFold> guide_fold(const Polygon& area, const Line& guide) {
  constexpr double near = 1e-6;
  const int n = static_cast<int>(area.size());
  const auto corner = [&](int i) -> const Point& { return area[static_cast<std::size_t>((i + n) % n)]; };
  const auto on = [&](int i) { return std::abs(guide.distance(corner(i))) < near; };
  for (int i = 0; i < n; ++i)
    if (on(i) && on(i + 1)) return GuideFold{GuideFold::Way::edge, {}, {i}};
  // The pair that is farthest apart is the easiest to bring together.
  std::optional<GuideFold> best;
  double farthest = near;
  for (int i = 0; i < n; ++i)
    for (int j = i + 1; j < n; ++j)
      if ((guide.mirrored(corner(i)) - corner(j)).norm() < near && (corner(i) - corner(j)).norm() > farthest + near) {
        farthest = (corner(i) - corner(j)).norm();
        best = GuideFold{GuideFold::Way::corner_onto, {i, j}, {}};
      }
  if (best) return best;
  std::vector<int> through;
  for (int i = 0; i < n; ++i)
    if (on(i)) through.push_back(i);
  if (through.size() == 2) return GuideFold{GuideFold::Way::through_corners, through, {}};
  for (const int i : through) {
    // A side of the corner comes to lie along the other when the guide halves their angle.
    const Line after = Line::through(corner(i), corner(i + 1)).mirrored_in(guide);
    if (std::abs(after.distance(corner(i - 1))) < near)
      return GuideFold{GuideFold::Way::edges_onto, {i}, {(i + n - 1) % n, i}};
  }
  return std::nullopt;
}

} // namespace uc
