// Finds the ring marks of a print-out in a picture, whichever way round it lies, and from them how the page is seen.
#pragma once

#include "device/grey_image.h"
#include "device/scan_frame.h"

namespace uc {

struct SeenPage {
  Homography to_image; // from mm on the page to pixels
  double marks_rms_mm = 0;
  double dpi = 0; // in the middle of the page
};

/// Below this a crease is too few pixels wide.
constexpr double least_dpi = 120;

/// Fails, saying what is missing, when the marks are not all found or the picture is too coarse.
Result<SeenPage> seen_page(const GreyImage& image, const ScanFrame& frame);

} // namespace uc
