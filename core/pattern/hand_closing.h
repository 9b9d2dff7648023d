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

/// A part of the sheet that stays flat, in mm.
struct HeldFlat {
  std::string what; // hub, floor
  Polygon part;
  bool operator==(const HeldFlat&) const = default;
};

} // namespace uc
