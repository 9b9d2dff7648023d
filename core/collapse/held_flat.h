// The parts of a sheet that a folder keeps flat on the table while the rest closes: states in space are turned so that
// the first of them lies where it lay on the flat sheet.
#pragma once

#include "collapse/fold_mesh.h"

namespace uc {

/// Per triangle, whether it belongs to one of these parts.
std::vector<char> held_triangles(const FoldMesh& mesh, std::span<const HeldFlat> held);

/// Moves a state, without stretching it, so that the first held part lies as on the flat sheet, at height 0 and face
/// up, as nearly as it can. A sheet of which nothing is held stays as it is.
void lay_on_table(const FoldMesh& mesh, std::span<const HeldFlat> held, std::vector<Eigen::Vector3d>& vertices);

} // namespace uc
