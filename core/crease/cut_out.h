// How a pattern whose sheet is not convex, or has openings and slits, comes out of a rectangle: creased first, then
// cut.
#pragma once

#include "form/crease_pattern.h"
#include "programme/move.h"

#include <vector>

namespace uc {

constexpr double cut_seconds = 20; // a straight cut, and to find the ruler's place
constexpr double mat_seconds = 60; // to lay out mat and ruler

struct CutOut {
  Polygon sheet;           // what is creased
  std::vector<Move> moves; // the cuts, after all creases
};

/// What is creased is the outline itself where it is convex, else the sheet it is drawn on or, where none is given, the
/// rectangle about it. Fails for patterns without an outline.
Result<CutOut> cut_out(const CreasePattern& pattern, const Polygon& on = {});

} // namespace uc
