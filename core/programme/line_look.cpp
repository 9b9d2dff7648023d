#include "programme/line_look.h"

#include <array>
#include <stdexcept>

namespace uc {

const LineLook& look_of(LineStyle style) {
  static const std::array<LineLook, 10> table = {{
      {LineStyle::raw_edge, "raw", paper_ink, "#ECE8DF", 2, {}},
      {LineStyle::mountain, "mountain", "#7B3F91", "#C79BDB", 1.3, {9, 2.5, 1.2, 2.5, 1.2, 2.5}},
      {LineStyle::valley, "valley", "#14735F", "#5FC7AE", 1.3, {5, 3}},
      {LineStyle::undirected, "undirected", "#7D786C", "#A19C90", 1, {}},
      {LineStyle::pinch, "unfolded", "#A86B00", "#E7B04A", 2.4, {}},
      {LineStyle::unfolded, "unfolded", "#CFC8B8", "#44474E", 0.6, {}},
      {LineStyle::cut, "cut", paper_ink, "#ECE8DF", 1.4, {6, 4}},
      {LineStyle::moving, "undirected", "#A86B00", "#E7B04A", 4, {}},
      {LineStyle::target, "undirected", paper_ink, "#ECE8DF", 3, {}},
      {LineStyle::fresh, "undirected", "#14735F", "#5FC7AE", 3, {4, 2}},
  }};
  for (const LineLook& look : table) {
    if (look.style == style) return look;
  }
  throw std::logic_error("a line style without a look");
}

} // namespace uc
