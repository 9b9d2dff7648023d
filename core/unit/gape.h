// How far the last ring gapes: edges that are not all alike, a sheet whose ratio does not close, and paper that has
// thickness at the joints.
#pragma once

#include "precision/hand_profile.h"
#include "unit/unit_plan.h"

namespace uc {

struct Gape {
  int ring = 0;           // units of the largest ring
  double edge_sd_mm = 0;  // of one unit's edge: both its ends are folded
  double hand_mm = 0;     // of the ring: independent edges add up, sqrt(ring) times one
  double misfit_mm = 0;   // what the family misses at its worst corner, at the far end of an edge
  double together_mm = 0; // geometry and hand
  double layers_mm = 0;   // of paper at one joint
};

/// A fold's line has an error s at each end, so an edge between two folds one of s * sqrt(2).
Gape gape_of(const UnitPlan& plan, const HandProfile& hand, double caliper_mm);

} // namespace uc
