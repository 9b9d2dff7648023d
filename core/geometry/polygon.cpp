#include "geometry/polygon.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace uc {

double signed_area(std::span<const Point> polygon) {
  double twice = 0;
  for (std::size_t i = 0; i < polygon.size(); ++i) {
    const Point& p = polygon[i];
    const Point& q = polygon[(i + 1) % polygon.size()];
    twice += p.x() * q.y() - q.x() * p.y();
  }
  return twice / 2;
}

Box bounding_box(std::span<const Point> points) {
  if (points.empty()) return {};
  Box box{points[0], points[0]};
  for (const Point& p : points) {
    box.low = box.low.cwiseMin(p);
    box.high = box.high.cwiseMax(p);
  }
  return box;
}

namespace {

double left_turn(const Point& a, const Point& b, const Point& c) {
  return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
}

} // namespace

Polygon convex_hull(std::vector<Point> points) {
  std::sort(points.begin(), points.end(),
            [](const Point& a, const Point& b) { return std::pair(a.x(), a.y()) < std::pair(b.x(), b.y()); });
  Polygon hull;
  for (const bool upper : {false, true}) {
    const std::size_t begun = hull.size();
    for (const Point& p : points) {
      while (hull.size() >= begun + 2 && left_turn(hull[hull.size() - 2], hull.back(), p) <= 0) hull.pop_back();
      hull.push_back(p);
    }
    hull.pop_back();
    if (!upper) std::reverse(points.begin(), points.end());
  }
  return hull;
}

Point least_rectangle(std::vector<Point> points) {
  if (points.empty()) return Point::Zero();
  const double size = bounding_box(points).size().norm();
  const Polygon hull = convex_hull(std::move(points));
  Point best = Point::Zero();
  double least = 1e300;
  for (std::size_t i = 0; i < hull.size(); ++i) {
    const Point side = hull[(i + 1) % hull.size()] - hull[i];
    if (!(side.norm() > 1e-9 * size)) continue; // has no direction of its own
    const Point along = side.normalized();
    const auto [left, right] = support(hull, along);
    const auto [bottom, top] = support(hull, Point{-along.y(), along.x()});
    const Point sides{right - left, top - bottom};
    const double area = sides.x() * sides.y();
    const double alike = 1e-9 * (area + 1e-9 * size * size);
    const bool better =
        area < least - alike || (area <= least + alike && sides.maxCoeff() < best.maxCoeff() * (1 - 1e-9));
    if (!better) continue;
    least = area;
    best = sides;
  }
  return {std::max(best.x(), best.y()), std::min(best.x(), best.y())};
}

std::pair<double, double> support(std::span<const Point> polygon, const Point& normal) {
  double low = normal.dot(polygon[0]);
  double high = low;
  for (const Point& p : polygon) {
    low = std::min(low, normal.dot(p));
    high = std::max(high, normal.dot(p));
  }
  return {low, high};
}

double depth_inside(const Point& p, std::span<const Point> convex) {
  double least = std::numeric_limits<double>::max();
  for (std::size_t i = 0; i < convex.size(); ++i) {
    const Point side = (convex[(i + 1) % convex.size()] - convex[i]).normalized();
    const Point to = p - convex[i];
    least = std::min(least, side.x() * to.y() - side.y() * to.x());
  }
  return least;
}

std::vector<Segment> clip(const Line& line, std::span<const Point> polygon, double tolerance) {
  const Point d = line.direction();
  std::vector<double> cuts;
  std::vector<Segment> along;
  for (std::size_t i = 0; i < polygon.size(); ++i) {
    const Point& p = polygon[i];
    const Point& q = polygon[(i + 1) % polygon.size()];
    const double dp = line.distance(p);
    const double dq = line.distance(q);
    const bool on_p = std::abs(dp) <= tolerance;
    const bool on_q = std::abs(dq) <= tolerance;
    if (on_p && on_q) {
      along.push_back(d.dot(q) > d.dot(p) ? Segment{p, q} : Segment{q, p});
    } else if (on_p) {
      cuts.push_back(d.dot(p));
    } else if (!on_q && (dp < 0) != (dq < 0)) {
      cuts.push_back(d.dot(p + (q - p) * (dp / (dp - dq))));
    }
  }
  if (!along.empty()) return along;
  std::sort(cuts.begin(), cuts.end());
  std::vector<Segment> parts;
  const Point base = line.normal * line.c;
  for (std::size_t i = 0; i + 1 < cuts.size(); i += 2) {
    if (cuts[i + 1] - cuts[i] > tolerance) parts.push_back({base + d * cuts[i], base + d * cuts[i + 1]});
  }
  return parts;
}

Polygon clip_to_side(std::span<const Point> polygon, const Line& line) {
  Polygon kept;
  for (std::size_t i = 0; i < polygon.size(); ++i) {
    const Point& p = polygon[i];
    const Point& q = polygon[(i + 1) % polygon.size()];
    const double dp = line.distance(p);
    const double dq = line.distance(q);
    if (dp <= 0) kept.push_back(p);
    if ((dp < 0 && dq > 0) || (dp > 0 && dq < 0)) kept.push_back(p + (q - p) * (dp / (dp - dq)));
  }
  return kept;
}

std::vector<Segment> outside(const Segment& segment, const Box& box) {
  double enter = 0;
  double leave = 1;
  const Point d = segment.to - segment.from;
  for (int axis = 0; axis < 2; ++axis) {
    if (std::abs(d[axis]) < 1e-12) {
      if (segment.from[axis] <= box.low[axis] || segment.from[axis] >= box.high[axis]) return {segment};
      continue;
    }
    const double t0 = (box.low[axis] - segment.from[axis]) / d[axis];
    const double t1 = (box.high[axis] - segment.from[axis]) / d[axis];
    enter = std::max(enter, std::min(t0, t1));
    leave = std::min(leave, std::max(t0, t1));
  }
  if (enter >= leave) return {segment};
  std::vector<Segment> parts;
  if (enter > 1e-9) parts.push_back({segment.from, segment.at(enter)});
  if (leave < 1 - 1e-9) parts.push_back({segment.at(leave), segment.to});
  return parts;
}

std::vector<Segment> without(const std::vector<Segment>& segments, const std::vector<Segment>& taken) {
  std::vector<Segment> left;
  for (const Segment& s : segments) {
    std::vector<std::pair<double, double>> kept{{0, 1}};
    const double length = s.length();
    if (length < 1e-9) continue;
    const Point along = (s.to - s.from) / length;
    for (const Segment& t : taken) {
      const double a = along.dot(t.from - s.from) / length;
      const double b = along.dot(t.to - s.from) / length;
      std::vector<std::pair<double, double>> next;
      for (const auto& [low, high] : kept) {
        next.emplace_back(low, std::min(high, std::min(a, b)));
        next.emplace_back(std::max(low, std::max(a, b)), high);
      }
      std::erase_if(next, [&](const auto& k) { return (k.second - k.first) * length < 1e-6; });
      kept = std::move(next);
    }
    for (const auto& [low, high] : kept) left.push_back({s.at(low), s.at(high)});
  }
  return left;
}

Polygon regular_polygon(int sides, double edge) {
  const double turn = 2 * std::numbers::pi / sides;
  Polygon points;
  Point p = Point::Zero();
  for (int i = 0; i < sides; ++i) {
    points.push_back(p);
    p += edge * Point{std::cos(turn * i), std::sin(turn * i)};
  }
  const Point low = bounding_box(points).low;
  for (Point& q : points) q -= low;
  return points;
}

} // namespace uc
