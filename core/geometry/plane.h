// Points, lines and isometries of the plane: the few things every other folder of the core is written in.
// Lengths are mm; a line is the set n·p = c with a unit normal n. What is inline is written in coordinates: every file
// reads this one, and expressions of matrices are what a compiler takes longest over.
#pragma once

#include <Eigen/Core>

#include <cmath>
#include <optional>
#include <utility>
#include <vector>

namespace uc {

using Point = Eigen::Vector2d;

struct Segment {
  Point from = Point::Zero();
  Point to = Point::Zero();
  [[nodiscard]] double length() const {
    const double dx = to.x() - from.x();
    const double dy = to.y() - from.y();
    return std::sqrt(dx * dx + dy * dy);
  }
  [[nodiscard]] Point middle() const { return {(from.x() + to.x()) / 2, (from.y() + to.y()) / 2}; }
  [[nodiscard]] Point at(double t) const {
    return {from.x() + t * (to.x() - from.x()), from.y() + t * (to.y() - from.y())};
  }
  friend bool operator==(const Segment& a, const Segment& b) {
    return a.from.x() == b.from.x() && a.from.y() == b.from.y() && a.to.x() == b.to.x() && a.to.y() == b.to.y();
  }
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

  [[nodiscard]] double distance(const Point& p) const { return normal.x() * p.x() + normal.y() * p.y() - c; }
  [[nodiscard]] Point direction() const { return {-normal.y(), normal.x()}; }
  [[nodiscard]] std::optional<Point> crossing(const Line& other) const;
  /// The same line with its normal to the right, or straight up for level lines (to 1e-4 radians).
  [[nodiscard]] Line in_one_sense() const;
  [[nodiscard]] Line mirrored_in(const Line& mirror) const;
  /// Where a point comes to lie when the plane is folded on this line.
  [[nodiscard]] Point mirrored(const Point& p) const {
    const double twice = 2 * distance(p);
    return {p.x() - twice * normal.x(), p.y() - twice * normal.y()};
  }
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

  Point operator*(const Point& p) const {
    const Point turned = turn(p);
    return {turned.x() + shift.x(), turned.y() + shift.y()};
  }
  Isometry operator*(const Isometry& first) const;
  Segment operator*(const Segment& s) const { return {*this * s.from, *this * s.to}; }
  /// Where a line comes to lie.
  Line operator*(const Line& l) const {
    const Point normal = turn(l.normal);
    return {normal, l.c + (normal.x() * shift.x() + normal.y() * shift.y())};
  }
  [[nodiscard]] Isometry inverse() const;

private:
  [[nodiscard]] Point turn(const Point& p) const {
    return {linear(0, 0) * p.x() + linear(0, 1) * p.y(), linear(1, 0) * p.x() + linear(1, 1) * p.y()};
  }
};

} // namespace uc
