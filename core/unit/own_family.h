// A family of units a folder describes: what it stands for, what it takes and how long its edges come out. Planned,
// cut, coloured and joined like those that ship.
#pragma once

#include "base/result.h"
#include "unit/unit_family.h"

#include <memory>
#include <string>
#include <vector>

namespace uc {

struct OwnFamily {
  std::string name;  // as typed
  std::string title; // as shown
  StandsFor stands_for = StandsFor::edge;
  double ratio = 1;              // height over width of a unit's piece
  double edge_share = 0.5;       // edge of the solid over the width of the piece
  std::vector<int> faces;        // numbers of sides it takes, ascending; none: all
  std::vector<int> valences;     // numbers of edges at a corner it takes, ascending; none: all
  double least_dihedral_deg = 0; // between faces; outside it misses by what lacks
  double most_dihedral_deg = 180;
  bool handed = false;
  bool glued = false;
  int folds = 8;
  int joint_layers = 4;
  double thickest_mm = 0.2;
  double least_edge_mm = 10;
  std::vector<std::string> how; // a unit in steps
  bool operator==(const OwnFamily&) const = default;
};

constexpr std::size_t most_own_families = 40;

/// Fails for figures that make no unit, with one sentence that says what is allowed.
Result<OwnFamily> checked(OwnFamily family);

/// As the planner takes it.
UnitFamily as_unit_family(const OwnFamily& family);

/// By its name: one of `own` first, then those that ship; null when there is none.
std::shared_ptr<const UnitFamily> unit_family(std::string_view name, const std::vector<OwnFamily>& own);

/// All there are: those that ship, then one's own.
std::vector<std::shared_ptr<const UnitFamily>> all_unit_families(const std::vector<OwnFamily>& own);

} // namespace uc
