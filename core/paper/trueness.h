// How true a sheet is: four sides and two diagonals, measured, give the quadrilateral it really is.
#pragma once

#include "base/result.h"
#include "geometry/polygon.h"
#include "paper/sheet.h"

#include <array>
#include <optional>

namespace uc {

/// Measured lengths in mm; the diagonals run bottom left to top right and bottom right to top left.
struct TruenessMeasure {
  double bottom = 0, right = 0, top = 0, left = 0;
  double rising = 0, falling = 0;
  bool operator==(const TruenessMeasure&) const = default;
};

struct Trueness {
  Polygon corners;                    // bl, br, tr, tl; bl at the origin, the bottom edge along x
  std::array<double, 4> corner_deg{}; // interior angles in the same order
  double out_of_square_deg = 0;       // largest deviation of a corner from 90°
  double residual_mm = 0;             // rms of measured minus fitted lengths
  std::array<double, 6> misfit_mm{};  // per figure, in the order of TruenessMeasure
};

/// Best-fit quadrilateral by least squares over the six lengths (five unknowns, Gauss-Newton). Fails when a figure is
/// absurd, the triangle inequality is broken, or the six figures contradict each other by more than 2 % of a side.
Result<Trueness> fit_trueness(const TruenessMeasure& measure);

/// How much larger the measured sheet is than it is called: the ratio of the perimeters. 1 when it was not measured or
/// its figures make no sheet or quite another one, and for sheets without right corners.
constexpr double most_scale = 1.1;
double true_scale(const Sheet& sheet, const std::optional<TruenessMeasure>& measure);

struct LineEffect {
  double at_low_mm = 0;  // offset from the ideal line at its lower or left end, along the division
  double at_high_mm = 0; // and at its upper or right end
};
/// What the true shape does to each of the lines 0..parts of a division along x (or y): the line through k/parts of the
/// two real edges against the ideal line of the nominal width x height sheet, laid over it by the best rigid fit.
std::vector<LineEffect> effect_on_lines(const Trueness& trueness, double width, double height, int parts, bool along_x);

} // namespace uc
