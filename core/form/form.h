// What lies on the table at one moment: every piece of paper as it is folded, which side is up and how it is turned.
#pragma once

#include "form/piece_form.h"

#include <memory>

namespace uc {

struct Form {
  std::vector<std::shared_ptr<const PieceForm>> pieces;
  bool underside_up = false;
  double turned_deg = 0; // counter-clockwise as the folder sees it, after the mirroring of a turn-over
};

} // namespace uc
