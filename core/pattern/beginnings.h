// Patterns to begin with, as rules: what the Pattern stage offers and the command line writes.
#pragma once

#include "pattern/design.h"

namespace uc {

struct Beginning {
  std::string name;  // as typed: chevron
  std::string title; // as shown
  int count = 16;    // cells across that suit it
  int least = 2;
  int greatest = 96;
};
const std::vector<Beginning>& beginnings();

/// The design of a beginning on a grid of `count` cells; fails for unknown names and counts out of range.
Result<PatternDesign> beginning(const std::string& name, int count);

} // namespace uc
