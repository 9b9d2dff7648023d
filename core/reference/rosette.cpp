#include "reference/rosette.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

/// What lies nearer to a line, in mm, lies on it.
constexpr double on_line_mm = 1e-9;

} // namespace

Rosette::Rosette(Construction& construction, int sides, int centre, int axis, int vertex0)
    : c_(construction), sides_(sides), centre_(centre) {
  lines_[0] = axis;
  vertices_[0] = vertex0;
}

Line Rosette::line_at(int index) const {
  const Point o = c_[centre_].point;
  const Point arm = c_[vertices_.at(0)].point - o;
  return Line::through(o, o + Isometry::rotation_about(Point::Zero(), index * std::numbers::pi / sides_) * arm);
}

Point Rosette::vertex_at(int index) const {
  const Point o = c_[centre_].point;
  return Isometry::rotation_about(o, 2 * index * std::numbers::pi / sides_) * c_[vertices_.at(0)].point;
}

int Rosette::line(int index) {
  index = wrapped(index);
  if (const auto known = lines_.find(index); known != lines_.end()) return known->second;
  // A bisector of two known lines whose indices add up to twice this one; the closest pair is the easiest to fold.
  for (int depth = 0; depth < sides_; ++depth) {
    int best_a = -1;
    int best_b = -1;
    int least = 1 << 20;
    for (const auto& [a, item_a] : lines_) {
      for (const auto& [b, item_b] : lines_) {
        if (a >= b || wrapped(a + b - 2 * index) != 0) continue;
        const int apart = std::min(b - a, sides_ - (b - a));
        if (apart < least) least = apart, best_a = a, best_b = b;
      }
    }
    if (best_a >= 0) {
      const auto made = c_.fold(Alignment::O3, {-1, -1}, {lines_[best_a], lines_[best_b]}, line_at(index));
      if (!made) return -1;
      return lines_[index] = *made;
    }
    // None yet: take the first bisector that gives any new line, then look again.
    bool added = false;
    for (const auto& [a, item_a] : std::map<int, int>(lines_)) {
      for (const auto& [b, item_b] : std::map<int, int>(lines_)) {
        if (a >= b || added) continue;
        for (int j = 0; j < sides_ && !added; ++j) {
          if (wrapped(2 * j - a - b) != 0 || lines_.count(j)) continue;
          const auto made = c_.fold(Alignment::O3, {-1, -1}, {item_a, item_b}, line_at(j));
          if (!made) continue;
          lines_[j] = *made;
          added = true;
        }
      }
    }
    if (!added) return -1;
    if (const auto known = lines_.find(index); known != lines_.end()) return known->second;
  }
  return -1;
}

std::vector<std::pair<int, int>> Rosette::crossing_lines(const Point& at, double tolerance_mm) const {
  std::vector<int> near;
  for (int i = c_.corners(); i < c_.size(); ++i) {
    if (c_[i].is_line() && std::abs(c_[i].line.distance(at)) < tolerance_mm) near.push_back(i);
  }
  std::vector<std::pair<int, int>> pairs;
  for (std::size_t i = 0; i < near.size(); ++i) {
    for (std::size_t k = i + 1; k < near.size(); ++k) {
      const Point& n = c_[near[i]].line.normal;
      const Point& m = c_[near[k]].line.normal;
      if (std::abs(n.x() * m.y() - n.y() * m.x()) > 0.2) pairs.emplace_back(near[i], near[k]);
    }
  }
  return pairs;
}

int Rosette::vertex(int index, double tolerance_mm) {
  index = wrapped(index);
  if (const auto known = vertices_.find(index); known != vertices_.end()) return known->second;
  const Point place = vertex_at(index);
  for (int i = 0; i < c_.size() && tolerance_mm > 0; ++i) {
    if (!c_[i].is_line() && (c_[i].point - place).norm() < tolerance_mm) return vertices_[index] = i;
  }
  const int ray = line(2 * index);
  if (ray < 0) return -1;

  // Of all ways to it the one with the least error; a crease more must be worth it.
  constexpr double crease_cost = 0.15; // in s
  double least = 1e300;
  int best = -1;
  Construction made = c_;
  std::map<int, int> lines = lines_;
  const Construction before = c_;
  const std::map<int, int> lines_before = lines_;
  const auto offer = [&](int item) {
    const ConstructionErrors errors(c_, 1);
    const double cost = errors.sigma_of_point(item) + crease_cost * (c_.creases() - before.creases());
    if (!errors.determined() || cost >= least) return;
    least = cost;
    best = item;
    made = c_;
    lines = lines_;
  };
  const auto start_again = [&] {
    c_ = before;
    lines_ = lines_before;
  };
  if (tolerance_mm > 0) {
    for (const auto& [l, m] : crossing_lines(place, tolerance_mm)) {
      if (const auto met = c_.cross(l, m)) offer(*met);
      start_again();
    }
  }
  // The mirror image of a known vertex: where a line through it lands, or the crease through it square to a line of the
  // rosette, met with the line the image lies on.
  for (const auto& [k, item] : std::map<int, int>(vertices_)) {
    const int mirror = wrapped(k + index);
    if (mirror == wrapped(2 * index)) continue; // it would lie on the mirror itself
    for (int l = c_.corners(); marking_ == Marking::landings && l < before.size(); ++l) {
      if (!c_[l].is_line() || std::abs(c_[l].line.distance(c_[item].point)) > on_line_mm) continue;
      const int m = line(mirror);
      const auto landed = m < 0 || m == l ? Result<int>(Error{""}) : c_.land(l, m);
      if (landed) {
        if (const auto met = c_.cross(*landed, ray)) offer(*met);
      }
      start_again();
    }
    const int m = line(mirror);
    const auto chord = m < 0 ? Result<int>(Error{""}) : c_.fold(Alignment::O4, {item, -1}, {m, -1}, std::nullopt);
    if (chord) {
      if (const auto met = c_.cross(*chord, ray)) offer(*met);
    }
    start_again();
  }
  if (best < 0) return -1;
  c_ = std::move(made);
  lines_ = std::move(lines);
  return vertices_[index] = best;
}

Result<std::vector<int>> Rosette::complete(double tolerance_mm, Marking marking) {
  marking_ = marking;
  // Both ways round from vertex 0, so that errors do not run all around.
  for (int k = 1; k <= sides_ / 2; ++k) {
    for (const int index : {k, sides_ - k}) {
      if (vertex(index, tolerance_mm) < 0)
        return Error{"This polygon cannot be folded around its centre on this paper; take a larger sheet."};
    }
  }
  std::vector<int> all;
  all.reserve(static_cast<std::size_t>(sides_));
  for (int k = 0; k < sides_; ++k) all.push_back(vertices_.at(k));
  return all;
}

} // namespace uc
