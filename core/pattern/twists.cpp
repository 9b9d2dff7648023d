#include "pattern/twists.h"

#include "base/index.h"
#include "pattern/crease_lines.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace uc {
namespace {

constexpr double parallel = 1e-6; // the sine between directions that are one

/// Looks for facets that turn.
class TwistFinder {
public:
  explicit TwistFinder(const CreasePattern& pattern) : p_(pattern), graph_(graph_of(pattern)) {}

  [[nodiscard]] std::vector<Twist> found() const {
    std::vector<Twist> out;
    for (const GraphFace& face : graph_.faces) {
      if (!turns(face.cycle)) continue;
      Twist twist;
      twist.sides = static_cast<int>(face.cycle.size());
      twist.corners = face.cycle;
      for (const VertexId v : face.cycle) twist.centre += p_.vertices[at(v)] / static_cast<double>(face.cycle.size());
      out.push_back(twist);
    }
    return out;
  }

private:
  [[nodiscard]] bool turns(const std::vector<VertexId>& cycle) const {
    const EdgeKind kind = kind_of(half_edge(cycle[0], cycle[1]));
    if (kind != EdgeKind::mountain && kind != EdgeKind::valley) return false;
    for (std::size_t i = 0; i < cycle.size(); ++i) {
      const VertexId next = cycle[(i + 1) % cycle.size()];
      if (kind_of(half_edge(cycle[i], next)) != kind || !pleat_leaves(cycle[i], next)) return false;
    }
    return true;
  }
  /// From both ends of a side, with the facet to its left, creases of opposite kinds run outward in one direction,
  /// which is not square to the side.
  [[nodiscard]] bool pleat_leaves(VertexId from, VertexId to) const {
    const Point side = (p_.vertices[at(to)] - p_.vertices[at(from)]).normalized();
    for (const int* a = graph_.stars.begin(from); a != graph_.stars.end(from); ++a) {
      const Point d = direction(*a);
      const double across = side.x() * d.y() - side.y() * d.x();
      if (!folds(kind_of(*a)) || across > -parallel || std::abs(d.dot(side)) < parallel) continue;
      for (const int* b = graph_.stars.begin(to); b != graph_.stars.end(to); ++b) {
        if (kind_of(*b) == opposite(kind_of(*a)) && (direction(*b) - d).norm() < parallel) return true;
      }
    }
    return false;
  }
  [[nodiscard]] EdgeKind kind_of(int half_edge) const { return p_.edges[at(half_edge / 2)].kind; }
  [[nodiscard]] Point direction(int half_edge) const {
    const Segment s = p_.segment(CreaseId(half_edge / 2));
    return (half_edge % 2 == 0 ? Point(s.to - s.from) : Point(s.from - s.to)).normalized();
  }
  [[nodiscard]] int half_edge(VertexId from, VertexId to) const {
    return *std::find_if(graph_.stars.begin(from), graph_.stars.end(from), [&](int h) {
      const PatternEdge& e = p_.edges[at(h / 2)];
      return (h % 2 == 0 ? e.to : e.from) == to;
    });
  }

  const CreasePattern& p_;
  PatternGraph graph_;
};

} // namespace

std::vector<Twist> twists_of(const CreasePattern& pattern) {
  std::vector<Twist> out = TwistFinder(pattern).found();
  const Point middle = bounding_box(pattern.vertices).centre();
  const double step = 1e3 * snap_tolerance(pattern);
  const auto key = [&](const Twist& t) {
    const Point arm = t.centre - middle;
    const double turn = std::atan2(arm.y(), arm.x());
    return std::tuple(std::lround(arm.norm() / step), std::lround(1e6 * turn));
  };
  std::stable_sort(out.begin(), out.end(), [&](const Twist& a, const Twist& b) { return key(a) < key(b); });
  return out;
}

std::vector<int> first_needed_by(const CreasePattern& pattern, const std::vector<Twist>& twists) {
  std::vector<std::vector<int>> edges_at(pattern.vertices.size());
  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    if (!folds(pattern.edges[e].kind)) continue;
    edges_at[at(pattern.edges[e].from)].push_back(static_cast<int>(e));
    edges_at[at(pattern.edges[e].to)].push_back(static_cast<int>(e));
  }
  std::vector<char> corner(pattern.vertices.size(), 0);
  for (const Twist& t : twists)
    for (const VertexId v : t.corners) corner[at(v)] = 1;
  std::vector<int> out(pattern.edges.size(), -1);
  const auto other_end = [&](int e, VertexId from) {
    return pattern.edges[at(e)].from == from ? pattern.edges[at(e)].to : pattern.edges[at(e)].from;
  };
  for (std::size_t t = 0; t < twists.size(); ++t)
    for (const VertexId start : twists[t].corners)
      for (const int first : edges_at[at(start)]) {
        VertexId from = start;
        for (int e = first; e >= 0;) {
          if (out[at(e)] < 0) out[at(e)] = static_cast<int>(t);
          const VertexId to = other_end(e, from);
          if (corner[at(to)]) break;
          const Point along = (pattern.vertices[at(to)] - pattern.vertices[at(from)]).normalized();
          int next = -1;
          for (const int n : edges_at[at(to)]) {
            const Point on = (pattern.vertices[at(other_end(n, to))] - pattern.vertices[at(to)]).normalized();
            if (n != e && (on - along).norm() < parallel) next = n;
          }
          from = to;
          e = next;
        }
      }
  return out;
}

int nearest_twist(const std::vector<Twist>& twists, const Point& place) {
  int best = 0;
  double least = 1e300;
  for (std::size_t i = 0; i < twists.size(); ++i) {
    const double far = (twists[i].centre - place).norm();
    if (far < least * (1 - 1e-6)) least = far, best = static_cast<int>(i);
  }
  return best;
}

} // namespace uc
