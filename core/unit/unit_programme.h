// The programme of a solid of units: cut the sheets, fold the units, join them. With the usual colours.
#pragma once

#include "precision/hand_profile.h"
#include "programme/programme.h"
#include "unit/unit_plan.h"

namespace uc {

/// Twenty-four papers; of the first eight any two stay apart for the common colour-vision deficiencies.
const std::vector<UnitMap::Colour>& usual_palette();
/// As many colours as a plan has, from a palette and, where it ends, from the usual one.
std::vector<UnitMap::Colour> palette_of(const UnitPlan& plan, const std::vector<UnitMap::Colour>& own);

/// The map of a plan's units; mm.
UnitMap unit_map(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette);

/// One cut a sheet, one move a unit to fold, one to join; times by the hand's seconds for a fold.
Programme unit_programme(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette, const HandProfile& hand);

} // namespace uc
