#include "geometry/plane.h"

#include <Eigen/LU>

#include <cmath>

namespace uc {

Line Line::through(const Point& p, const Point& q) {
  const Point d = (q - p).normalized();
  const Point n{d.y(), -d.x()};
  return {n, n.dot(p)};
}

Line Line::in_one_sense() const {
  const bool back = normal.x() < -1e-4 || (std::abs(normal.x()) <= 1e-4 && normal.y() < 0);
  return back ? Line{-normal, -c} : *this;
}

Line Line::mirrored_in(const Line& mirror) const {
  const double along = normal.dot(mirror.normal);
  return {normal - 2 * along * mirror.normal, c - 2 * mirror.c * along};
}

Line Line::bisecting(const Line& l, const Line& m) {
  const Point sum = l.normal + m.normal;
  const double size = sum.norm();
  return {sum / size, (l.c + m.c) / size};
}

std::optional<Point> Line::crossing(const Line& other) const {
  Eigen::Matrix2d a;
  a.row(0) = normal.transpose();
  a.row(1) = other.normal.transpose();
  if (std::abs(a.determinant()) < 1e-12) return std::nullopt;
  return Point(a.inverse() * Point{c, other.c});
}

std::optional<RayHit> ray_hit(const Point& from, const Point& direction, const Segment& segment) {
  const auto cross = [](const Point& p, const Point& q) { return p.x() * q.y() - p.y() * q.x(); };
  const Point side = segment.to - segment.from;
  const double sine = cross(direction, side);
  if (std::abs(sine) < 1e-12 * side.norm() * direction.norm()) return std::nullopt;
  const Point way = segment.from - from;
  return RayHit{cross(way, side) / sine, cross(way, direction) / sine};
}

Isometry Isometry::reflection_in(const Line& line) {
  const Point& n = line.normal;
  return {Eigen::Matrix2d::Identity() - 2 * n * n.transpose(), 2 * line.c * n};
}

Isometry Isometry::rotation_about(const Point& centre, double radians) {
  Isometry turn;
  turn.linear << std::cos(radians), -std::sin(radians), std::sin(radians), std::cos(radians);
  turn.shift = centre - turn.linear * centre;
  return turn;
}

Isometry Isometry::operator*(const Isometry& first) const {
  return {linear * first.linear, linear * first.shift + shift};
}

Isometry Isometry::inverse() const { return {linear.transpose(), -(linear.transpose() * shift)}; }

} // namespace uc
