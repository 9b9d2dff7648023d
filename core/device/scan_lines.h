// The creases one looks for on a scanned sheet, or draws on one: the lines of a grid, or those that carry a pattern's
// creases. In the coordinates of the sheet, its box at the origin.
#pragma once

#include "divide/grid.h"
#include "form/crease_pattern.h"

#include <string>
#include <vector>

namespace uc {

struct ScanLine {
  std::string axis;       // x: upright lines, y: level ones; else their direction in degrees
  int line = 0;           // counted along its axis; of a grid, its number there
  double position_mm = 0; // from line 0, the edge, where it meets the edge it is counted along; of slanting ones, from
                          // the lower left corner of the sheet's box, square to the line
  Segment at;             // from the edge it is counted along
  std::vector<Segment> pieces; // where it is creased
};

/// Of x, y or both.
std::vector<ScanLine> scan_lines(const Point& sheet_size, int parts, GridAxis axis);
/// Lines shorter than `least_scanned_mm` are left out.
constexpr double least_scanned_mm = 12;
std::vector<ScanLine> scan_lines(const CreasePattern& pattern, const Polygon& sheet);

/// Whether positions grow to the right of an axis' direction, as of upright lines, or to its left, as of level ones.
bool counts_to_the_right(const std::string& axis);
/// Where a line lies that was found or moved, as `ScanLine::position_mm` counts; `at` in the sheet's own coordinates.
double position_of(const std::string& axis, const Segment& at);

} // namespace uc
