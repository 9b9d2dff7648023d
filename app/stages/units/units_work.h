// The plan of a project's units, worked out off the interface thread, with what the stage draws of it; and how each
// family would do for the same solid.
#pragma once

#include "project/project.h"
#include "unit/gape.h"
#include "unit/learning.h"
#include "unit/unit_programme.h"
#include "unit/unit_shape.h"

#include <memory>
#include <string>

namespace uc::app {

/// What the plan depends on.
struct UnitsKey {
  UnitJob job; // whether it is folded, and its palette, do not count
  double caliper_mm = 0;
  double largest_mm = 0;
  std::string stock;
  HandProfile hand;
  bool operator==(const UnitsKey&) const = default;
};
UnitsKey units_key(const Project& project);

/// One family for the solid, at the same outside diameter.
struct FamilyWay {
  std::shared_ptr<const UnitFamily> family;
  double paper_cm2 = 0;
  Gape gape;
};

struct UnitsAnswer {
  UnitsKey key;
  std::shared_ptr<const UnitPlan> plan; // null when there is none
  std::shared_ptr<const UnitShape> shape;
  std::shared_ptr<const Programme> moves; // in the usual papers
  std::vector<FamilyWay> ways;
  std::vector<std::pair<std::string, std::string>> refused; // family and why
  int fewest_colours = 0;                                   // 0: not known
  std::string error;
};

UnitsAnswer units_for(const Project& project, Progress& progress);

} // namespace uc::app
