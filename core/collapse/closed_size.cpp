#include "collapse/closed_size.h"

#include "base/index.h"
#include "collapse/closing.h"
#include "pattern/sizing.h"

#include "geometry/least_box.h"

#include <Eigen/Geometry>

#include <algorithm>

namespace uc {

Eigen::Vector3d least_box(const std::vector<Eigen::Vector3d>& vertices, const FoldMesh& mesh, std::size_t most_facets) {
  std::vector<Eigen::Vector3d> normals;
  const std::size_t most = std::min(most_facets, mesh.triangles.size());
  for (std::size_t i = 0; i < most; ++i) {
    const auto& t = mesh.triangles[i];
    normals.emplace_back((vertices[at(t[1])] - vertices[at(t[0])]).cross(vertices[at(t[2])] - vertices[at(t[0])]));
  }
  return least_box(vertices, normals);
}

Result<Eigen::Vector3d> closed_size(const DrawnPattern& drawn, const Progress* progress) {
  const auto mesh = fold_mesh(drawn.healed, drawn.full_deg, drawn.goals);
  if (!mesh) return Error{mesh.error()};
  Closing closing(*mesh, {family_stages(*mesh), {}, false, false});
  if (!closing.go_to(drawn.usual_part, progress)) return Error{"the collapse was stopped"};
  return least_box(closing.state().vertices, *mesh);
}

std::optional<Eigen::Vector3d> FinishedMeasure::operator()(const DrawnPattern& drawn) {
  by_collapse_ = false;
  if (const auto known = finished_box(drawn)) return known;
  const CreasePattern& pattern = drawn.healed.pattern;
  const bool folds_at_all = std::any_of(pattern.edges.begin(), pattern.edges.end(), [](const PatternEdge& e) {
    return e.kind == EdgeKind::mountain || e.kind == EdgeKind::valley;
  });
  if (!folds_at_all || graph_of(pattern).faces.size() > most_closed_facets) return std::nullopt;
  const double width = bounding_box(pattern.vertices).size().x();
  if (!per_mm_) {
    const auto size = closed_size(drawn, progress_);
    if (!size) return std::nullopt;
    per_mm_ = *size / width;
  }
  by_collapse_ = true;
  return Eigen::Vector3d(width * *per_mm_);
}

} // namespace uc
