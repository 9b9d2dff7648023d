// The plan for a solid of units: how many, from which sheets, cut how, how large it becomes, in which colours and
// order.
#pragma once

#include "geometry/plane.h"
#include "solid/equal_edges.h"
#include "unit/assembly.h"
#include "unit/colouring.h"
#include "unit/cutting.h"
#include "unit/own_family.h"
#include "unit/ridges.h"

namespace uc {

struct UnitWish {
  std::string family;
  std::vector<OwnFamily> own;        // families beside those that ship
  std::string solid;                 // as typed
  std::optional<UnitSheet> sheet;    // of one unit (two of half-square ones); of strips: length and width
  std::optional<double> finished_mm; // outside diameter, tips included; instead of a sheet
  std::optional<UnitSheet> from;     // larger sheets that the pieces are cut from
  double margin_mm = 0;              // left round them
  bool keep_grain = false;           // all pieces lie one way
  int colours = 1;
  int variant = 0;             // of the colours
  std::optional<int> symmetry; // a rotation of this order takes colours to colours; 0: all of the solid's do
  bool bands = false;          // edges that follow each other straight on have one colour
  std::vector<int> by_hand;    // per unit a colour that stands in place of the one found, or -1
  double caliper_mm = 0;       // of the stock; 0: not known
  double largest_mm = 0;       // that the stock is sold in; 0: not known
  std::string stock;
};

/// Joints that must give more than this are refused: a rule of the house, not measured.
constexpr double most_bend_deg = 20;

struct UnitPlan {
  Polyhedron solid; // to size, mm
  UnitSheet sheet;
  UnitGraph graph;
  Colouring colours;
  CutList cutting;
  double edge_mm = 0;
  double worst_miss_deg = 0;                // what the family misses at a corner
  double diameter_mm = 0;                   // outside, tips included
  std::vector<std::array<UnitId, 2>> alike; // joints whose units have one colour, put so by hand
  std::shared_ptr<const UnitFamily> family;
  Hold hold = Hold::glue; // as tried on the folded unit
  std::vector<Ridge> ridges;
  std::optional<FaceBend> bend; // of equal(...): how far joints must give, compared with a flat unit
  std::vector<std::string> warnings;
  std::vector<AssemblyStep> assembly;
};

/// The sheet of one unit of a family, as typed: "75mm" is a square or, where the family takes another ratio, as wide.
/// Fails where it has no right corners or the family is folded from a square.
Result<UnitSheet> unit_sheet(const UnitFamily& family, const std::string& text);
/// The same by the family's name; fails where there is none.
Result<UnitSheet> unit_sheet(const std::string& family, const std::string& text,
                             const std::vector<OwnFamily>& own = {});

/// Fails with one sentence where the family cannot make the solid, the colours are too few or the paper too small; it
/// says what would work.
Result<UnitPlan> unit_plan(const UnitWish& wish, const Progress* progress = nullptr);

} // namespace uc
