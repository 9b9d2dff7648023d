// How each style of line is drawn: the one table from which screen, strip, print, SVG and HTML take colours, widths and
// dashes. Mountain and valley differ by their dashes first, by colour second.
#pragma once

#include "programme/figure.h"

#include <string>
#include <vector>

namespace uc {

struct LineLook {
  LineStyle style;
  const char* kind;         // the class of the line in SVG, as in the table of crease kinds
  const char* colour;       // on paper, which is light in either theme
  const char* on_dark;      // on the bench of the dark theme
  double width;             // pixels of the screen at 1x
  std::vector<double> dash; // pen down and up in turn, in widths; empty: solid
};

const LineLook& look_of(LineStyle style);

/// On a printed page a pixel of these widths is a fifth of a millimetre.
constexpr double page_mm_per_pixel = 0.2;

constexpr const char* paper_ink = "#26241F";
constexpr const char* paper_slip = "#FCFAF5"; // what names stand on, and the halo round arrows
constexpr const char* paper_dot = "#E7B04A";  // a point to look at

} // namespace uc
