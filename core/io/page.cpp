#include "io/page.h"

namespace uc {

void Page::line(const Point& a, const Point& b, const std::string& colour, double width, std::vector<double> dash) {
  PagePath path;
  path.points = {a, b};
  path.stroke = colour;
  path.width_mm = width;
  path.dash_mm = std::move(dash);
  items.emplace_back(std::move(path));
}

void Page::text(const Point& at, std::string words, double size, bool bold, Align align) {
  PageText t;
  t.at = at;
  t.text = std::move(words);
  t.size_mm = size;
  t.bold = bold;
  t.align = align;
  items.emplace_back(std::move(t));
}

const std::vector<PaperSize>& paper_sizes() {
  static const std::vector<PaperSize> sizes = {{"A4", 210, 297}, {"A3", 297, 420}, {"Letter", 215.9, 279.4}};
  return sizes;
}

} // namespace uc
