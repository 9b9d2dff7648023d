// Places on the paper that belong to a parameter of a family: where they are now, and how they move with the value.
// They are found by drawing the family a second time, so that families need not say them.
#pragma once

#include "pattern/sizing.h"

#include <string>
#include <vector>

namespace uc {

struct FamilyHandle {
  std::string parameter;
  Point at = Point::Zero();       // on the sheet, mm
  Point per_unit = Point::Zero(); // how far it moves with one unit of the value, mm
  double value = 0;               // the parameter's value now
  double least = 0;
  double most = 0;
  /// The value at which the handle lies nearest to a place, to first order and within the parameter's range.
  [[nodiscard]] double value_at(const Point& place) const;
};

/// One for each length, angle or number that moves a vertex without changing what there is; the vertex that moves
/// furthest, one inside the sheet before one on its edge. Counts and choices have none. `drawn` is the drawing now.
std::vector<FamilyHandle> handles_of(const SizedFamily& sized, const DrawnPattern& drawn);

} // namespace uc
