// How stiff the creases and facets of a sheet are in space.
#pragma once

namespace uc {

/// Stiffnesses over that of the bars, per unit of length where the mean edge is the unit.
struct FoldStiffness {
  double crease = 1e-5;
  double facet = 3e-2; // of diagonals and edges that are not folded: as good as rigid
  /// Whether thin triangles resist being flattened as bars do, rather than by their sides alone.
  bool altitudes = false;
  /// Whether facets bend as plates do, of the stiffness `facet` (see plates.h), rather than at each hinge by itself.
  bool plates = false;
};

} // namespace uc
