#include "collapse/plates.h"

#include "base/index.h"

#include <Eigen/LU>

#include <algorithm>
#include <map>
#include <utility>

namespace uc {
namespace {

std::pair<int, int> side_of(int a, int b) { return {std::min(a, b), std::max(a, b)}; }

/// C of the angles at the sides of a triangle, as (xx, yy, sqrt 2 xy).
Eigen::Matrix3d curvatures(const std::array<Point, 3>& corners, double area) {
  Eigen::Matrix3d out;
  for (std::size_t i = 0; i < 3; ++i) {
    const Point side = corners[(i + 1) % 3] - corners[i];
    const Point t{-side.y(), side.x()};
    out.col(static_cast<Eigen::Index>(i)) =
        Eigen::Vector3d{t.x() * t.x(), t.y() * t.y(), std::sqrt(2.0) * t.x() * t.y()} / (2 * area * side.norm());
  }
  return out;
}

/// What a matrix leaves for some of its rows when the others set themselves to where they cost least.
Eigen::MatrixXd condensed(const Eigen::Matrix3d& full, const std::vector<int>& kept) {
  std::vector<int> free;
  for (int i = 0; i < 3; ++i)
    if (std::find(kept.begin(), kept.end(), i) == kept.end()) free.push_back(i);
  const Eigen::MatrixXd within = full(kept, kept);
  if (free.empty()) return within;
  const Eigen::MatrixXd across = full(kept, free);
  const Eigen::MatrixXd rest = full(free, free);
  return within - across * rest.inverse() * across.transpose();
}

} // namespace

std::vector<Plate> plates_of(const FoldMesh& mesh, double bending, double unit_mm) {
  std::map<std::pair<int, int>, int> hinge_at;
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h) {
    const auto& hinge = mesh.hinges[h];
    if (!folds(hinge.kind)) hinge_at[side_of(hinge.a, hinge.b)] = static_cast<int>(h);
  }
  Eigen::Matrix3d law = (1 - paper_poisson) * Eigen::Matrix3d::Identity();
  law.topLeftCorner<2, 2>().array() += paper_poisson;
  std::vector<Plate> out;
  for (const auto& triangle : mesh.triangles) {
    std::array<Point, 3> corners;
    for (std::size_t i = 0; i < 3; ++i) corners[i] = mesh.flat[at(triangle[i])] / unit_mm;
    const Point u = corners[1] - corners[0];
    const Point v = corners[2] - corners[0];
    const double area = std::abs(u.x() * v.y() - u.y() * v.x()) / 2;
    Plate plate;
    std::vector<int> sides;
    for (int i = 0; i < 3; ++i) {
      const auto found = hinge_at.find(side_of(triangle[at(i)], triangle[at((i + 1) % 3)]));
      if (found == hinge_at.end()) continue;
      sides.push_back(i);
      plate.hinges.push_back(found->second);
    }
    if (sides.empty() || !(area > 0)) continue;
    const Eigen::Matrix3d c = curvatures(corners, area);
    plate.stiffness = condensed(bending * area * c.transpose() * law * c, sides);
    for (const int h : plate.hinges) {
      const auto& hinge = mesh.hinges[at(h)];
      std::array<int, 4> places{};
      const std::array<VertexId, 4> all{hinge.a, hinge.b, hinge.left, hinge.right};
      for (std::size_t k = 0; k < 4; ++k) {
        const auto known = std::find(plate.vertices.begin(), plate.vertices.end(), all[k]);
        places[k] = static_cast<int>(known - plate.vertices.begin());
        if (known == plate.vertices.end()) plate.vertices.push_back(all[k]);
      }
      plate.at.push_back(places);
    }
    out.push_back(std::move(plate));
  }
  return out;
}

} // namespace uc
