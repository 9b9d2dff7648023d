// The solids known by name, with the mathematicians' names: Platonic, Archimedean and Catalan ones, prisms, antiprisms,
// their duals, and geodesic spheres.
#pragma once

#include "solid/polyhedron.h"

#include <string>
#include <string_view>
#include <vector>

namespace uc {

/// Names without numbers, in the order in which they are offered: 5 Platonic, 13 Archimedean, 13 Catalan.
const std::vector<std::string>& named_solids();
/// Names that take numbers, with an example each: prism:7, geodesic:3,1.
const std::vector<std::string>& numbered_solids();

/// A solid by its name; shortest edge 1. Fails with one sentence for unknown names and numbers out of range.
Result<Polyhedron> named_solid(std::string_view name, const std::vector<int>& numbers);

/// The polar dual about the mean of the vertices: a vertex for each face, at the inverse of its distance.
Polyhedron polar_dual(const Polyhedron& p);

} // namespace uc
