#include "collapse/fold_mesh.h"

#include "base/index.h"
#include "base/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace uc {
namespace {

std::string place(const Point& p) { return fmt::format("{}, {} mm", format_number(p.x(), 2), format_number(p.y(), 2)); }

double cross_of(const Point& a, const Point& b, const Point& c) {
  const Point u = b - a;
  const Point v = c - a;
  return u.x() * v.y() - u.y() * v.x();
}

/// How far from a needle a triangle is: its area over the square of its longest side.
double shape_of(const Point& a, const Point& b, const Point& c) {
  const double longest = std::max({(a - b).squaredNorm(), (b - c).squaredNorm(), (c - a).squaredNorm()});
  return cross_of(a, b, c) / longest;
}

/// 1 or -1 by the sense in which a diagonal winds about the middle, the same when all is turned: of diagonals that are
/// equally good those of one sense are taken, so that a sheet that looks the same after a turn also bends the same.
double sense_of(const Point& from, const Point& to, const Point& middle) {
  const Point d = to - from;
  const Point r = (from + to) / 2 - middle;
  return d.dot(r) * (d.x() * r.y() - d.y() * r.x()) > 0 ? 1 : -1;
}

/// Ears cut off a simple polygon, the best shaped first (Meisters 1975). False when none is left to cut.
bool cut_ears(const std::vector<Point>& p, const Point& middle, std::vector<VertexId> cycle,
              std::vector<std::array<VertexId, 3>>& out) {
  while (cycle.size() > 3) {
    const std::size_t n = cycle.size();
    std::size_t best = n;
    double shape = 1e-9;
    for (std::size_t i = 0; i < n; ++i) {
      const VertexId before = cycle[(i + n - 1) % n];
      const VertexId here = cycle[i];
      const VertexId after = cycle[(i + 1) % n];
      const double own = shape_of(p[at(before)], p[at(here)], p[at(after)]) *
                         (1 + 1e-6 * sense_of(p[at(before)], p[at(after)], middle));
      if (own <= shape) continue;
      const bool empty = std::none_of(cycle.begin(), cycle.end(), [&](VertexId v) {
        return v != before && v != here && v != after && cross_of(p[at(before)], p[at(here)], p[at(v)]) >= 0 &&
               cross_of(p[at(here)], p[at(after)], p[at(v)]) >= 0 &&
               cross_of(p[at(after)], p[at(before)], p[at(v)]) >= 0;
      });
      if (!empty) continue;
      best = i;
      shape = own;
    }
    if (best == n) return false;
    out.push_back({cycle[(best + n - 1) % n], cycle[best], cycle[(best + 1) % n]});
    cycle.erase(cycle.begin() + static_cast<std::ptrdiff_t>(best));
  }
  out.push_back({cycle[0], cycle[1], cycle[2]});
  return shape_of(p[at(cycle[0])], p[at(cycle[1])], p[at(cycle[2])]) > 1e-12;
}

Status sound(const HealedPattern& healed, const PatternGraph& graph) {
  const CreasePattern& p = healed.pattern;
  if (!healed.crossings.empty())
    return Error{
        fmt::format("two edges cross at {} without a vertex; split them there", place(healed.crossings[0].at))};
  if (graph.faces.empty()) return Error{"the pattern encloses no paper; draw its raw edges"};
  for (const GraphFace& f : graph.faces)
    if (!f.holes.empty())
      return Error{fmt::format("a face has a hole at {}; join the hole to the face's rim by a line that is not folded",
                               place(p.vertices[at(f.holes[0][0])]))};
  for (std::size_t e = 0; e < p.edges.size(); ++e)
    if (p.edges[e].kind == EdgeKind::cut && graph.sides[e][0] >= 0 && graph.sides[e][1] >= 0)
      return Error{
          fmt::format("an open cut lies at {}; collapse the parts without it, or draw it as a raw edge on both sides",
                      place(p.segment(CreaseId(e)).middle()))};
  // One sheet: every face is reached from the first.
  std::vector<char> seen(graph.faces.size(), 0);
  std::vector<int> open{0};
  std::vector<std::vector<int>> beside(graph.faces.size());
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    const auto [left, right] = graph.sides[e];
    if (left < 0 || right < 0 || !joins(p.edges[e].kind)) continue;
    beside[at(left)].push_back(right);
    beside[at(right)].push_back(left);
  }
  seen[0] = 1;
  while (!open.empty()) {
    const int f = open.back();
    open.pop_back();
    for (const int g : beside[at(f)])
      if (!std::exchange(seen[at(g)], 1)) open.push_back(g);
  }
  const auto loose = std::find(seen.begin(), seen.end(), 0);
  if (loose != seen.end()) {
    const auto& face = graph.faces[static_cast<std::size_t>(loose - seen.begin())];
    return Error{fmt::format("the paper at {} hangs together with the rest nowhere; collapse one part at a time",
                             place(p.vertices[at(face.cycle[0])]))};
  }
  return Done{};
}

} // namespace

Result<FoldMesh> fold_mesh(const HealedPattern& healed, const std::vector<double>& full_deg,
                           const std::vector<CreaseGoals>& goals) {
  const CreasePattern& p = healed.pattern;
  const PatternGraph graph = graph_of(p);
  if (const auto ok = sound(healed, graph); !ok) return Error{ok.error()};
  FoldMesh out;
  out.flat = p.vertices;
  const Point middle = bounding_box(p.vertices).centre();
  for (std::size_t f = 0; f < graph.faces.size(); ++f) {
    if (!cut_ears(p.vertices, middle, graph.faces[f].cycle, out.triangles))
      return Error{fmt::format("the face at {} has no area; take one of its vertices away",
                               place(p.vertices[at(graph.faces[f].cycle[0])]))};
    out.face_of.resize(out.triangles.size(), FaceId(f));
  }
  const auto length = [&](VertexId a, VertexId b) { return (p.vertices[at(a)] - p.vertices[at(b)]).norm(); };
  // The third corner of the triangle to the left of each directed edge.
  std::map<std::array<VertexId, 2>, VertexId> third;
  for (const auto& t : out.triangles)
    for (std::size_t i = 0; i < 3; ++i) third[{t[i], t[(i + 1) % 3]}] = t[(i + 2) % 3];
  std::map<std::array<VertexId, 2>, CreaseId> edge_of;
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    const PatternEdge& edge = p.edges[e];
    edge_of[{std::min(edge.from, edge.to), std::max(edge.from, edge.to)}] = CreaseId(e);
    out.bars.push_back({edge.from, edge.to, length(edge.from, edge.to)});
  }
  out.hinge_of.assign(p.edges.size(), -1);
  for (const auto& [ab, left] : third) {
    const auto other = third.find({ab[1], ab[0]});
    if (ab[0] > ab[1] || other == third.end()) continue;
    const auto known = edge_of.find(ab);
    FoldMesh::Hinge h{ab[0], ab[1], left, other->second, {}, EdgeKind::unfolded, length(ab[0], ab[1]), 180, {}};
    if (known == edge_of.end()) {
      out.bars.push_back({ab[0], ab[1], h.length_mm});
    } else {
      h.edge = known->second;
      h.kind = p.edges[at(h.edge)].kind;
      if (full_deg.size() == p.edges.size()) h.full_deg = full_deg[at(h.edge)];
      if (goals.size() == p.edges.size()) h.goals = goals[at(h.edge)];
      out.hinge_of[at(h.edge)] = static_cast<int>(out.hinges.size());
    }
    out.hinges.push_back(h);
  }
  return out;
}

} // namespace uc
