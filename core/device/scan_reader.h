// Measures the creases of a sheet in a picture of it on its print-out. The marks tell how the page is seen, the edges
// of the sheet where it lies; each crease is then met in many short stretches, and a straight line through those tells
// its place and, by their scatter, how sure it is.
#pragma once

#include "base/parallel.h"
#include "device/grey_image.h"
#include "device/scan_frame.h"
#include "device/scan_lines.h"

namespace uc {

struct ReadLine {
  ScanLine line;          // as it was looked for
  double position_mm = 0; // as ScanLine counts, from the edge that is there
  double sigma_mm = 0;    // of it
  bool doubtful = false;  // to be measured by hand
};

struct ScanReading {
  std::vector<ReadLine> lines;
  std::vector<ScanLine> missing;  // nothing was seen where they should be
  Point sheet_mm = Point::Zero(); // the box of the sheet as it was found
  double marks_rms_mm = 0;
  double dpi = 0;
};

/// Fails, saying what to do, when there are no marks, no sheet of this size on them, or the picture is too blurred.
Result<ScanReading> read_scan(const GreyImage& image, const Polygon& sheet, const std::vector<ScanLine>& lines,
                              Progress* progress = nullptr);

} // namespace uc
