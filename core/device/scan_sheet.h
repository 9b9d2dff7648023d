// Where a sheet lies on its print-out, from its edges in a picture.
#pragma once

#include "device/mark_finder.h"
#include "device/straight_fit.h"

namespace uc {

/// An edge of the sheet as it is seen, in mm on the page.
struct SeenEdge {
  Point from = Point::Zero(); // where it should begin
  Point along = Point::Zero();
  Point outward = Point::Zero();
  StraightFit off; // outward, by the way along it
  [[nodiscard]] Line line() const {
    return Line::through(from + off.at(0) * outward, from + 100 * along + off.at(100) * outward);
  }
};

struct SeenSheet {
  Isometry to_page;            // from the sheet's coordinates, its box at the origin
  std::vector<SeenEdge> edges; // in the order of the outline
  double blur_mm = 0;          // standard deviation of how a sharp rim is spread
};

/// Fails, naming the edge, when one is not where a sheet of this size has it, and when the picture is too blurred.
Result<SeenSheet> seen_sheet(const GreyImage& image, const ScanFrame& frame, const SeenPage& page);

} // namespace uc
