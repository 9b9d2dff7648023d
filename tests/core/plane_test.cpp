// Lines, isometries and what is cut from polygons, on thousands of random figures, each judged by what defines it.
#include "runner.h"

#include "geometry/polygon.h"

#include <Eigen/LU>
#include <QtTest>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

using namespace uc;

namespace {

constexpr int rounds = 2000;

class Any {
public:
  explicit Any(unsigned seed) : random_(seed) {}
  double number(double low, double high) { return std::uniform_real_distribution<double>(low, high)(random_); }
  Point point() { return {number(-100, 100), number(-100, 100)}; }
  Line line() {
    const double a = number(0, 2 * std::numbers::pi);
    return {{std::cos(a), std::sin(a)}, number(-80, 80)};
  }
  Isometry isometry() {
    const Isometry turn = Isometry::rotation_about(point(), number(-4, 4));
    return number(0, 1) < 0.5 ? turn : Isometry::reflection_in(line()) * turn;
  }
  /// Round the origin, not convex as a rule.
  Polygon star(int corners) {
    Polygon out;
    for (int i = 0; i < corners; ++i) {
      const double a = 2 * std::numbers::pi * i / corners;
      out.push_back(number(20, 100) * Point{std::cos(a), std::sin(a)});
    }
    return out;
  }

private:
  std::mt19937 random_;
};

/// By counting crossings of a ray, which nothing else here does.
bool inside(const Polygon& polygon, const Point& p) {
  bool in = false;
  for (std::size_t i = 0, k = polygon.size() - 1; i < polygon.size(); k = i++) {
    const Point& a = polygon[i];
    const Point& b = polygon[k];
    if ((a.y() > p.y()) != (b.y() > p.y()) && p.x() < a.x() + (b.x() - a.x()) * (p.y() - a.y()) / (b.y() - a.y()))
      in = !in;
  }
  return in;
}

bool same_line(const Line& a, const Line& b) {
  const double sign = a.normal.dot(b.normal) < 0 ? -1 : 1;
  return (sign * a.normal - b.normal).norm() < 1e-9 && std::abs(sign * a.c - b.c) < 1e-7;
}

double all_of(const std::vector<Segment>& segments) {
  double sum = 0;
  for (const Segment& s : segments) sum += s.length();
  return sum;
}

} // namespace

class PlaneTest : public QObject {
  Q_OBJECT
private slots:
  void isometries_keep_lengths_and_come_back() {
    Any any(1);
    for (int i = 0; i < rounds; ++i) {
      const Isometry f = any.isometry();
      const Isometry g = any.isometry();
      const Point p = any.point();
      const Point q = any.point();
      QVERIFY(std::abs((f * p - f * q).norm() - (p - q).norm()) < 1e-10);
      QVERIFY(((f * g) * p - f * (g * p)).norm() < 1e-10);
      QVERIFY((f.inverse() * (f * p) - p).norm() < 1e-10);
      QVERIFY(std::abs(std::abs(f.linear.determinant()) - 1) < 1e-12);
      const Segment s = f * Segment{p, q};
      QVERIFY((s.middle() - f * Segment{p, q}.middle()).norm() < 1e-10);
    }
  }

  void a_line_goes_where_its_points_go() {
    Any any(2);
    for (int i = 0; i < rounds; ++i) {
      const Isometry f = any.isometry();
      const Line l = any.line();
      const Line moved = f * l;
      for (const double t : {-50.0, 0.0, 70.0}) {
        const Point p = l.c * l.normal + t * l.direction();
        QVERIFY(std::abs(l.distance(p)) < 1e-10);
        QVERIFY(std::abs(moved.distance(f * p)) < 1e-9);
      }
      // The sides go with it.
      const Point off = any.point();
      QVERIFY(std::abs(moved.distance(f * off) - l.distance(off)) < 1e-9);
    }
  }

  void a_mirror_is_its_own_way_back() {
    Any any(3);
    for (int i = 0; i < rounds; ++i) {
      const Line mirror = any.line();
      const Point p = any.point();
      const Point there = mirror.mirrored(p);
      QVERIFY((mirror.mirrored(there) - p).norm() < 1e-10);
      QVERIFY((Isometry::reflection_in(mirror) * p - there).norm() < 1e-10);
      QVERIFY(std::abs(mirror.distance((p + there) / 2)) < 1e-10);
      const Line l = any.line();
      QVERIFY(same_line(l.mirrored_in(mirror).mirrored_in(mirror), l));
      QVERIFY(same_line(l.mirrored_in(mirror), Isometry::reflection_in(mirror) * l));
    }
  }

  void what_is_brought_together_is_halved() {
    Any any(4);
    for (int i = 0; i < rounds; ++i) {
      const Line l = any.line();
      const Line m = any.line();
      QVERIFY(same_line(l.mirrored_in(Line::bisecting(l, m)), m));
      const Line beside{l.normal, l.c + any.number(1, 20)};
      const Line between = Line::bisecting(l, beside);
      QVERIFY(same_line(between, Line{l.normal, (l.c + beside.c) / 2}));
    }
  }

  void crossings_lie_on_both_lines() {
    Any any(5);
    for (int i = 0; i < rounds; ++i) {
      const Line l = any.line();
      const Line m = any.line();
      const auto p = l.crossing(m);
      if (std::abs(l.normal.x() * m.normal.y() - l.normal.y() * m.normal.x()) < 1e-3) continue;
      QVERIFY(p && std::abs(l.distance(*p)) < 1e-8 && std::abs(m.distance(*p)) < 1e-8);
      QVERIFY(!l.crossing({l.normal, l.c + 1}) && !l.crossing({-l.normal, 3}));
      const Point a = any.point();
      const Point b = any.point();
      const Line through = Line::through(a, b);
      QVERIFY(std::abs(through.distance(a)) < 1e-9 && std::abs(through.distance(b)) < 1e-9);
      QVERIFY(std::abs(through.normal.norm() - 1) < 1e-12);
    }
  }

  void one_sense_is_the_same_line() {
    Any any(6);
    for (int i = 0; i < rounds; ++i) {
      const Line l = any.line();
      const Line turned{-l.normal, -l.c};
      const Line sense = l.in_one_sense();
      QVERIFY(same_line(sense, l));
      QVERIFY((turned.in_one_sense().normal - sense.normal).norm() < 1e-12);
      QVERIFY(sense.normal.x() > 0 || sense.normal.y() > 0);
    }
    QVERIFY((Line{{0, -1}, -5}.in_one_sense().normal - Point{0, 1}).norm() == 0);
  }

  void rays_hit_where_both_say() {
    Any any(7);
    for (int i = 0; i < rounds; ++i) {
      const Point from = any.point();
      const Point way = any.point() / 50;
      const Segment s{any.point(), any.point()};
      const auto hit = ray_hit(from, way, s);
      if (!hit) continue;
      QVERIFY((from + hit->along * way - s.at(hit->at)).norm() < 1e-6 * (1 + std::abs(hit->along)));
      QVERIFY(!ray_hit(from, s.to - s.from, s));
    }
  }

  void chords_are_what_lies_inside() {
    Any any(8);
    for (int i = 0; i < 300; ++i) {
      const Polygon star = any.star(3 + i % 9);
      const Line l = any.line();
      const auto parts = clip(l, star);
      const Point start = l.c * l.normal;
      double sampled = 0;
      constexpr int samples = 4000;
      for (int k = 0; k < samples; ++k)
        sampled += inside(star, start + (300.0 * (k + 0.5) / samples - 150) * l.direction());
      QVERIFY(std::abs(all_of(parts) - 300 * sampled / samples) < 1.0);
      double reached = -1e300;
      for (const Segment& part : parts) {
        QVERIFY(std::abs(l.distance(part.from)) < 1e-8 && std::abs(l.distance(part.to)) < 1e-8);
        QVERIFY(inside(star, part.middle()));
        QVERIFY(l.direction().dot(part.from) >= reached - 1e-9 && l.direction().dot(part.to - part.from) > 0);
        reached = l.direction().dot(part.to);
      }
    }
  }

  void two_sides_make_the_whole() {
    Any any(9);
    for (int i = 0; i < rounds; ++i) {
      Polygon convex = regular_polygon(3 + i % 8, any.number(5, 60));
      const Isometry turn = Isometry::rotation_about(any.point(), any.number(-4, 4));
      for (Point& p : convex) p = turn * p;
      const Line l = any.line();
      const double below = signed_area(clip_to_side(convex, l));
      const double above = signed_area(clip_to_side(convex, {-l.normal, -l.c}));
      QVERIFY(below >= -1e-9 && above >= -1e-9);
      QVERIFY(std::abs(below + above - signed_area(convex)) < 1e-7 * signed_area(convex) + 1e-7);
      const auto [least, most] = support(convex, l.normal);
      if (least > l.c) QVERIFY(below < 1e-9);
      if (most < l.c) QVERIFY(above < 1e-9);
      QVERIFY(most >= least);
      for (const Point& p : convex) QVERIFY(l.normal.dot(p) >= least - 1e-9 && l.normal.dot(p) <= most + 1e-9);
    }
  }

  void regular_polygons_have_their_closed_forms() {
    for (int n = 3; n <= 24; ++n) {
      const Polygon p = regular_polygon(n, 30);
      QCOMPARE(static_cast<int>(p.size()), n);
      QVERIFY(std::abs(signed_area(p) - n * 900 / (4 * std::tan(std::numbers::pi / n))) < 1e-7);
      for (std::size_t i = 0; i < p.size(); ++i) QVERIFY(std::abs((p[(i + 1) % p.size()] - p[i]).norm() - 30) < 1e-9);
      const Box box = bounding_box(p);
      QVERIFY(box.low.norm() < 1e-9 && box.size().minCoeff() > 20);
    }
  }

  void what_is_left_outside_and_what_is_taken_add_up() {
    Any any(10);
    const Box box{{-30, -20}, {40, 50}};
    for (int i = 0; i < rounds; ++i) {
      const Segment s{any.point(), any.point()};
      const auto left = outside(s, box);
      double in = 0;
      constexpr int samples = 2000;
      for (int k = 0; k < samples; ++k) {
        const Point p = s.at((k + 0.5) / samples);
        in += p.x() > box.low.x() && p.x() < box.high.x() && p.y() > box.low.y() && p.y() < box.high.y();
      }
      QVERIFY(std::abs(all_of(left) + s.length() * in / samples - s.length()) < s.length() / 400);
      // Along one line: what is taken away twice is taken once.
      const Segment taken{s.at(any.number(-0.5, 0.7)), s.at(any.number(0.3, 1.5))};
      const auto rest = without({s}, {taken, taken});
      const double a = std::clamp((taken.from - s.from).dot(s.to - s.from) / (s.length() * s.length()), 0.0, 1.0);
      const double b = std::clamp((taken.to - s.from).dot(s.to - s.from) / (s.length() * s.length()), 0.0, 1.0);
      QVERIFY(std::abs(all_of(rest) - s.length() * (1 - std::abs(b - a))) < 1e-6 * s.length());
    }
  }

  void the_least_rectangle_is_least() {
    QVERIFY((least_rectangle({{0, 0}, {60, 0}, {30, 30 * std::sqrt(3.0)}}) - Point{60, 30 * std::sqrt(3.0)}).norm() <
            1e-9);
    QVERIFY((least_rectangle({{1, 1}, {4, 5}}) - Point{5, 0}).norm() < 1e-9);
    QCOMPARE(least_rectangle({{3, 4}}).norm(), 0.0);
    QCOMPARE(least_rectangle({}).norm(), 0.0);
    Any any(8);
    for (int round = 0; round < 200; ++round) {
      // A rectangle, turned, with points within it, is itself.
      const double w = any.number(1, 100);
      const double h = any.number(1, 100);
      const Isometry where = any.isometry();
      std::vector<Point> points;
      for (const Point& corner : {Point{0, 0}, Point{w, 0}, Point{w, h}, Point{0, h}}) points.push_back(where * corner);
      for (int i = 0; i < 5; ++i) points.push_back(where * Point{any.number(0, w), any.number(0, h)});
      QVERIFY((least_rectangle(points) - Point{std::max(w, h), std::min(w, h)}).norm() < 1e-9);
      // Of any figure none that was tried is less.
      const Polygon star = any.star(3 + round % 9);
      const Point least = least_rectangle(star);
      for (double a = 0; a < 180; a += 0.5) {
        const Point d{std::cos(a * std::numbers::pi / 180), std::sin(a * std::numbers::pi / 180)};
        double low[2] = {1e300, 1e300};
        double high[2] = {-1e300, -1e300};
        for (const Point& p : star) {
          const double along[2] = {p.dot(d), p.dot(Point{-d.y(), d.x()})};
          for (int i = 0; i < 2; ++i) {
            low[i] = std::min(low[i], along[i]);
            high[i] = std::max(high[i], along[i]);
          }
        }
        QVERIFY(least.prod() <= (high[0] - low[0]) * (high[1] - low[1]) * (1 + 1e-12));
      }
    }
  }
};

UC_TEST(PlaneTest)
#include "plane_test.moc"
