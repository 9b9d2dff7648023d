// How good a figure is by its shape: the distance of its vertices from the nearest figure of the kind, geometry and
// hand together, with moving, turning and scaling taken out.
#pragma once

#include "reference/construction.h"

namespace uc {

/// The n-gon with vertices at equal angles on the unit circle, counter-clockwise.
Polygon regular_polygon(int sides);

/// Root of the expected mean squared distance, mm, of `vertices` (items, as many and in the same sense as the corners
/// of `kind`) from the nearest moved, turned and scaled copy of `kind`. Those copies are a linear space of four
/// dimensions (two of place, two of turn and size), so the projection beside it is exact: |Pv|² for the geometry, tr(P
/// C Pᵀ) for the hand, over the number of vertices.
double shape_error_mm(const Construction& construction, const std::vector<int>& vertices,
                      const ConstructionErrors& errors, const Polygon& kind);

/// The same distance for vertices that lie where they lie, of a measured piece or one run of the hand.
double shape_distance_mm(const Polygon& vertices, const Polygon& kind);

} // namespace uc
