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

struct ColourWish {
  int colours = 2;
  int variant = 0;
  double seconds = 10;
  std::vector<std::array<UnitId, 2>> ties = {}; // units that shall be alike
  std::vector<std::vector<UnitId>> turns = {};  // each takes units to units, those of one colour to those of one colour
};

/// With `variant` other answers come up; the same numbers give the same answer. Where no equal shares exist, the
/// nearest to them that were found. Empty, and not out of time, where so few colours are proved not to be enough.
Colouring coloured(const UnitGraph& graph, const ColourWish& wish, const Progress* progress = nullptr);

/// The fewest colours with which no two are alike at a joint; nothing when time is up.
/// As the wish has it, whatever its number of colours. Fails with one sentence where units that join shall be alike.
Result<std::optional<int>> fewest_colours(const UnitGraph& graph, ColourWish wish = {});

/// Whether ties ask two units that join to be alike: the first such joint.
std::optional<std::array<UnitId, 2>> tied_joint(const UnitGraph& graph, const std::vector<std::array<UnitId, 2>>& ties);

} // namespace uc
