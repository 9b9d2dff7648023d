// Where the division of an odd count may start from: a line that is folded by a construction, marked with a ruler, or
// laid on from a printed template. Each carries the error it brings into every line of the grid.
#pragma once

#include "divide/division.h"
#include "reference/sheet_index.h"

namespace uc {

constexpr StartKind all_starts[] = {StartKind::diagonals, StartKind::corner_fold, StartKind::binary,
                                    StartKind::route,     StartKind::ruler,       StartKind::printed};

/// Assumed standard errors of a pencil mark along a ruler and of a mark from a template printed at true scale.
constexpr double ruler_sigma_mm = 0.3;
constexpr double printed_sigma_mm = 0.2;

/// The start of this kind for the grid. Fails for even counts that need none, for directions other than the sheet's
/// own, for kinds that need a square, and for `route` without an index.
Result<StartMark> start_of(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand, StartKind kind,
                           const SheetIndex* index = nullptr);

struct StartedDivision {
  StartKind kind = StartKind::given;
  Division division; // by the most accurate method
};
/// The grid from every start that can be had, in the order of all_starts; empty when no start is of use.
std::vector<StartedDivision> compare_starts(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand,
                                            const SheetIndex* index = nullptr);

/// The start with its error worked out anew for this sheet and hand; empty when its recipe does not fit them.
std::optional<StartMark> revised_start(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand);

/// Puts the moves that make the start in front of the division's programme.
void put_start_first(Division& division, const Sheet& sheet);

/// How often a guess goes round its orbit of halvings before it is good enough: each round divides its error by
/// 2^(orbit length).
int rounds_of(const GridPlan& plan);

} // namespace uc
