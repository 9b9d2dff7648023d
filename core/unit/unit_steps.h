// How one unit is folded, step by step, on a piece of its own size.
#pragma once

#include "fold/sequence.h"
#include "unit/unit_plan.h"

namespace uc {

/// Width and height in mm of what one unit is folded from; of strips, of a clip.
Point unit_piece(const UnitPlan& plan);

/// The family's steps file for such a piece; empty when words alone tell it.
std::string unit_steps(const UnitFamily& family, const Point& piece_mm);

/// Those steps folded; none when there are none. As far as simple folds carry: nothing is refused.
std::optional<FoldedSequence> folded_unit(const UnitFamily& family, const Point& piece_mm);

} // namespace uc
