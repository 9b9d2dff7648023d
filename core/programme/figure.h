// The drawing of one move or of a whole programme, as data: what lies where, in which line style, as the folder sees
// the sheet. Screen, print, SVG and HTML all draw these figures.
#pragma once

#include "programme/programme.h"

namespace uc {

enum class LineStyle { raw_edge, mountain, valley, undirected, pinch, unfolded, cut, moving, target, fresh };

struct FigureLine {
  Segment segment;
  LineStyle style = LineStyle::undirected;
  int element = 0;      // its place in the list of elements, or of edges of a pattern, from 1; 0 for none
  bool swapped = false; // mountain and valley as seen from the underside
};

/// One face of paper that lies in layers.
struct FigurePatch {
  Polygon outline;
  bool coloured = true;
  std::string colour;           // #RRGGBB, in place of the stock's; empty for that
  std::vector<LineStyle> sides; // of the outline, from each corner to the next
};

/// What an arrow says of the paper: it comes over, goes behind, comes over and back again, or is opened.
enum class ArrowWay { over, behind, over_and_back, open };

/// A quadratic curve.
struct FigureArrow {
  Point from = Point::Zero();
  Point control = Point::Zero();
  Point to = Point::Zero();
  ArrowWay way = ArrowWay::over;
};

struct Figure {
  Polygon outline; // in view coordinates: mm, x right, y up
  bool underside_up = false;
  bool to_scale = true;             // else a plan of something, not a sheet: it has no sides, and nothing to measure
  std::vector<FigurePatch> patches; // of folded paper, the lowest first; then the outline is only its extent
  std::vector<FigureLine> lines;
  Polygon flap;                    // where the moved part lands, empty when nothing moves
  std::vector<FigureArrow> arrows; // empty when nothing moves
  struct Label {
    Point at = Point::Zero();
    std::string text;
    bool at_point = false; // names a point inside the sheet, not a line at its end
    bool centred = false;  // stands on its point, small
    bool name = false;     // by which the sentence calls the thing
  };
  std::vector<Label> labels; // names of the creases a move aligns and makes, at their ends
  std::vector<Point> dots;   // points to look at
  double turn_deg = 0;       // of a rotate move
  bool turns_over = false;
  Isometry view; // sheet -> view coordinates
  /// Of outline, patches and flap; of the lines when there are neither.
  [[nodiscard]] Box bounds() const;
};

/// The sheet as it lies before move `index`, with that move shown on it.
Figure move_figure(const Programme& programme, int index, const std::vector<int>& skipped = {});
/// All creases the programme makes, on the flat sheet, seen from the face or the underside.
Figure crease_figure(const Programme& programme, bool underside_up = false);

/// The same with the names of labelled creases and marks written beside them.
Figure labelled_figure(const Programme& programme, bool underside_up = false);

} // namespace uc
