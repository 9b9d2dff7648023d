// From a figure to a page: the one way in which drawings of moves become paths and words, whatever shows them.
#pragma once

#include "io/page.h"
#include "programme/figure.h"

#include <functional>

namespace uc {

/// One line in its style; mm of the page.
void draw_line(Page& page, const Segment& on_page, LineStyle style);

struct PaperColours {
  std::string face = "#F6DDB4"; // paler than on the screen: it is printed
  std::string underside = "#FCFAF5";
};

/// Where a figure comes to lie on the page, and how large a pixel of its line widths is there, in the page's unit.
struct FigurePlacing {
  std::function<Point(const Point&)> place;
  double pixel = 0.2;
  double reach = 10; // of the arrows that turn the whole sheet, in the page's unit
  PaperColours paper;
};

/// Small drawings leave out names and points, and old creases where there are many.
enum class FigureDetail { full, small };

/// The sheet, or paper in layers, the lowest first.
void draw_paper(Page& page, const Figure& figure, const FigurePlacing& placing);
void draw_creases(Page& page, const Figure& figure, const FigurePlacing& placing, FigureDetail detail);
/// Where the paper that moves lands.
void draw_flap(Page& page, const Figure& figure, const FigurePlacing& placing);
/// The points to look at and the arrows: one form for folding over, behind, over and back, and
/// opening; another for turning over and rotating.
void draw_move(Page& page, const Figure& figure, const FigurePlacing& placing);

struct FigureRoom {
  Point at = Point::Zero(); // top left corner on the page
  Point size = Point::Zero();
};
/// All of a figure as large as the room allows.
void draw_figure(Page& page, const Figure& figure, const FigureRoom& room, FigureDetail detail = FigureDetail::full,
                 const PaperColours& paper = {}, double pixel = 0.2);

/// A pinch as it is drawn: about its middle, and long enough to be seen.
Segment seen_pinch(const Segment& pinch, double least);

} // namespace uc
