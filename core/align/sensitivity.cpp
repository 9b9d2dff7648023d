#include "align/sensitivity.h"

#include <Eigen/LU>

#include <cmath>

namespace uc {
namespace {

using Row = Eigen::Matrix<double, 1, 8>;

/// Two conditions on (turn, offset) of the crease: left * u = inputs * given + own * errors.
class Conditions {
public:
  Conditions(const Line& crease) : n_(crease.normal), t_(quarter_turned(crease.normal)), crease_(crease) {}

  /// The crease goes through point number `which`.
  void through(const Point& p, Eigen::Index which) {
    Row given = Row::Zero();
    given.segment<2>(2 * which) = -n_.transpose();
    add(t_.dot(p), -1, given, 1);
  }
  /// The point lands on the target line; its own error enters by `point_given`, a 2x8 matrix.
  void lands(const Point& p, const Eigen::Matrix<double, 2, 8>& point_given, const Line& target, int target_line) {
    const double d = crease_.distance(p);
    const double mn = target.normal.dot(n_);
    const double mt = target.normal.dot(t_);
    const Point image = p - 2 * d * n_;
    Row given = -(target.normal - 2 * mn * n_).transpose() * point_given;
    if (target_line >= 0) {
      given(4 + 2 * target_line) -= quarter_turned(target.normal).dot(image);
      given(5 + 2 * target_line) += 1;
    }
    add(-2 * (t_.dot(p) * mn + d * mt), 2 * mn, given, 2);
  }
  /// The crease stays square to line number `which`, which lies on itself for `lever` on each side.
  void square(int which, double lever) {
    Row given = Row::Zero();
    given(4 + 2 * which) = 1;
    add(1, 0, given, 1 / lever);
  }

  [[nodiscard]] std::optional<FoldSensitivity> solved() const {
    const double determinant = left_.determinant();
    const double size = left_.row(0).norm() * left_.row(1).norm();
    if (!(std::abs(determinant) > 1e-9 * size)) return std::nullopt;
    const Eigen::Matrix2d inverse = left_.inverse();
    FoldSensitivity out;
    out.inputs = inverse * given_;
    out.own = inverse * own_.asDiagonal();
    return out;
  }

  static Eigen::Matrix<double, 2, 8> of_point(Eigen::Index which) {
    Eigen::Matrix<double, 2, 8> given = Eigen::Matrix<double, 2, 8>::Zero();
    given.block<2, 2>(0, 2 * which).setIdentity();
    return given;
  }
  /// A point that belongs to line number `which` moves square to it.
  static Eigen::Matrix<double, 2, 8> on_line(const Point& p, const Line& l, int which) {
    Eigen::Matrix<double, 2, 8> given = Eigen::Matrix<double, 2, 8>::Zero();
    given.col(4 + 2 * which) = -quarter_turned(l.normal).dot(p) * l.normal;
    given.col(5 + 2 * which) = l.normal;
    return given;
  }

private:
  void add(double turn, double offset, const Row& given, double own) {
    left_.row(count_) << turn, offset;
    given_.row(count_) = given;
    own_(count_) = own;
    ++count_;
  }

  Point n_;
  Point t_;
  const Line& crease_;
  Eigen::Matrix2d left_ = Eigen::Matrix2d::Zero();
  Eigen::Matrix<double, 2, 8> given_ = Eigen::Matrix<double, 2, 8>::Zero();
  Eigen::Vector2d own_ = Eigen::Vector2d::Zero();
  int count_ = 0;
};

/// The same normal sense as `like`.
Line alike(Line l, const Line& like) {
  if (l.normal.dot(like.normal) < 0) l = {-l.normal, -l.c};
  return l;
}

Line turned_about(const Line& l, const Point& pivot, double radians) {
  const Point n = Isometry::rotation_about(Point::Zero(), radians) * l.normal;
  return {n, n.dot(pivot)};
}

} // namespace

std::optional<FoldSensitivity> sensitivity(Alignment op, const AlignmentInputs& in, const Line& crease,
                                           const Contact& contact) {
  const auto& [p, q] = in.points;
  const auto& [l, m] = in.lines;
  Conditions c(crease);
  switch (op) {
  case Alignment::O1:
    c.through(p, 0);
    c.through(q, 1);
    break;
  case Alignment::O2:
    // P misses Q along and across the way it came. Q's own error is that of a point on either cross line.
    for (const Point& n : {crease.normal, quarter_turned(crease.normal)}) {
      Eigen::Matrix<double, 2, 8> given = Conditions::of_point(0);
      // Moving the target is moving the landing the other way, seen from the point before the fold.
      given.block<2, 2>(0, 2) = -(Eigen::Matrix2d::Identity() - 2 * crease.normal * crease.normal.transpose());
      c.lands(p, given, {n, n.dot(q)}, -1);
    }
    break;
  case Alignment::O3:
    for (const Point& end : {contact.first, contact.second}) {
      const Point before = crease.mirrored(end);
      c.lands(before, Conditions::on_line(before, l, 0), alike(m, m), 1);
    }
    break;
  case Alignment::O4:
    c.through(p, 0);
    c.square(0, contact.lever);
    break;
  case Alignment::O5:
    c.lands(p, Conditions::of_point(0), l, 0);
    c.through(q, 1);
    break;
  case Alignment::O6:
    c.lands(p, Conditions::of_point(0), l, 0);
    c.lands(q, Conditions::of_point(1), m, 1);
    break;
  case Alignment::O7:
    c.lands(p, Conditions::of_point(0), l, 0);
    c.square(1, contact.lever);
    break;
  }
  return c.solved();
}

std::optional<Eigen::Matrix<double, 2, 4>> crossing_sensitivity(const Line& l, const Line& m, const Point& at) {
  Eigen::Matrix2d normals;
  normals.row(0) = l.normal.transpose();
  normals.row(1) = m.normal.transpose();
  if (!(std::abs(normals.determinant()) > 1e-9)) return std::nullopt;
  Eigen::Matrix<double, 2, 4> given = Eigen::Matrix<double, 2, 4>::Zero();
  given(0, 0) = -quarter_turned(l.normal).dot(at);
  given(0, 1) = 1;
  given(1, 2) = -quarter_turned(m.normal).dot(at);
  given(1, 3) = 1;
  return normals.inverse() * given;
}

Eigen::Matrix<double, 2, 4> landing_sensitivity(const Line& l, const Line& m) {
  const double along = l.normal.dot(m.normal);
  const double across = quarter_turned(l.normal).dot(m.normal);
  Eigen::Matrix<double, 2, 4> d;
  d << -1, 0, 2, 0, //
      -2 * m.c * across, 1, 2 * m.c * across, -2 * along;
  return d;
}

Eigen::Matrix2d by_two_ends(const Line& line, const Point& p, const Point& q) {
  const Point t = quarter_turned(line.normal);
  Eigen::Matrix2d ends;
  ends << t.dot(p), -1, t.dot(q), -1;
  return ends.inverse();
}

std::optional<Line> fold_with_errors(Alignment op, AlignmentInputs in, const Line& ideal, const Contact& contact,
                                     const Eigen::Vector2d& errors) {
  const Point n = ideal.normal;
  const Point t = quarter_turned(n);
  Line& l = in.lines[0];
  Line& m = in.lines[1];
  double turn = 0;
  switch (op) {
  case Alignment::O1:
    in.points[0] += errors[0] * n;
    in.points[1] += errors[1] * n;
    break;
  case Alignment::O2:
    in.points[1] += 2 * (errors[0] * n + errors[1] * t);
    break;
  case Alignment::O3: {
    const Point step = m.normal;
    const Point first = contact.first - m.distance(contact.first) * step + 2 * errors[0] * step;
    const Point second = contact.second - m.distance(contact.second) * step + 2 * errors[1] * step;
    m = alike(Line::through(first, second), m);
    break;
  }
  case Alignment::O4:
    in.points[0] += errors[0] * n;
    turn = errors[1] / contact.lever;
    break;
  case Alignment::O5:
    l.c += 2 * errors[0];
    in.points[1] += errors[1] * n;
    break;
  case Alignment::O6:
    l.c += 2 * errors[0];
    m.c += 2 * errors[1];
    break;
  case Alignment::O7:
    l.c += 2 * errors[0];
    m = turned_about(m, m.normal * m.c, errors[1] / contact.lever);
    break;
  }
  std::optional<Line> nearest;
  double least = 1e300;
  for (const Line& crease : creases_of(op, in)) {
    const Line same = alike(crease, ideal);
    const double off = (same.normal - ideal.normal).norm() * 1000 + std::abs(same.c - ideal.c);
    if (off < least) least = off, nearest = same;
  }
  if (nearest && turn != 0) nearest = alike(turned_about(*nearest, in.points[0], turn), ideal);
  return nearest;
}

} // namespace uc
