// Colours for units, no two alike at a joint, in shares that differ by at most one: exact, by a SAT solver.
#pragma once

#include "base/parallel.h"
#include "unit/joints.h"

#include <optional>

namespace uc {

struct Colouring {
  std::vector<int> colour; // per unit, from 0; empty when there is none
  bool equal_shares = true;
  bool out_of_time = false;
};

/// With `variant` other answers come up; the same numbers give the same answer. Where no equal shares exist, the
/// nearest to them that were found. Empty, and not out of time, where so few colours are proved not to be enough.
Colouring coloured(const UnitGraph& graph, int colours, int variant = 0, double seconds = 10,
                   const Progress* progress = nullptr);

/// The fewest colours with which no two are alike at a joint; nothing when time is up.
std::optional<int> fewest_colours(const UnitGraph& graph, double seconds = 10);

} // namespace uc
