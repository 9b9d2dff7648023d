// The tint that shows strain in the paper, from pale to strong: nothing, a hundredth, a tenth and one percent.
#pragma once

#include "collapse/fold_mesh.h"

#include <array>
#include <vector>

namespace uc {

inline constexpr std::array strain_steps{0.0001, 0.001, 0.01};
inline constexpr std::array strain_colours{"#F4EFE2", "#F0D59A", "#E09A4F", "#B3261E"};

/// Per triangle of the mesh, which of the colours it has: a triangle is as strained as the least of its corners, a
/// corner as the worst of the bars at it.
std::vector<int> strain_tints(const FoldMesh& mesh, const std::vector<Eigen::Vector3d>& vertices);

} // namespace uc
