// What follows from a project, as parts: each has a key that names all it depends on, and an answer that is a pure
// function of the key. Answers can be kept by key, and what two states of a project have in common is worked out once.
#pragma once

#include "crease/cut_from.h"
#include "project/project.h"

namespace uc {

/// The division of the grid.
struct DivisionKey {
  std::string sheet; // code of the planned one
  GridSpec grid;
  HandProfile hand;
  bool operator==(const DivisionKey&) const = default;
};
DivisionKey division_key(const Project& project);
/// Why there is no division for this key; quick.
Status check(const DivisionKey& key);
Result<Division> answer(const DivisionKey& key);

/// What the pattern's family or rules draw on the sheet as it was typed.
struct DrawnKey {
  std::string sheet;
  PatternDesign pattern;
  bool operator==(const DrawnKey&) const = default;
};
DrawnKey drawn_key(const Project& project);
DrawnPattern answer(const DrawnKey& key);

/// The pre-crease programme of the pattern, for one school.
struct CreasesKey {
  std::string sheet; // code of the one that is worked on
  double scale = 1;  // of it to the sheet as it was typed
  PatternDesign pattern;
  HandProfile hand;
  PrecreaseSpec spec;
  bool operator==(const CreasesKey&) const = default;
};
CreasesKey creases_key(const Project& project, const PrecreaseSpec& spec);
/// Begins with cutting the pattern's own piece from the sheet. `drawn` is the answer to the drawn part of the same
/// project.
Result<Precrease> answer(const CreasesKey& key, const DrawnPattern& drawn, Progress* progress = nullptr);

/// Of the pattern as it was drawn to the pattern on the sheet as it was measured; families with lengths of their own
/// keep them.
double scale_of_pattern(const Project& project);
/// Where the pattern's own piece lies on the sheet that is worked on, and how it is cut.
Result<CutFrom> piece_of_pattern(const Project& project, const DrawnPattern& drawn);

/// Everything the moves of the programme depend on.
struct MovesKey {
  FoldedWork folded = FoldedWork::grid;
  DivisionKey division;
  std::optional<CreasesKey> creases;
  std::vector<PlannedReference> references;
  std::string steps;
  double caliper_mm = 0; // of folds through layers; counts with steps only
  std::optional<UnitJob> units;
  std::optional<ClosingPlan> closing; // with the pattern and the stock it is closed by
  std::optional<DrawnKey> closed;
  std::optional<Stock> stock;
  bool operator==(const MovesKey&) const = default;
};
MovesKey moves_key(const Project& project);

} // namespace uc
