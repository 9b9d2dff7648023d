// A solid laid flat without crossings: seen through the face farthest from where the work begins, drawn in circles
// about the first unit as a map of the earth is about a pole.
#pragma once

#include "programme/unit_map.h"
#include "unit/joints.h"

namespace uc {

/// The solid's vertices on a plane, in the solid's unit, the first unit in the middle. Edges drawn straight do not
/// cross: the first of four projections that keeps them apart is taken (equal-area, equidistant, stereographic, or the
/// perspective from outside the outermost face, which always does for a convex solid: Schlegel 1886).
std::vector<Point> flat_vertices(const Polyhedron& solid, const Point3& middle);

/// Where each unit is drawn: edges and clips as bars, faces inset, vertices as small rounds. The outermost face's unit
/// is drawn round all others.
std::vector<Polygon> unit_outlines(const Polyhedron& solid, const UnitGraph& graph, int first);

} // namespace uc
