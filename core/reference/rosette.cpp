#include "reference/rosette.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {

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

int Rosette::found_crossing(const Point& at, double tolerance_mm) {
  if (tolerance_mm <= 0) return -1;
  for (int i = 0; i < c_.size(); ++i) {
    if (!c_[i].is_line() && (c_[i].point - at).norm() < tolerance_mm) return i;
  }
  int first = -1;
  for (int i = c_.corners(); i < c_.size(); ++i) {
    if (!c_[i].is_line() || std::abs(c_[i].line.distance(at)) > tolerance_mm) continue;
    if (first < 0) {
      first = i;
      continue;
    }
    const Point& n = c_[first].line.normal;
    const Point& m = c_[i].line.normal;
    if (std::abs(n.x() * m.y() - n.y() * m.x()) < 0.25) continue;
    const auto made = c_.cross(first, i);
    return made ? *made : -1;
  }
  return -1;
}

int Rosette::vertex(int index, double tolerance_mm) {
  index = wrapped(index);
  if (const auto known = vertices_.find(index); known != vertices_.end()) return known->second;
  if (const int found = found_crossing(vertex_at(index), tolerance_mm); found >= 0) return vertices_[index] = found;
  const int ray = line(2 * index);
  if (ray < 0) return -1;
  if (const int found = found_crossing(vertex_at(index), tolerance_mm); found >= 0) return vertices_[index] = found;
  // The mirror image of a known vertex: square to a line of the rosette, met with the line the image lies on.
  // From a close vertex, for there the two lines cross at a good angle.
  std::vector<std::pair<int, int>> known;
  for (const auto& [k, item] : vertices_) {
    const int apart = wrapped(index - k);
    known.emplace_back(2 * std::min(apart, sides_ - apart) + (lines_.count(wrapped(k + index)) ? 0 : 3), k);
  }
  std::sort(known.begin(), known.end());
  for (const auto& [distance, k] : known) {
    const int mirror = wrapped(k + index);
    if (mirror == wrapped(2 * index)) continue; // it would lie on the mirror itself
    const int m = line(mirror);
    if (m < 0) continue;
    const auto chord = c_.fold(Alignment::O4, {vertices_[k], -1}, {m, -1}, std::nullopt);
    if (!chord) continue;
    const auto met = c_.cross(*chord, ray);
    if (met) return vertices_[index] = *met;
  }
  return -1;
}

Result<std::vector<int>> Rosette::complete(double tolerance_mm) {
  // Both ways round from vertex 0, so that errors do not run all around.
  for (int k = 1; k <= sides_ / 2; ++k) {
    for (const int index : {k, sides_ - k}) {
      if (vertex(index, tolerance_mm) < 0)
        return Error{"This polygon cannot be folded around its centre on this paper; take a larger sheet."};
    }
  }
  std::vector<int> all;
  for (int k = 0; k < sides_; ++k) all.push_back(vertices_.at(k));
  return all;
}

} // namespace uc
