// Which sheet of the shelf a piece is cut from, and what is left over of it.
#pragma once

#include "paper/stock.h"

#include <optional>
#include <vector>

namespace uc {

struct ShelfSheet {
  Stock stock;
  int pieces = 1;       // that one sheet gives, all lying the same way
  bool turned = false;  // the piece lies across
  double left_over = 0; // share of the sheet, when all these pieces are cut
};

/// The sheet that a piece of this size in mm is cut from: of the stock named `wanted` when its sheets are large enough,
/// else the smallest that is. Stocks whose sheets have no known size, and those that are used up while others are
/// counted, are not offered. None when no sheet is large enough.
std::optional<ShelfSheet> nearest_sheet(const std::vector<Stock>& shelf, double width_mm, double height_mm,
                                        const std::string& wanted);

} // namespace uc
