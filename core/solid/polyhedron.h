// A convex polyhedron, or one near to it: vertices and plane faces, and what is measured on it. Units, nets and the
// numbers of a plan all stand on this.
#pragma once

#include "base/index.h"
#include "base/result.h"

#include <Eigen/Core>

#include <array>
#include <vector>

namespace uc {

using Point3 = Eigen::Vector3d;

struct Polyhedron {
  std::vector<Point3> vertices;
  std::vector<std::vector<VertexId>> faces; // counter-clockwise seen from outside

  /// Every edge once, the lesser vertex first, in ascending order.
  [[nodiscard]] std::vector<std::array<VertexId, 2>> edges() const;
  [[nodiscard]] Point3 centre_of(FaceId face) const;
  /// Outward, of length 1 (Newell's, so that it is the mean for a face not quite plane).
  [[nodiscard]] Point3 normal_of(FaceId face) const;
};

/// The faces on both sides of each edge, in the order of edges(): the one in which the edge runs from its lesser vertex
/// to the greater first. -1 where a face is missing.
std::vector<std::array<FaceId, 2>> faces_beside(const Polyhedron& p);
/// For every vertex the vertices it has edges to, counter-clockwise seen from outside.
std::vector<std::vector<VertexId>> rings_of(const Polyhedron& p);
/// Interior dihedral angles in degrees, in the order of edges().
std::vector<double> dihedral_degrees(const Polyhedron& p);
/// The diameter of the sphere through all vertices where there is one about their mean, else of the farthest pair.
double diameter(const Polyhedron& p);
double shortest_edge(const Polyhedron& p);
/// The greatest distance of a vertex from the plane of a face it belongs to.
double planarity_error(const Polyhedron& p);
/// Moved so that the vertices' mean is the origin, and scaled so that the shortest edge has this length.
Polyhedron with_edge(Polyhedron p, double edge);
/// The convex hull of points of which no face is wanted but triangles.
Result<Polyhedron> triangulated_hull(const std::vector<Point3>& points);
/// Faces walked round the edges between all pairs of vertices at the least distance: every uniform polyhedron.
Polyhedron with_least_edges(std::vector<Point3> vertices);

} // namespace uc
