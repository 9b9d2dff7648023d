#include "io/strain_tint.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace uc {

std::vector<int> strain_tints(const FoldMesh& mesh, const std::vector<Eigen::Vector3d>& vertices) {
  std::vector<double> worst(mesh.flat.size(), 0); // of the bars at each vertex
  for (const FoldMesh::Bar& b : mesh.bars) {
    const double strain = std::abs((vertices[at(b.a)] - vertices[at(b.b)]).norm() / b.rest_mm - 1);
    for (const VertexId v : {b.a, b.b}) worst[at(v)] = std::max(worst[at(v)], strain);
  }
  std::vector<int> out;
  out.reserve(mesh.triangles.size());
  for (const auto& t : mesh.triangles) {
    double strain = std::numeric_limits<double>::infinity();
    for (const VertexId v : t) strain = std::min(strain, worst[at(v)]);
    out.push_back(static_cast<int>(
        std::count_if(strain_steps.begin(), strain_steps.end(), [&](double step) { return strain >= step; })));
  }
  return out;
}

} // namespace uc
