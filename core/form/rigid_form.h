// A pattern in space whose faces stay flat: each crease stands at its angle.
#pragma once

#include "form/crease_pattern.h"

#include <Eigen/Core>

#include <optional>
#include <vector>

namespace uc {

struct RigidForm {
  std::vector<Eigen::Vector3d> vertices; // mm; the first face lies where it lay
  std::vector<Eigen::Vector3d> normals;  // of each face, on its coloured side
};

/// Faces placed by walking over the creases from face 0, mountains turned back and valleys up by these degrees (per
/// edge; 180 everywhere when empty), all other edges flat. None where faces do not meet again within a millionth of the
/// sheet, which then has to bend, and for a pattern in several pieces.
std::optional<RigidForm> rigid_form(const CreasePattern& pattern, const std::vector<double>& full_deg);

} // namespace uc
