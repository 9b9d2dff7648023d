#include "io/page.h"

#include <sstream>

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

std::vector<std::string> wrapped(const std::string& words, double width_mm, double size_mm) {
  const auto most = static_cast<std::size_t>(width_mm / (0.52 * size_mm));
  std::vector<std::string> lines;
  std::istringstream in(words);
  std::string word;
  while (in >> word) {
    if (lines.empty() || lines.back().size() + 1 + word.size() > most)
      lines.push_back(word);
    else
      lines.back() += " " + word;
  }
  return lines;
}

const std::vector<PaperSize>& paper_sizes() {
  static const std::vector<PaperSize> sizes = {{"A4", 210, 297}, {"A3", 297, 420}, {"Letter", 215.9, 279.4}};
  return sizes;
}

} // namespace uc
