// What is left of the sheet when a polygon or another proportion has been cut from it: all that follows is planned for
// the piece, in the piece's own coordinates, and told on the whole sheet.
#pragma once

#include "project/project.h"

namespace uc {

struct Piece {
  Sheet sheet;
  Isometry place;    // from its own coordinates to those of the whole sheet
  bool whole = true; // nothing is cut
};

/// The piece after the first `references` of the project, all of them by default. A cut that leaves something other
/// than a rectangle along the sheet's lower left corner or a regular polygon is not followed: then the sheet stays
/// whole.
Piece piece_of(const Project& project, std::size_t references = static_cast<std::size_t>(-1));

/// The sheet that grids, references and pre-creases are planned for: what the cuts leave of the planned sheet.
Sheet worked_sheet(const Project& project);
/// The same as large as it was typed: the sheet that patterns are drawn on.
Sheet drawn_sheet(const Project& project);

/// The programme of a piece, told on the whole sheet.
Programme placed(Programme programme, const Isometry& place);

} // namespace uc
