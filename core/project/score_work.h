// What of a project a scoring plotter can score: its pattern, or the grid and references it folds.
#pragma once

#include "project/project.h"

namespace uc {

/// The sheet that lies on the machine: the pattern's own outline where that is convex, else the box about it.
Polygon scored_sheet(const CreasePattern& pattern);

struct ScoreWork {
  CreasePattern pattern;
  Polygon sheet; // where the pattern lies on it
};
/// Fails where what is folded are steps or units, which have no creases on one bare sheet, and where there are none.
Result<ScoreWork> score_work(const Project& project);

} // namespace uc
