// In which order units are joined: each next one where it closes most rings, as early as can be.
#pragma once

#include "unit/joints.h"

namespace uc {

struct AssemblyStep {
  UnitId add{0};
  std::vector<int> closes; // rings of the graph
  int rings_closed = 0;    // with this one
};

/// Every unit once. A unit joins what is there, where there is anything; of those that close most rings the one with
/// most joints goes first, then the one whose nearest ring lacks fewest, then the lowest number.
std::vector<AssemblyStep> assembly_order(const UnitGraph& graph);

} // namespace uc
