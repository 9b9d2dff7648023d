#include "form/direction_wish.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace uc {
namespace {

/// Literals by edge, 0 for edges that are no folded crease.
std::vector<Literal> literals(const CreasePattern& pattern, const LayerConstraints& constraints) {
  std::vector<Literal> out(pattern.edges.size(), 0);
  for (const auto& c : constraints.creases) out[at(c.edge)] = c.literal;
  return out;
}

double direction_of(const Segment& s) {
  const double a = std::atan2(s.to.y() - s.from.y(), s.to.x() - s.from.x());
  return a < 0 ? a + 3.14159265358979323846 : a;
}

bool parallel(const Segment& a, const Segment& b) {
  const double off = std::abs(direction_of(a) - direction_of(b));
  return std::min(off, 3.14159265358979323846 - off) < 1e-6;
}

std::vector<DirectionPair> mirrored(const CreasePattern& pattern, const std::vector<Literal>& literal) {
  const Box box = bounding_box(pattern.vertices);
  const Point c = box.centre();
  const double grain = 1e-5 * box.size().norm();
  const auto key = [&](const Segment& s) {
    std::array<long long, 4> k{std::llround(s.from.x() / grain), std::llround(s.from.y() / grain),
                               std::llround(s.to.x() / grain), std::llround(s.to.y() / grain)};
    if (std::pair(k[2], k[3]) < std::pair(k[0], k[1])) std::swap(k[0], k[2]), std::swap(k[1], k[3]);
    return k;
  };
  for (const Point& d : {Point{0, 1}, Point{1, 0}, Point{1, 1}, Point{1, -1}}) {
    const Isometry mirror = Isometry::reflection_in(Line::through(c, c + d));
    const auto find = [&](const std::map<std::array<long long, 4>, CreaseId>& places, Segment s) {
      s = {mirror * s.from, mirror * s.to};
      // A rounded coordinate may fall to either side.
      for (int i = 0; i < 3; ++i) {
        const Point nudge = 0.4 * grain * Point{i == 1 ? 1 : i == 2 ? -1 : 0, i == 1 ? 1 : i == 2 ? -1 : 0};
        const auto found = places.find(key({s.from + nudge, s.to + nudge}));
        if (found != places.end()) return found->second;
      }
      return CreaseId();
    };
    std::map<std::array<long long, 4>, CreaseId> places;
    for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
      if (literal[e]) places[key(pattern.segment(CreaseId(e)))] = CreaseId(e);
    }
    std::vector<DirectionPair> out;
    bool all = true;
    for (std::size_t e = 0; e < pattern.edges.size() && all; ++e) {
      if (!literal[e]) continue;
      const CreaseId other = find(places, pattern.segment(CreaseId(e)));
      all = other >= 0;
      if (other > CreaseId(e)) out.push_back({literal[e], literal[at(other)], true});
    }
    if (all) return out;
  }
  return {};
}

} // namespace

std::vector<DirectionPair> wished_pairs(DirectionWish wish, const CreasePattern& pattern, const PatternGraph& graph,
                                        const LayerConstraints& constraints) {
  const std::vector<Literal> literal = literals(pattern, constraints);
  std::vector<DirectionPair> out;
  if (wish == DirectionWish::symmetric) return mirrored(pattern, literal);
  if (wish == DirectionWish::few_changes) {
    for (VertexId v(0); at(v) < pattern.vertices.size(); ++v) {
      for (const int* h = graph.stars.begin(v); h != graph.stars.end(v); ++h) {
        for (const int* k = h + 1; k != graph.stars.end(v); ++k) {
          const double apart = std::abs(graph.stars.degrees(*h) - graph.stars.degrees(*k));
          const int a = *h / 2;
          const int b = *k / 2;
          if (std::abs(apart - 180) < 1e-4 && literal[at(a)] && literal[at(b)])
            out.push_back({literal[at(a)], literal[at(b)], true});
        }
      }
    }
  }
  if (wish == DirectionWish::alternating) {
    std::vector<std::vector<CreaseId>> around(graph.faces.size());
    for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
      if (!literal[e]) continue;
      for (const FaceId f : graph.sides[e]) {
        if (f >= 0) around[at(f)].emplace_back(e);
      }
    }
    for (const auto& edges : around) {
      for (std::size_t i = 0; i < edges.size(); ++i) {
        for (std::size_t k = i + 1; k < edges.size(); ++k) {
          const Segment a = pattern.segment(edges[i]);
          const Segment b = pattern.segment(edges[k]);
          const bool one_line = std::abs(Line::through(a.from, a.to).distance(b.from)) < 1e-6 * a.length();
          if (parallel(a, b) && !one_line) out.push_back({literal[at(edges[i])], literal[at(edges[k])], false});
        }
      }
    }
  }
  return out;
}

} // namespace uc
