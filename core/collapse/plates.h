// How facets that are let go bend as a plate does, whatever triangles they are divided into. The folds at a triangle's
// three edges tell one curvature of it (Grinspun, Gingold, Reisman and Zorin 2006): the sum over its edges of
// angle / (2 area length) t t', where t is as long as the edge and square to it. A plate resists it with
// D ((1 - v) |C|² + v (tr C)²) / 2 per area, v Poisson's ratio. So the folds of a triangle are coupled: a diagonal
// is no softer in series with the sides it joins. At raw edges and creases the facet ends, and the curvature there
// sets itself to where it costs least.
#pragma once

#include "collapse/fold_mesh.h"

#include <Eigen/Core>

#include <array>
#include <vector>

namespace uc {

constexpr double paper_poisson = 0.3;

/// As large as a triangle with three neighbours takes: six vertices, three hinges.
using PlateAngles = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, 3, 1>;
using PlateStiffness = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, 3, 3>;
using PlateGradients = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, 18, 3>;

/// A triangle by the hinges at which its facet goes on.
struct Plate {
  std::vector<int> hinges;            // one to three
  PlateStiffness stiffness;           // moments of these hinges for their angles in radians
  std::vector<VertexId> vertices;     // of the triangle and of those beside it
  std::vector<std::array<int, 4>> at; // per hinge, where a, b, left and right stand among them
};

/// Those of a mesh, for `bending` D in the solver's units, of which the unit of length is so many mm.
std::vector<Plate> plates_of(const FoldMesh& mesh, double bending, double unit_mm);

} // namespace uc
