#include "widgets/folded_scene.h"

namespace uc::app {

SpatialScene scene_of(const FoldMesh& mesh, std::span<const Eigen::Vector3d> vertices, const QColor& face,
                      const QColor& underside) {
  SpatialScene out;
  out.vertices.reserve(vertices.size());
  for (const auto& v : vertices)
    out.vertices.emplace_back(static_cast<float>(v.x()), static_cast<float>(v.y()), static_cast<float>(v.z()));
  out.triangles.reserve(mesh.triangles.size());
  for (const auto& t : mesh.triangles) out.triangles.push_back({{t[0], t[1], t[2]}, face, underside});
  return out;
}

} // namespace uc::app
