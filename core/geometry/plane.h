// Points, lines and isometries of the plane: the few things every other folder of the core is written in.
// Lengths are mm; a line is the set n·p = c with a unit normal n.
#pragma once

#include <Eigen/Core>

#include <optional>
#include <utility>
#include <vector>

namespace uc {

using Point = Eigen::Vector2d;

struct Segment {
  Point from = Point::Zero();
  Point to = Point::Zero();
  [[nodiscard]] double length() const { return (to - from).norm(); }
  [[nodiscard]] Point middle() const { return (from + to) / 2; }
  [[nodiscard]] Point at(double t) const { return from + t * (to - from); }
  friend bool operator==(const Segment& a, const Segment& b) { return a.from == b.from && a.to == b.to; }
};

/// The line n·p = c; `normal` has length 1.
struct Line {
  Point normal{1, 0};
  double c = 0;

  static Line through(const Point& p, const Point& q);
  static Line with_normal(const Point& normal, double offset) { return {normal, offset}; }
  /// The mean of two lines given in the same sense: the crease when one is brought onto the other. For parallel lines
  /// the middle line, else the bisector whose normal is the mean of both normals.
  static Line bisecting(const Line& l, const Line& m);

  [[nodiscard]] double distance(const Point& p) const { return normal.dot(p) - c; }
  [[nodiscard]] Point direction() const { return {-normal.y(), normal.x()}; }
  [[nodiscard]] std::optional<Point> crossing(const Line& other) const;
  /// The same line with its normal to the right, or straight up for level lines (to 1e-4 radians).
  [[nodiscard]] Line in_one_sense() const;
  [[nodiscard]] Line mirrored_in(const Line& mirror) const;
  /// Where a point comes to lie when the plane is folded on this line.
  [[nodiscard]] Point mirrored(const Point& p) const { return p - 2 * distance(p) * normal; }
};

struct RayHit {
  double along = 0; // in lengths of the direction
  double at = 0;    // 0 to 1 between the ends of the segment
};
/// Where the line through `from` in this direction meets the line of a segment; empty when they are parallel.
std::optional<RayHit> ray_hit(const Point& from, const Point& direction, const Segment& segment);

/// p -> linear * p + shift, with an orthogonal linear part.
struct Isometry {
  Eigen::Matrix2d linear = Eigen::Matrix2d::Identity();
  Point shift = Point::Zero();

  static Isometry identity() { return {}; }
  static Isometry reflection_in(const Line& line);
  static Isometry rotation_about(const Point& centre, double radians);

  Point operator*(const Point& p) const { return linear * p + shift; }
  Isometry operator*(const Isometry& first) const { return {linear * first.linear, linear * first.shift + shift}; }
  Segment operator*(const Segment& s) const { return {*this * s.from, *this * s.to}; }
  /// Where a line comes to lie.
  Line operator*(const Line& l) const {
    const Point normal = linear * l.normal;
    return {normal, l.c + normal.dot(shift)};
  }
  [[nodiscard]] Isometry inverse() const { return {linear.transpose(), -(linear.transpose() * shift)}; }
};

} // namespace uc
