// The exercises that ship: short steps files for scrap paper, each with what is measured once it is done. A remark
// "# measure: WHAT = LENGTH" names a measure and its length, in the parameters of the file.
#pragma once

#include "io/steps_library.h"

namespace uc {

struct ExerciseMeasure {
  std::string what;
  double planned_mm = 0;
};

struct Exercise {
  LibrarySteps steps;
  std::vector<ExerciseMeasure> measures;
};

/// Sorted by name; fails when one cannot be read or has nothing to measure.
Result<std::vector<Exercise>> exercises(const std::string& folder);

} // namespace uc
