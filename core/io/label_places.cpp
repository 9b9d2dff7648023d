#include "io/label_places.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>

namespace uc {
namespace {

/// What covering costs, over a step further away.
constexpr double on_label = 60;
constexpr double on_dot = 25;
constexpr double off_page = 50;
constexpr double on_arrow = 8;
constexpr double on_line = 4;

bool overlap(const Box& a, const Box& b) {
  return (a.low.array() < b.high.array()).all() && (b.low.array() < a.high.array()).all();
}

/// Whether any part of a segment lies in a box (Liang and Barsky 1984).
bool meets(const Segment& s, const Box& box) {
  double from = 0;
  double to = 1;
  const Point d = s.to - s.from;
  for (int axis = 0; axis < 2; ++axis) {
    if (std::abs(d[axis]) < 1e-12) {
      if (s.from[axis] < box.low[axis] || s.from[axis] > box.high[axis]) return false;
      continue;
    }
    const double a = (box.low[axis] - s.from[axis]) / d[axis];
    const double b = (box.high[axis] - s.from[axis]) / d[axis];
    from = std::max(from, std::min(a, b));
    to = std::min(to, std::max(a, b));
  }
  return from < to;
}

bool meets(const Point& dot, double radius, const Box& box) {
  return (dot - dot.cwiseMax(box.low).cwiseMin(box.high)).norm() < radius;
}

} // namespace

std::vector<Point> label_places(const std::vector<PlacedLabel>& labels, const LabelObstacles& obstacles) {
  std::vector<Point> out;
  std::vector<Box> taken;
  for (const PlacedLabel& label : labels) {
    const Point half = label.size / 2;
    const double first = std::atan2(label.away.y(), label.away.x());
    double least = std::numeric_limits<double>::infinity();
    Point best = label.at;
    Box best_box;
    for (int step = 0; step < 24; ++step) {
      const int further = step / 8;
      const int eighths = (step % 8 + 1) / 2 * (step % 2 == 0 ? 1 : -1);
      const double angle = first + eighths * std::numbers::pi / 4;
      const Point way{std::cos(angle), std::sin(angle)};
      // Its box just clears a dot on what it names, then stands further off.
      const double clear = obstacles.dot_radius + (std::abs(way.x()) > 0.9 ? half.x() : half.y()) + 0.25 * half.y();
      const Point middle = label.at + (1 + 0.55 * further) * clear * way;
      const Box box{middle - half, middle + half};
      double cost = 0.6 * std::abs(eighths) + 1.5 * further;
      for (const Box& other : taken) cost += overlap(box, other) ? on_label : 0;
      for (const Point& dot : obstacles.dots) cost += meets(dot, obstacles.dot_radius, box) ? on_dot : 0;
      for (const Segment& s : obstacles.arrows) cost += meets(s, box) ? on_arrow : 0;
      for (const Segment& s : obstacles.lines) cost += meets(s, box) ? on_line : 0;
      if ((box.low.array() < obstacles.room.low.array()).any() ||
          (box.high.array() > obstacles.room.high.array()).any())
        cost += off_page;
      if (cost < least) least = cost, best = middle, best_box = box;
    }
    out.push_back(best);
    taken.push_back(best_box);
  }
  return out;
}

} // namespace uc
