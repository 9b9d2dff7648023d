// The creases of a relief: level pleats from the left edge of a sheet that are mirrored at every outline they meet. At
// its slanted sides they turn and run upright; they go straight through upright ones.
#pragma once

#include "form/crease_pattern.h"

#include <vector>

namespace uc {

struct ReliefWish {
  Polygon outline;   // corners at whole cells; sides level, upright or at 45 degrees
  int nested = 1;    // outlines, one within the other
  int step = 1;      // cells that a corner moves from one to the next
  bool grid = false; // with the grid lines that are not folded
};
constexpr int most_nested_outlines = 32;

struct ReliefCrease {
  Segment segment; // in cells
  EdgeKind kind = EdgeKind::unfolded;
};

/// Pleats lie half-way between whole cells. Where one meets a side it goes on as its mirror image (Kawasaki) in its own
/// direction, and the side changes direction: beside a slanted side its piece between the two arms at the lesser angle
/// is opposite to them (big-little-big). Where pleats cross, the upright one changes direction, as when it is folded
/// through the level one. So pleats that meet a side one after another must alternate; beside each other and round
/// corners they do what is left to choose: alternate, and be alike, as far as they can. Where a corner faces a side and
/// no corner, no directions suit all of it: pieces of that side then have none. At corners the paper cannot lie flat,
/// nor along a level side that no pleat goes through.
/// `sheet` is in cells. Fails, with one sentence, for outlines of another kind, or that leave no room within.
Result<std::vector<ReliefCrease>> relief_creases(const ReliefWish& wish, const Box& sheet);

} // namespace uc
