#include "pattern/crease_lines.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

double turn(const Point& a, const Point& b, const Point& c) {
  const Point u = b - a;
  const Point v = c - b;
  return u.x() * v.y() - u.y() * v.x();
}

} // namespace

CreaseLines::CreaseLines(Polygon outline) : outline_(std::move(outline)), size_(bounding_box(outline_).size().norm()) {
  const std::size_t n = outline_.size();
  for (std::size_t i = 0; i < n; ++i) {
    convex_ = convex_ && turn(outline_[i], outline_[(i + 1) % n], outline_[(i + 2) % n]) > -1e-9 * size_ * size_;
    put(outline_[i], outline_[(i + 1) % n], EdgeKind::raw);
  }
}

void CreaseLines::put(const Point& from, const Point& to, EdgeKind kind, double full_deg) {
  full_deg_.push_back(full_deg);
  goals_.push_back(!next_.empty()              ? next_
                   : stage_ > 0 && folds(kind) ? CreaseGoals{{stage_, full_deg}}
                                               : CreaseGoals{});
  const int v = static_cast<int>(pattern_.vertices.size());
  pattern_.vertices.push_back(from);
  pattern_.vertices.push_back(to);
  pattern_.edges.push_back({v, v + 1, kind});
}

void CreaseLines::add(const Point& from, const Point& to, EdgeKind kind, double full_deg) {
  // Cut by one side after another (Cyrus and Beck 1978).
  double begin = 0;
  double end = 1;
  const Point along = to - from;
  for (std::size_t i = 0; convex_ && i < outline_.size(); ++i) {
    const Point side = outline_[(i + 1) % outline_.size()] - outline_[i];
    const double length = side.norm();
    if (length < 1e-9 * size_) continue;
    const Point inward = Point{-side.y(), side.x()} / length;
    const double start = inward.dot(from - outline_[i]);
    const double slope = inward.dot(along);
    if (std::abs(slope) < 1e-12 * size_) {
      if (start < 1e-9 * size_) return; // outside, or along the edge itself
      continue;
    }
    if (slope > 0)
      begin = std::max(begin, -start / slope);
    else
      end = std::min(end, -start / slope);
  }
  if ((end - begin) * along.norm() > 1e-7 * size_) put(from + begin * along, from + end * along, kind, full_deg);
}

void CreaseLines::add_by_stages(const Point& from, const Point& to, EdgeKind kind, CreaseGoals goals) {
  next_ = std::move(goals);
  const double full_deg = next_.empty() ? 180 : next_.back().deg;
  add(from, to, kind, full_deg);
  next_.clear();
}

void CreaseLines::ray(const Point& from, const Point& direction, EdgeKind kind, double full_deg) {
  add(from, from + 4 * size_ / direction.norm() * direction, kind, full_deg);
}

void CreaseLines::ring(const Polygon& corners, EdgeKind kind) {
  for (std::size_t i = 0; i < corners.size(); ++i) add(corners[i], corners[(i + 1) % corners.size()], kind);
}

void CreaseLines::hole(const Polygon& corners) {
  for (std::size_t i = 0; i < corners.size(); ++i) put(corners[i], corners[(i + 1) % corners.size()], EdgeKind::raw);
}

PatternDesign CreaseLines::design() const {
  PatternDesign out;
  out.count = 1;
  out.base = std::make_shared<const CreasePattern>(pattern_);
  if (std::any_of(full_deg_.begin(), full_deg_.end(), [](double d) { return d != 180; })) out.base_full_deg = full_deg_;
  if (std::any_of(goals_.begin(), goals_.end(), [](const CreaseGoals& g) { return !g.empty(); }))
    out.base_goals = goals_;
  return out;
}

Polygon largest_square(const Polygon& sheet) { return largest_regular(4, sheet); }

Polygon largest_regular(int sides, const Polygon& sheet) {
  const Box box = bounding_box(sheet);
  Polygon out = regular_polygon(sides, 1);
  const Box own = bounding_box(out);
  const double scale = std::min(box.size().x() / own.size().x(), box.size().y() / own.size().y());
  for (Point& p : out) p = scale * (p - own.centre()) + box.centre();
  return out;
}

} // namespace uc
