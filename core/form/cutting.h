// Paper cut through: what lies on one side of a line is taken away, through all layers at once, and what hangs together
// with a point of the rest is kept. The order of the layers that are left is the order they had.
#pragma once

#include "form/piece_form.h"

namespace uc {

struct CutForm {
  PieceForm kept;
  std::vector<FaceId> parent; // per face: the one of the creased form
  int pieces = 1;             // on the side that is kept, this one included
};

/// `creased` has creases along the line in all its faces; `keeps` tells which of them stay by a sign of the line's
/// distance, `held` a point of the bare sheet in the piece that is kept. Fails when the point lies on what is taken
/// away, and when nothing is.
Result<CutForm> cut_through(const PieceForm& creased, const Line& line, double keeps, const Point& held);

} // namespace uc
