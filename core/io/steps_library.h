// The sequences that ship: steps files in a folder, named by their file, and those of units, "unit-rhombic".
#pragma once

#include "fold/steps_file.h"

namespace uc {

struct LibrarySteps {
  std::string name;
  StepsFile file;
  std::string text; // it was read from
  int moves = 0;    // states they lead to, the bare sheet not counted
};

constexpr std::size_t largest_steps_file = std::size_t{1} << 20;

/// The steps files of a folder, sorted by name; fails when one cannot be read.
Result<std::vector<LibrarySteps>> steps_in(const std::string& folder);
/// Those of the library's folder and of the units.
Result<std::vector<LibrarySteps>> step_library(const std::string& folder);
/// Small letters, digits and hyphens, so that no path is meant.
bool is_library_name(const std::string& text);

} // namespace uc
