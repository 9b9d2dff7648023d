// Pictures of creased sheets as a scanner or camera would see them, with the truth beside: the stand-in for both. Paper
// has a texture, a crease is a dark nick in a flat roof that catches the light on one side, the light falls off, the
// pixels are noisy, the page lies askew.
#pragma once

#include "base/parallel.h"
#include "device/grey_image.h"
#include "device/scan_frame.h"
#include "device/scan_lines.h"

#include <cstdint>

namespace uc {

struct ScanMaking {
  double dpi = 300;
  double skew_deg = 0;
  double perspective_pct = 0; // how much shorter the upper side of the page is than the lower
  double noise_pct = 1;       // of white, standard deviation of a pixel
  double light_pct = 0;       // how much darker the darkest corner is
  double texture_pct = 1;
  double blur_mm = 0.05;
  double paper = 0.86; // brightness of the sheet; the page is 0.97
  std::uint64_t seed = 1;
};
Status check(const ScanMaking& making);

/// The lines of a grid as a hand of this s folds them by the best plan; both ends of each crease err apart.
std::vector<ScanLine> folded_grid(std::vector<ScanLine> lines, int parts, double sigma_mm, std::uint64_t seed);
/// Lines as they came out, straight from end to end: each end off by an error of its own, N(0, sigma²).
std::vector<ScanLine> with_errors(std::vector<ScanLine> lines, double sigma_mm, std::uint64_t seed);

/// The picture of a sheet with these creases, laid on its print-out a little off and askew. Fails when it would be too
/// large, or when stopped.
Result<GreyImage> made_scan(const Polygon& sheet, const std::vector<ScanLine>& creases, const ScanMaking& making,
                            Progress* progress = nullptr);

} // namespace uc
