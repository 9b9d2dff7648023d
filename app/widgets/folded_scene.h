// A closing sheet as a scene: its triangles in the two colours of the paper, where its vertices are now.
#pragma once

#include "collapse/fold_mesh.h"
#include "widgets/spatial_scene.h"

#include <span>

namespace uc::app {

/// `vertices` are those of the mesh, in mm; without lines.
SpatialScene scene_of(const FoldMesh& mesh, std::span<const Eigen::Vector3d> vertices, const QColor& face,
                      const QColor& underside);

} // namespace uc::app
