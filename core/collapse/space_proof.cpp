#include "collapse/space_proof.h"

#include "base/index.h"
#include "collapse/closing.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double closes_within_deg = 1e-4;

/// By how many degrees the last facet round a vertex does not come back to the first.
double gap_at(const DrawnPattern& drawn, const PatternGraph& graph, VertexId v) {
  const CreasePattern& p = drawn.healed.pattern;
  constexpr double to_radians = std::numbers::pi / 180;
  Eigen::Matrix3d turned = Eigen::Matrix3d::Identity();
  for (const int* h = graph.stars.begin(v); h != graph.stars.end(v); ++h) {
    const auto e = static_cast<std::size_t>(*h / 2);
    const Segment s = p.segment(CreaseId(e));
    const Point d = *h % 2 == 0 ? Point(s.to - s.from) : Point(s.from - s.to);
    const double deg = drawn.full_deg.empty() ? 180 : drawn.full_deg[e];
    const double fold = p.edges[e].kind == EdgeKind::valley ? deg : p.edges[e].kind == EdgeKind::mountain ? -deg : 0;
    // Folded about each crease in turn, as it lies on the flat sheet (Belcastro and Hull 2002).
    turned *= Eigen::AngleAxisd(fold * to_radians, Eigen::Vector3d(d.x(), d.y(), 0).normalized()).toRotationMatrix();
  }
  return Eigen::AngleAxisd(turned).angle() / to_radians;
}

} // namespace

Result<SpaceProof> space_proof(const DrawnPattern& drawn, Progress* progress) {
  SpaceProof out;
  out.to_part = drawn.usual_part;
  const CreasePattern& p = drawn.healed.pattern;
  const PatternGraph graph = graph_of(p);
  for (VertexId v(0); at(v) < p.vertices.size(); v = VertexId(v + 1)) {
    if (!graph.interior[at(v)]) continue;
    const bool creased = std::any_of(graph.stars.begin(v), graph.stars.end(v),
                                     [&](int h) { return folds(p.edges[static_cast<std::size_t>(h / 2)].kind); });
    if (!creased) continue;
    ++out.vertices;
    const double gap = gap_at(drawn, graph, v);
    out.closing += gap < closes_within_deg;
    out.gap_deg = std::max(out.gap_deg, gap);
  }
  const auto mesh = fold_mesh(drawn.healed, drawn.full_deg, drawn.goals);
  if (!mesh) return Error{mesh.error()};
  Closing closing(*mesh, {family_stages(*mesh), {}, false, true});
  closing.tell(progress);
  std::vector<double> parts = even_parts(10, drawn.usual_part);
  parts.push_back(drawn.usual_part);
  const auto states = states_at(closing, parts, progress);
  if (states.size() < parts.size()) return Error{"the proof was stopped"};
  for (const CollapseState& state : states) {
    out.peak_strain = std::max(out.peak_strain, state.max_strain);
    out.passed_through = std::max(out.passed_through, state.passed_through);
  }
  out.bend_deg = states.back().max_bend_deg;
  out.off_deg = states.back().rms_error_deg;
  return out;
}

} // namespace uc
