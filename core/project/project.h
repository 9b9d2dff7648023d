// The project: one job from bare sheet to log, and what follows from it. Each answer is a pure function of the parts it
// names; files are read and written in io.
#pragma once

#include "collapse/closing_plan.h"
#include "divide/division.h"
#include "paper/stock.h"
#include "paper/trueness.h"
#include "pattern/design.h"
#include "pattern/precrease.h"
#include "unit/unit_plan.h"

#include <nlohmann/json.hpp>

#include <optional>
#include <string>
#include <vector>

namespace uc {

/// A reference or polygon that is folded before the grid. Its recipe is read again for every sheet.
struct PlannedReference {
  std::string title;
  std::string target; // as typed, such as bottom:1/7; empty for polygons and cuts
  std::string recipe;
  bool cut = false;      // its results are the vertices of a piece to be cut out
  bool of_piece = false; // made on what the cuts before it leave; else, as in earlier versions, on the whole sheet
  bool operator==(const PlannedReference&) const = default;
};

/// Many units into a planned solid.
struct UnitJob {
  std::string solid = "icosahedron"; // as typed
  std::string family = "parallelogram";
  std::string sheet = "square:75mm"; // of one unit; counts when nothing finished is asked for
  double finished_mm = 0;            // outside diameter; 0: the sheet decides
  int colours = 3;
  std::optional<int> symmetry; // as UnitWish has it
  bool bands = false;
  std::string from;     // larger sheets the pieces are cut from, as typed; empty: one sheet a unit
  double margin_mm = 0; // left round them
  bool keep_grain = false;
  int evenings = 1;                     // the work is spread over
  int variant = 0;                      // which of the answers for the colours
  std::vector<UnitMap::Colour> palette; // empty: the usual one
  std::vector<int> by_hand;             // per unit a colour put by hand, or -1; empty: none
  bool folded = false;                  // cut, folded and joined in place of all else
  std::vector<OwnFamily> own;           // units described by hand
  bool operator==(const UnitJob&) const = default;
};

struct Project {
  std::string title;
  std::string sheet_name; // as typed, such as "a4/2"
  Sheet sheet;
  Stock stock;
  std::optional<TruenessMeasure> trueness;
  HandProfile hand;
  LengthUnit unit = LengthUnit::mm;
  std::vector<PlannedReference> references; // folded in this order, before the grid
  bool grid_follows = true;                 // whether the grid is folded at all
  GridSpec grid;
  PatternDesign pattern;
  std::optional<PrecreaseSpec> pre_crease; // the pattern's creases are folded in place of the grid
  ClosingPlan closing;
  UnitJob units;
  std::string steps; // a steps file that is folded in place of all these; empty for none
  Programme programme;
  std::string note;
  nlohmann::json unknown = nlohmann::json::object(); // fields of other versions, kept when it is written again
};

/// The sheet that plans are made for: of the shape that was typed, as large as it was measured to be.
Sheet planned_sheet(const Project& project);

/// What the moves of a project fold: the plan made in the stages (references, grid or pattern, collapse), a steps file,
/// or units.
enum class FoldedWork { plan, steps, units };
FoldedWork folded_work(const Project& project);
/// Folds the plan in place of steps or units, which undo brings back.
void fold_the_plan(Project& project);

/// Titles of the planned references that cannot be made on this sheet; the programme leaves them out.
std::vector<std::string> left_out_references(const Project& project);

/// The pre-crease programme the project asks for; fails when it asks for none, when it cannot be made, when cancelled.
/// `drawn` is what the pattern's rules draw on the sheet as it was typed; the moves are for the planned one.
Result<Precrease> precrease_of(const Project& project, const DrawnPattern& drawn, Progress* progress = nullptr);

/// All moves of the project: those of its steps file as far as it can be folded, else its references, then the creases
/// of its pattern or, when `creases` is null, its grid. References that do not fit on the sheet are left out; what
/// follows a cut is made on the piece. Nothing can be said of what it returns when it was stopped.
Programme planned_programme(const Project& project, const Division& division, const Precrease* creases,
                            Progress* progress = nullptr);
/// The same with the pattern drawn and its creases planned here, which takes up to seconds for a large one. A pattern
/// that cannot be pre-creased leaves the grid.
Programme planned_programme(const Project& project, const Division& division);

/// What the project's units ask of the planner; fails where sheet or family cannot be read.
Result<UnitWish> wish_of(const UnitJob& job, const Stock& stock);

/// The division the project asks for, by its method.
Result<Division> division_of(const Project& project);

} // namespace uc
