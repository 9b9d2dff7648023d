#include "unit/colour_ties.h"

#include "base/index.h"

#include <fmt/format.h>

#include <Eigen/Geometry>

#include <algorithm>
#include <map>
#include <set>

namespace uc {
namespace {

/// The frame of a way from one vertex to the next as it stands in space.
Eigen::Matrix3d frame_of(const Point3& from, const Point3& to) {
  Eigen::Matrix3d out;
  out.col(0) = from.normalized();
  out.col(1) = (to - to.dot(out.col(0)) * out.col(0)).normalized();
  out.col(2) = out.col(0).cross(out.col(1));
  return out;
}

/// The vertex at a place, or none.
class Places {
public:
  Places(const Polyhedron& solid, double tolerance) : solid_(solid), tolerance_(tolerance) {
    for (VertexId v(0); at(v) < solid.vertices.size(); ++v) order_.emplace(solid.vertices[at(v)].x(), v);
  }
  [[nodiscard]] VertexId of(const Point3& p) const {
    for (auto it = order_.lower_bound(p.x() - tolerance_); it != order_.end() && it->first <= p.x() + tolerance_; ++it)
      if ((solid_.vertices[at(it->second)] - p).norm() < tolerance_) return it->second;
    return {};
  }

private:
  const Polyhedron& solid_;
  double tolerance_;
  std::multimap<double, VertexId> order_;
};

/// The set of vertices a unit stands on.
std::vector<VertexId> corners_of(const Polyhedron& solid, const Unit& unit) {
  std::vector<VertexId> out;
  switch (unit.kind) {
  case Unit::Kind::edge:
  case Unit::Kind::clip:
    out = {unit.vertices[0], unit.vertices[1]};
    break;
  case Unit::Kind::face:
    out = solid.faces[at(unit.index)];
    break;
  case Unit::Kind::vertex:
    out = {VertexId(unit.index)};
    break;
  }
  std::sort(out.begin(), out.end());
  return out;
}

/// All that repeated use of some rotations makes.
std::set<VertexTurn> group_of(const std::vector<VertexTurn>& generators) {
  std::set<VertexTurn> group(generators.begin(), generators.end());
  std::vector<VertexTurn> open(generators.begin(), generators.end());
  while (!open.empty()) {
    const VertexTurn turn = std::move(open.back());
    open.pop_back();
    for (const VertexTurn& next : generators) {
      VertexTurn both = turn;
      for (VertexId& v : both) v = next[at(v)];
      if (group.insert(both).second) open.push_back(std::move(both));
    }
  }
  return group;
}

} // namespace

std::vector<VertexTurn> rotations_of(const Polyhedron& p) {
  Polyhedron solid = p;
  Point3 middle = Point3::Zero();
  for (const Point3& v : solid.vertices) middle += v / static_cast<double>(solid.vertices.size());
  for (Point3& v : solid.vertices) v -= middle;
  const double tolerance = 1e-6 * diameter(solid);
  const Places places(solid, tolerance);
  const auto edges = solid.edges();
  const auto [a, b] = edges.front();
  const Eigen::Matrix3d here = frame_of(solid.vertices[at(a)], solid.vertices[at(b)]);
  std::vector<VertexTurn> out;
  for (const auto& edge : edges) {
    for (const auto& [from, to] : {std::pair{edge[0], edge[1]}, std::pair{edge[1], edge[0]}}) {
      if (std::abs(solid.vertices[at(from)].norm() - solid.vertices[at(a)].norm()) > tolerance) continue;
      const Eigen::Matrix3d turn = frame_of(solid.vertices[at(from)], solid.vertices[at(to)]) * here.transpose();
      VertexTurn image;
      image.reserve(solid.vertices.size());
      for (const Point3& v : solid.vertices) {
        image.push_back(places.of(turn * v));
        if (image.back() < 0) break;
      }
      if (image.size() == solid.vertices.size() && image.back() >= 0) out.push_back(std::move(image));
    }
  }
  std::sort(out.begin(), out.end()); // the identity is the least
  return out;
}

int order_of(const VertexTurn& turn) {
  VertexTurn now = turn;
  int order = 1;
  while (!std::is_sorted(now.begin(), now.end())) {
    for (VertexId& v : now) v = turn[at(v)];
    ++order;
  }
  return order;
}

Result<std::vector<UnitTurn>> unit_turns(const Polyhedron& solid, const UnitGraph& graph, int order) {
  std::vector<VertexTurn> wanted;
  std::set<int> orders;
  std::set<VertexTurn> made; // by those that are wanted
  for (const VertexTurn& turn : rotations_of(solid)) {
    const int own = order_of(turn);
    if (own == 1) continue;
    orders.insert(own);
    if (order > 0 ? own != order || !wanted.empty() : made.contains(turn)) continue;
    wanted.push_back(turn);
    made = group_of(wanted);
  }
  if (orders.empty()) return Error{"this solid has no rotation onto itself; leave symmetry out"};
  if (wanted.empty())
    return Error{fmt::format("no rotation of order {} takes this solid onto itself; it has those of order {}", order,
                             fmt::join(orders, ", "))};
  std::map<std::pair<Unit::Kind, std::vector<VertexId>>, UnitId> unit_on;
  for (UnitId u(0); at(u) < graph.units.size(); ++u)
    unit_on[{graph.units[at(u)].kind, corners_of(solid, graph.units[at(u)])}] = u;
  std::vector<UnitTurn> out;
  for (const VertexTurn& turn : wanted) {
    UnitTurn image;
    for (const Unit& unit : graph.units) {
      std::vector<VertexId> corners = corners_of(solid, unit);
      for (VertexId& v : corners) v = turn[at(v)];
      std::sort(corners.begin(), corners.end());
      image.push_back(unit_on.at({unit.kind, corners}));
    }
    out.push_back(std::move(image));
  }
  return out;
}

Result<Ties> band_ties(const Polyhedron& solid, const UnitGraph& graph) {
  if (graph.units.empty() || graph.units[0].kind != Unit::Kind::edge)
    return Error{"bands are of units that stand for edges; take such a family"};
  std::map<std::array<VertexId, 2>, UnitId> unit_on;
  for (UnitId u(0); at(u) < graph.units.size(); ++u) unit_on[graph.units[at(u)].vertices] = u;
  Ties out;
  const auto around = rings_of(solid);
  for (VertexId v(0); at(v) < around.size(); ++v) {
    const auto& ring = around[at(v)];
    const std::size_t half = ring.size() / 2;
    if (ring.size() % 2 == 1)
      return Error{
          fmt::format("{} edges meet at a corner, so no band runs straight on there; take a solid with an even "
                      "number at each corner, such as cuboctahedron or icosidodecahedron",
                      ring.size())};
    for (std::size_t i = 0; i < half; ++i) {
      const auto unit = [&](std::size_t k) { return unit_on.at({std::min(v, ring[k]), std::max(v, ring[k])}); };
      out.push_back({unit(i), unit(i + half)});
    }
  }
  return out;
}

} // namespace uc
