// The angle between two triangles at their common edge, and how it changes as their corners move.
#pragma once

#include <Eigen/Geometry>

#include <algorithm>
#include <array>
#include <cmath>

namespace uc {

/// What a fold angle and its gradient are made of (Bridson, Marino and Fedkiw 2003): the edge from a to b, the triangle
/// with the corner c to its left, that with d to its right.
struct FoldAngle {
  using Vector = Eigen::Vector3d;
  Vector along;
  double length = 0;
  Vector left;  // normals, as long as twice the triangles' areas
  Vector right; // are great

  FoldAngle(const Vector& a, const Vector& b, const Vector& c, const Vector& d)
      : along(b - a), length(along.norm()), left(along.cross(c - a)), right((d - a).cross(along)) {}

  /// Radians within half a turn; valley positive seen from where triangles run counter-clockwise.
  [[nodiscard]] double radians() const { return std::atan2(right.cross(left).dot(along) / length, left.dot(right)); }

  /// At a, b, left and right corner, which are given as seen from a.
  [[nodiscard]] std::array<Vector, 4> gradient(const Vector& to_left, const Vector& to_right) const {
    const Vector up_left = length / std::max(left.squaredNorm(), 1e-300) * left;
    const Vector up_right = length / std::max(right.squaredNorm(), 1e-300) * right;
    const double t_left = to_left.dot(along) / (length * length);
    const double t_right = to_right.dot(along) / (length * length);
    return {-(1 - t_left) * up_left - (1 - t_right) * up_right, -t_left * up_left - t_right * up_right, up_left,
            up_right};
  }
};

} // namespace uc
