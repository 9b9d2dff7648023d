// How exactly and how fast one folder works; every plan, estimate and tolerance is computed from it.
#pragma once

#include "base/result.h"

namespace uc {

struct HandProfile {
  double sigma_mm = 0.25;    // s: standard error of one crease at each end of what was aligned
  double sigma_se_mm = 0;    // its own standard error; 0 while assumed rather than measured
  double guess_sigma_mm = 2; // standard error of a mark placed by eye
  double creep = 0.5;        // c of (k-1)·t·c when folding through k layers
  int measured_runs = 0;     // runs behind sigma_mm
  double fold_seconds = 25;  // one full crease: align, crease, unfold
  double pinch_seconds = 10; // a pinch or a mark by eye
  double turn_seconds = 4;   // turn the sheet over
  double rotate_seconds = 3; // rotate it
  bool either_side = false;  // brings paper over from the left and from the right alike, so needs no half turns
  bool operator==(const HandProfile&) const = default;
};

constexpr double least_sigma_mm = 0.001;
constexpr double greatest_sigma_mm = 100;

/// How far a crease through `layers` layers of paper of this caliper lies toward the outside, in mm: (k-1)·t·c.
double creep_mm(const HandProfile& hand, int layers, double caliper_mm);

Result<HandProfile> checked(const HandProfile& hand);

} // namespace uc
