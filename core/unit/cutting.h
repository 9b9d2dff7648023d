// Units' pieces cut from the sheets at hand: straight cuts from edge to edge, rows first, as a blade and ruler or a
// guillotine make them.
#pragma once

#include "geometry/polygon.h"
#include "unit/joints.h"
#include "unit/piece_layout.h"

namespace uc {

struct UnitCut {
  int sheet = 0;
  UnitId unit{0};
  Point at_mm = Point::Zero(); // lower left corner on the sheet
  Point size_mm = Point::Zero();
};

struct CutList {
  std::vector<UnitCut> pieces; // by sheet
  std::vector<int> colours;    // per sheet
  Point sheet_mm = Point::Zero();
  std::vector<std::vector<Segment>> lines; // per sheet, in the order in which they are cut
  int sheets = 0;
  int cuts = 0;  // rows of one sheet are laid on one another for the cross cuts
  int bound = 0; // fewer sheets than this cannot do
};

/// Pieces of one size each on sheets of one colour. Fails where the sheet holds none.
Result<CutList> cut_from_sheets(const UnitGraph& graph, const std::vector<int>& colour, const Point& sheet_mm,
                                double margin_mm, bool may_turn);
/// Pieces of one width and several lengths one after another on strips, the longest first, each where the least is left
/// over (best fit decreasing: Johnson 1974); strips of their own where `sheet_mm` is as high as they are wide, else cut
/// from sheets first. Fails where a piece is longer than the sheet.
Result<CutList> cut_from_strips(const UnitGraph& graph, const std::vector<int>& colour, const Point& sheet_mm,
                                double margin_mm);

} // namespace uc
