// The look-ups of a search: what in the index lies near a target, alone, in pairs or with one more fold.
#pragma once

#include "reference/shortlist.h"

namespace uc {

/// Fills the list; returns the seconds that went into pairing up what was found.
double look_up(const SheetIndex& index, const Polygon& sheet, const Target& target, const SearchOptions& options,
               Shortlist& list);

} // namespace uc
