// A printed page as data: paths and words in mm, origin top left, y down. One layout, drawn by every renderer: PDF,
// SVG and the print preview.
#pragma once

#include "geometry/plane.h"

#include <string>
#include <variant>
#include <vector>

namespace uc {

struct PagePath {
  std::vector<Point> points;
  bool closed = false;
  bool curve = false; // three points: a quadratic curve
  std::string stroke; // #RRGGBB, empty for none
  std::string fill;
  double width_mm = 0.25;
  std::vector<double> dash_mm;
  double opacity = 1;
  std::string css_class; // SVG only
};

enum class Align { left, centre, right };
struct PageText {
  Point at = Point::Zero(); // baseline
  std::string text;
  double size_mm = 3.2;
  bool bold = false;
  bool mono = false;
  Align align = Align::left;
  std::string colour = "#26241F";
  std::string css_class; // SVG only
};

struct Page {
  double width_mm = 210;
  double height_mm = 297;
  std::vector<std::variant<PagePath, PageText>> items;

  void line(const Point& a, const Point& b, const std::string& colour, double width, std::vector<double> dash = {});
  void text(const Point& at, std::string words, double size, bool bold = false, Align align = Align::left);
};

struct PaperSize {
  std::string name;
  double width_mm;
  double height_mm;
};
const std::vector<PaperSize>& paper_sizes();

} // namespace uc
