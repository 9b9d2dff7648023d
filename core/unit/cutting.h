// Units' pieces cut from the sheets at hand: straight cuts from edge to edge, rows first, as a blade and ruler or a
// guillotine make them.
#pragma once

#include "geometry/polygon.h"
#include "unit/joints.h"

namespace uc {

struct UnitCut {
  int sheet = 0;
  int unit = 0;
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
  int bound = 0; // fewer sheets than this have not enough area
};

/// Where pieces of one size lie on a sheet: rows of them, and above or beside those rows of them turned by a quarter
/// turn where the grain may run across, so that most fit; among those the layout with fewest cuts. A margin is left
/// all round.
struct PieceLayout {
  std::vector<Point> at_mm; // lower left corners
  std::vector<char> turned;
  std::vector<Segment> lines;
};
PieceLayout best_layout(const Point& piece_mm, const Point& sheet_mm, double margin_mm, bool may_turn);

/// Pieces of one size each on sheets of one colour. Fails where the sheet holds none.
Result<CutList> cut_from_sheets(const UnitGraph& graph, const std::vector<int>& colour, const Point& sheet_mm,
                                double margin_mm, bool may_turn);
/// Pieces of one width and several lengths one after another on strips, the longest first, each where the least is left
/// over (best fit decreasing: Johnson 1974); strips of their own where `sheet_mm` is as high as they are wide, else cut
/// from sheets first. Fails where a piece is longer than the sheet.
Result<CutList> cut_from_strips(const UnitGraph& graph, const std::vector<int>& colour, const Point& sheet_mm,
                                double margin_mm);

} // namespace uc
