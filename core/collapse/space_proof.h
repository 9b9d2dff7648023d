// What can be proved of a pattern that closes in space and does not lie flat in the end: that each vertex closes at the
// angles its creases are to have, or by how much it does not, and what the way to closed does to the paper.
#pragma once

#include "base/parallel.h"
#include "pattern/design.h"

namespace uc {

struct SpaceProof {
  int vertices = 0;       // inside the paper, where creases meet
  int closing = 0;        // of them, those that close with flat facets
  double gap_deg = 0;     // by which the worst of the others does not: facets bend by that, or creases give
  double to_part = 1;     // how far of the way was gone
  double peak_strain = 0; // in the paper, on the way
  double bend_deg = 0;    // of a facet at the end
  double off_deg = 0;     // of creases from their angles at the end, root mean square
  int passed_through = 0; // corners and edges that are through a layer, at the worst state of the way
  /// Paper takes it: a rule of the house, the strain at which a collapse counts as forced.
  [[nodiscard]] bool can_be_made() const { return peak_strain < most_strain && passed_through == 0; }
  static constexpr double most_strain = 0.015;
};

/// Goes the family's own way, as far as hands usually close it, with layers kept apart. Fails for patterns that do not
/// move as one, and when it is stopped.
Result<SpaceProof> space_proof(const DrawnPattern& drawn, Progress* progress = nullptr);

} // namespace uc
