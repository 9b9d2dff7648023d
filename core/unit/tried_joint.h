// A joint tried on the folded unit: whether the tab of the next unit can be pushed in where the plan puts it, how far
// it goes under, and so what holds it. Nothing is claimed of a unit; all of it follows from its own steps.
#pragma once

#include "fold/sequence.h"
#include "unit/unit_family.h"

#include <vector>

namespace uc {

struct TriedJoint {
  double tab_mm2 = 0;
  double held_mm2 = 0;             // of the tab that has paper above and below
  double depth_mm = 0;             // how far it goes in behind the mouth
  std::vector<Segment> mouth = {}; // where it goes in, on the folded unit
  Polygon lies_on = {};            // what the tab comes to lie on, there
  Polygon own_tab = {};            // the unit's own tab, there
  /// A rule of the house: a quarter of the tab between paper is enough to hold by friction.
  [[nodiscard]] bool holds() const { return tab_mm2 > 0 && held_mm2 >= 0.25 * tab_mm2; }
};

/// Tries the joint at the state after all steps. Among all ways for a flat tab to lie between the layers, not passing
/// through any paper, the one with the most of it held. Fails where a name is not on the paper, where facet and tab are
/// not alike, and where the unit has no paper at the place of the tab.
Result<TriedJoint> tried_joint(const FoldSequence& unit, const JointPlaces& places);

/// The joints of a family, each tried on a unit folded from such a piece; fails where its steps do. None for families
/// that say of no joint where its tab goes.
Result<std::vector<TriedJoint>> tried_joints(const UnitFamily& family, const Point& piece_mm);

/// What holds the units of a family: a pocket only where every joint that was tried holds.
Hold hold_of(const UnitFamily& family);

} // namespace uc
