// The piece of paper that a pattern is drawn on, cut from the sheet that is there: where it lies on it, and the moves
// that mark and cut it before anything is creased.
#pragma once

#include "form/crease_pattern.h"
#include "programme/programme.h"

namespace uc {

struct CutFrom {
  Isometry place; // from the pattern's own coordinates to the sheet's
  /// What is creased, in the sheet's coordinates: the piece that is cut, else the sheet itself.
  Polygon piece;
  Programme moves; // that cut it, on the sheet; none where the piece is the sheet
};

/// `movable`: the pattern brings its own lengths and may lie anywhere on the sheet; then it goes into the sheet's lower
/// left corner, turned by a quarter where it fits only so. Others stay where they were drawn. What is not convex is cut
/// out in the end (see cut_out.h), from the rectangle about it or, where it fills the sheet, from the sheet. Fails
/// where the piece does not fit on the sheet.
Result<CutFrom> cut_from(const Polygon& sheet, const CreasePattern& pattern, bool movable);

} // namespace uc
