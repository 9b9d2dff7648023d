#include "collapse/closed_size.h"

#include "base/index.h"
#include "collapse/closing.h"
#include "pattern/sizing.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <functional>

namespace uc {

namespace {

using Points = std::vector<Eigen::Vector3d>;

/// The box with one side square to `up`, of least area seen along it.
Eigen::Vector3d box_along(const Points& points, const Eigen::Vector3d& up) {
  const Eigen::Vector3d x = up.unitOrthogonal();
  const Eigen::Vector3d y = up.cross(x);
  std::vector<Point> seen;
  seen.reserve(points.size());
  double low = 1e300;
  double high = -1e300;
  for (const Eigen::Vector3d& p : points) {
    seen.emplace_back(x.dot(p), y.dot(p));
    low = std::min(low, up.dot(p));
    high = std::max(high, up.dot(p));
  }
  const Point best = least_rectangle(std::move(seen));
  return {best.x(), best.y(), high - low};
}

Points ups_of(const Points& points, const FoldMesh& mesh, std::size_t most_facets) {
  Eigen::Vector3d middle = Eigen::Vector3d::Zero();
  for (const Eigen::Vector3d& p : points) middle += p / static_cast<double>(points.size());
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (const Eigen::Vector3d& p : points) spread += (p - middle) * (p - middle).transpose();
  const Eigen::Matrix3d axes = Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(spread).eigenvectors();
  Points out{axes.col(0), axes.col(1), axes.col(2)};
  const std::size_t most = std::min(most_facets, mesh.triangles.size());
  for (std::size_t i = 0; i < most; ++i) {
    const auto& t = mesh.triangles[i];
    const Eigen::Vector3d n = (points[at(t[1])] - points[at(t[0])]).cross(points[at(t[2])] - points[at(t[0])]);
    const bool known = n.norm() == 0 || std::any_of(out.begin(), out.end(), [&](const Eigen::Vector3d& o) {
                         return o.cross(n.normalized()).norm() < 1e-3;
                       });
    if (!known) out.push_back(n.normalized());
  }
  return out;
}

} // namespace

Eigen::Vector3d least_box(const Points& vertices, const FoldMesh& mesh, std::size_t most_facets) {
  Eigen::Vector3d best = Eigen::Vector3d::Constant(1e100);
  for (const Eigen::Vector3d& up : ups_of(vertices, mesh, most_facets)) {
    const Eigen::Vector3d size = box_along(vertices, up);
    // A flat piece has no volume from any side; the thin one counts as thick as a hair.
    const auto volume = [](const Eigen::Vector3d& s) { return s.cwiseMax(1e-3 * s.maxCoeff()).prod(); };
    if (volume(size) < volume(best)) best = size;
  }
  std::sort(best.data(), best.data() + 3, std::greater<>());
  return best;
}

Result<Eigen::Vector3d> closed_size(const DrawnPattern& drawn, const Progress* progress) {
  const auto mesh = fold_mesh(drawn.healed, drawn.full_deg, drawn.goals);
  if (!mesh) return Error{mesh.error()};
  Closing closing(*mesh, {family_stages(*mesh), {}, false, false});
  if (!closing.go_to(1, progress)) return Error{"the collapse was stopped"};
  return least_box(closing.state().vertices, *mesh);
}

std::optional<Point> FinishedMeasure::operator()(const DrawnPattern& drawn) {
  by_collapse_ = false;
  if (flat_ || drawn.figures.finished_mm || drawn.figures.packed_mm) return finished_size(drawn);
  const CreasePattern& pattern = drawn.healed.pattern;
  const bool folds_at_all = std::any_of(pattern.edges.begin(), pattern.edges.end(), [](const PatternEdge& e) {
    return e.kind == EdgeKind::mountain || e.kind == EdgeKind::valley;
  });
  if (!folds_at_all || graph_of(pattern).faces.size() > most_closed_facets) return std::nullopt;
  const double width = bounding_box(pattern.vertices).size().x();
  if (!per_mm_) {
    const auto size = closed_size(drawn, progress_);
    if (!size) return std::nullopt;
    per_mm_ = size->head<2>() / width;
  }
  by_collapse_ = true;
  return Point(width * *per_mm_);
}

} // namespace uc
