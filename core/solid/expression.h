// A solid as it is typed: a name, a name with numbers, or operators round one, as in kis(dodecahedron,0.3).
#pragma once

#include "base/parallel.h"
#include "solid/polyhedron.h"

#include <string>
#include <string_view>
#include <vector>

namespace uc {

/// The operators that can be typed.
std::vector<std::string> solid_operators();

/// Shortest edge 1, the mean of the vertices at the origin. Fails with one sentence that says where and what to type,
/// and when it was stopped.
Result<Polyhedron> parse_solid(std::string_view text, const Progress* progress = nullptr);

/// More edges are refused: an operator multiplies them.
constexpr std::size_t most_solid_edges = 6000;
/// A composed solid whose faces are further from plane than this, for edges of 1, is refused.
constexpr double solid_plane_tolerance = 1e-9;

} // namespace uc
