// The map of a geodesic sphere, or of its dual, with all edges equally long. With exactly equal edges six triangles
// about a vertex have no curvature, so that by Alexandrov (1950) the one convex shape is an icosahedron with lines
// drawn on it; folders' balls are rounder, because paper gives a little. What is sought is the shape that is bent least
// among those whose edges differ by no more than a tenth of a percent: of triangles the one whose dihedral angles are
// as even as they can be, of trivalent maps the one whose faces are as regular and as flat (where faces can be flat,
// they are the polyhedra of Schein and Gayed 2014).
#pragma once

#include "base/parallel.h"
#include "solid/polyhedron.h"

namespace uc {

/// How far edges may differ, in parts of the shortest.
constexpr double equal_edge_tolerance = 1e-3;

/// Fails for maps other than triangles, five or six at each vertex, and their duals; when it does not come to rest, and
/// when it is stopped.
Result<Polyhedron> with_equal_edges(const Polyhedron& map, const Progress* progress = nullptr);

/// How far the corners of the faces are from those of flat regular faces: the worst and the mean, in degrees. Of each
/// corner the larger of two angles counts, that by which it is too wide or narrow and that by which the face is bent
/// there.
struct FaceBend {
  double worst_deg = 0;
  double mean_deg = 0;
};
FaceBend bend_of_faces(const Polyhedron& p);

} // namespace uc
