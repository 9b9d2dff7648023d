// The plan for a solid of units: how many, from which sheets, cut how, how large it becomes, in which colours and
// order.
#pragma once

#include "geometry/plane.h"
#include "unit/assembly.h"
#include "unit/colouring.h"

namespace uc {

struct UnitWish {
  std::string family;
  std::string solid;                 // as typed
  std::optional<UnitSheet> sheet;    // of one unit (two of half-square ones); of strips: length and width
  std::optional<double> finished_mm; // outside diameter, tips included; instead of a sheet
  int colours = 1;
  int variant = 0;       // of the colours
  double caliper_mm = 0; // of the stock; 0: not known
  double largest_mm = 0; // that the stock is sold in; 0: not known
  std::string stock;
};

struct UnitCut {
  int sheet = 0;
  int unit = 0;
  Point at_mm = Point::Zero(); // lower left corner on the sheet
  Point size_mm = Point::Zero();
};

struct UnitPlan {
  Polyhedron solid; // to size, mm
  UnitSheet sheet;
  UnitGraph graph;
  Colouring colours;
  std::vector<UnitCut> cut_list;
  int sheets = 0;
  int cuts = 0;
  double edge_mm = 0;
  double diameter_mm = 0; // outside, tips included
  std::vector<std::string> warnings;
  std::vector<AssemblyStep> assembly;
};

/// Fails with one sentence where the family cannot make the solid, the colours are too few or the paper too small; it
/// says what would work.
Result<UnitPlan> unit_plan(const UnitWish& wish, const Progress* progress = nullptr);

} // namespace uc
