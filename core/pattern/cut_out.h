// How a pattern whose sheet is not convex, or has openings and slits, comes out of a rectangle: creased first, then
// cut.
#pragma once

#include "form/crease_pattern.h"
#include "programme/move.h"

#include <vector>

namespace uc {

struct CutOut {
  Polygon sheet;           // what is creased: the outline itself where it is convex, else the rectangle about it
  std::vector<Move> moves; // the cuts, after all creases
};

/// Fails for patterns without an outline.
Result<CutOut> cut_out(const CreasePattern& pattern);

} // namespace uc
