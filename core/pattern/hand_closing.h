// How a folder closes what a family draws: which creases in which stage and how far, and which parts of the sheet stay
// flat on the table meanwhile. A family that moves as one has no stages: all its creases close together.
#pragma once

#include "geometry/polygon.h"

#include <string>
#include <vector>

namespace uc {

/// A stage, from 1, at whose end a crease stands at this angle, as far as it goes: 0 lies flat, 180 is closed.
struct CreaseGoal {
  int stage = 1;
  double deg = 180;
  bool operator==(const CreaseGoal&) const = default;
};
constexpr int most_hand_stages = 8;

/// The goals of one crease, in the order of their stages; none where it closes with the whole.
using CreaseGoals = std::vector<CreaseGoal>;

/// How far each edge of a pattern is folded in the end and in which stages, one entry per edge; empty lists: flat, and
/// all together.
struct HandClosing {
  std::vector<double> full_deg;
  std::vector<CreaseGoals> goals;
  bool operator==(const HandClosing&) const = default;
  [[nodiscard]] bool empty() const { return full_deg.empty() && goals.empty(); }
};

/// A part of the sheet that stays flat, in mm.
struct HeldFlat {
  std::string what; // hub, floor
  Polygon part;
  bool operator==(const HeldFlat&) const = default;
};

} // namespace uc
