// One parameter of a family tried over its range: what becomes of the finished piece, its pleats and its layers.
#pragma once

#include "pattern/sizing.h"

#include <string>
#include <vector>

namespace uc {

struct TriedValue {
  double value = 0;
  std::optional<Point> finished_mm;
  Point sheet_mm = Point::Zero(); // the sheet it needs
  double pleat_mm = 0;            // the narrowest
  int layers = 0;                 // at the thickest place; 0 where the piece does not lie flat
  int creases = 0;
  std::string refused; // why nothing can be drawn for this value; the figures are then empty
};

/// The figures of a family as it is drawn; `value` is left at 0.
TriedValue figures_of(const SizedFamily& sized, const DrawnPattern& drawn, const Progress* progress = nullptr);

constexpr int most_tried = 33;

/// The values a parameter is tried at, ascending, `now` among them: all of them where they are few, else some from a
/// third of `now` to three times it, within the range.
std::vector<double> values_to_try(const Parameter& parameter, double now, int most = most_tried);

/// All other parameters and the sheet stay as they are. Fails for a parameter the family does not have, and when it is
/// cancelled.
Result<std::vector<TriedValue>> tried(const SizedFamily& sized, const std::string& parameter,
                                      Progress* progress = nullptr);

} // namespace uc
