// A picture of what stands in space, worked out without a graphics card: paper in its two colours, the lines on it, a
// lamp with its shadows, and a clear ground.
#pragma once

#include "io/lamp.h"
#include "io/solid_files.h"
#include "io/text_measure.h"

namespace uc {

struct StillLine {
  int from = 0;
  int to = 0;
  std::string colour; // #RRGGBB
};

/// Where from, how lit and how large.
struct StillWish {
  int pixels = 1200;     // of each side
  double size_mm = 0;    // what fills the picture, as the flat sheet's diagonal; 0: as large as the model is
  double turn_deg = -25; // about the upright axis, and then
  double tilt_deg = -50; // about the level one: 0 looks straight down
  bool from_behind = false;
  Lamp lamp;
  bool lamp_at_eye = false;     // in place of where it stands
  std::vector<StillLine> lines; // between vertices of the model
};

/// A PNG. Nearer paper hides what lies behind it, pixel by pixel. Fails where there is nothing to draw, a place of the
/// model is not a number or farther than 1000 km away, or the picture is not 16 to 4096 pixels wide.
Result<std::string> still_png(const SpatialModel& model, const StillWish& wish);

constexpr int sweep_across = 4;
constexpr int sweep_rows = 3;
/// Twelve pictures in one, the lamp once round the piece, with words over each; `pixels` is that of one.
Result<std::string> lamp_sweep_png(const SpatialModel& model, StillWish wish, const PageFonts& fonts);

} // namespace uc
