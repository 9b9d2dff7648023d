// The print-out a creased sheet is laid on before it is scanned or photographed: eight ring marks about a band of grey,
// in which the edges of the sheet come to lie. The mark at the lower left has a white middle, so a picture may lie any
// way round. Lengths in mm from the lower left corner of the page.
#pragma once

#include "device/homography.h"
#include "geometry/polygon.h"
#include "paper/sheet.h"

#include <array>

namespace uc {

constexpr double mark_ring_mm = 6;   // outer radius of a mark's ring
constexpr double mark_inner_mm = 4;  // inner radius
constexpr double mark_disc_mm = 2.2; // radius of the disc in it
constexpr double mark_hole_mm = 1;   // of the white middle of the first
constexpr double band_mm = 6;        // the sheet's edge may lie this far from where it should
constexpr double quiet_mm = 3;       // white about each mark

struct ScanFrame {
  Point page = Point::Zero(); // width and height
  std::array<Point, 8>
      marks{};   // corners counter-clockwise from the lower left, then the middles of the sides from below
  Polygon sheet; // where it should lie
};

/// For a sheet of this outline. Sheets without straight sides parallel to the page lie in their box.
ScanFrame scan_frame(const Polygon& outline);

} // namespace uc
