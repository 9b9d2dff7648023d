// A sheet in space as a file other programs read: OBJ, STL, and glTF binary with both colours of the paper.
#pragma once

#include "collapse/fold_mesh.h"

#include <string>
#include <string_view>
#include <vector>

namespace uc {

struct SpatialSheet {
  const FoldMesh& mesh;
  const std::vector<Eigen::Vector3d>& vertices; // mm
  std::string title;
  std::string face_colour = "#F3C98B";
  std::string underside_colour = "#FCFAF5";
};

/// By the ending of the name; fails for others. OBJ in mm, faces as triangles in their order; STL binary, in mm;
/// glTF 2.0 binary in metres, y up, one primitive for each side of the paper.
Result<std::string> solid_file(std::string_view file_name, const SpatialSheet& sheet);

} // namespace uc
