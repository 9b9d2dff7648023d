// A file of measured runs: what was divided how, how far the folding had come, and where a ruler found the lines.
#pragma once

#include "measure/measured.h"

#include <string>
#include <vector>

namespace uc {

struct MeasuredRun {
  MeasuredFamily family;
  double extent_mm = 0;
  std::vector<std::size_t> planned_steps; // of each step that was made, its place in the plan
  std::vector<double> position_mm;        // as read, one per line of the family
};

/// Reads {"format":"under-crease/measured","version":1,"runs":[{"sheet":"square:240mm","parts":8,"axis":"x",
/// "method":"best","ruler_mm":0.15,"done":5,"skipped":[2],"start":"3/8:0.4","lines":[[1,30.2],[2,59.9]]}]}; axis,
/// method, ruler, done (all), skipped and start may be left out. The plan is that of `divide` with its usual hand;
/// steps that could not be made without those that were skipped are left out too. The error names the run and the key.
Result<std::vector<MeasuredRun>> parse_measured(const std::string& text, double guess_sigma_mm);

} // namespace uc
