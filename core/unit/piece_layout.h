// Where pieces of one size lie on a sheet so that most fit and straight cuts from edge to edge part them.
#pragma once

#include "geometry/polygon.h"

#include <vector>

namespace uc {

struct PieceLayout {
  std::vector<Point> at_mm;   // lower left corners
  std::vector<char> turned;   // by a quarter turn
  std::vector<Segment> lines; // in the order in which they are cut
};

/// Rows of pieces, and above or beside those rows of turned ones where the grain may run across; where that holds fewer
/// than some nest of cuts from edge to edge does, the best such nest (Gilmore and Gomory 1965, at sums of widths and
/// heights alone: Herz 1972). Among layouts that hold as many one with fewest cuts. A margin is left all round.
PieceLayout best_layout(const Point& piece_mm, const Point& sheet_mm, double margin_mm, bool may_turn);

/// No layout holds more: the area of the sheet, first made as small as sums of widths and heights can fill it, over
/// that of a piece.
int most_on_sheet(const Point& piece_mm, const Point& sheet_mm, double margin_mm, bool may_turn);

} // namespace uc
