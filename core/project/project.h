// The project: one job from bare sheet to log, and what follows from it. Each answer is a pure function of the parts it
// names; files are read and written in io.
#pragma once

#include "collapse/closing_plan.h"
#include "crease/precrease.h"
#include "divide/division.h"
#include "paper/stock.h"
#include "paper/trueness.h"
#include "pattern/design.h"
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
  std::vector<OwnFamily> own;           // units described by hand
  bool operator==(const UnitJob&) const = default;
};

/// What the moves of a project fold, after its references.
enum class FoldedWork {
  references, // nothing else
  grid,
  creases, // of the pattern
  closed,  // the pattern's creases, then the stages that close it
  steps,   // a steps file, in place of all else
  units    // cut, folded and joined, in place of all else
};
template <>
inline constexpr auto enum_words<FoldedWork> = std::to_array<Word<FoldedWork>>({{FoldedWork::references, "references"},
                                                                                {FoldedWork::grid, "grid"},
                                                                                {FoldedWork::creases, "creases"},
                                                                                {FoldedWork::closed, "closed"},
                                                                                {FoldedWork::steps, "steps"},
                                                                                {FoldedWork::units, "units"}});

struct Project {
  std::string title;
  std::string sheet_name; // as typed, such as "a4/2"
  Sheet sheet;
  Stock stock;
  std::optional<TruenessMeasure> trueness;
  HandProfile hand;
  LengthUnit unit = LengthUnit::mm;
  FoldedWork folded = FoldedWork::grid;
  std::vector<PlannedReference> references; // folded in this order, before all else
  GridSpec grid;
  PatternDesign pattern;
  PrecreaseSpec pre_crease{CreaseSchool::usual, false}; // how the pattern's creases come onto the sheet
  ClosingPlan closing;
  UnitJob units;
  std::string steps; // a steps file; empty for none
  Programme programme;
  std::string note;
  nlohmann::json unknown = nlohmann::json::object(); // fields of other versions, kept when it is written again
};

/// The sheet that plans are made for: of the shape that was typed, as large as it was measured to be.
Sheet planned_sheet(const Project& project);

/// What is folded as things are: the grid where there is no pattern or no steps file to fold.
FoldedWork folded_work(const Project& project);
/// Whether it can be asked for: there is a pattern, a steps file, a reference.
bool can_fold(const Project& project, FoldedWork work);
/// Whether the stages' own plan is folded, not a steps file nor units.
constexpr bool folds_plan(FoldedWork work) { return work != FoldedWork::steps && work != FoldedWork::units; }
/// Whether the pattern's creases are.
constexpr bool folds_creases(FoldedWork work) { return work == FoldedWork::creases || work == FoldedWork::closed; }

/// Titles of the planned references that cannot be made on this sheet; the programme leaves them out.
std::vector<std::string> left_out_references(const Project& project);

/// How the pattern's creases come onto the sheet, by the project's own way; fails when that cannot be done, and when
/// cancelled. `drawn` is what the pattern's rules draw on the sheet as it was typed; the moves are for the planned one.
Result<Precrease> creases_of(const Project& project, const DrawnPattern& drawn, Progress* progress = nullptr);

/// Moves, and why creases, stages or units that were asked for are not among them, a sentence each.
struct PlannedMoves {
  Programme programme;
  std::vector<std::string> left_out;
};

/// All moves of the project: those of its steps file as far as it can be folded, of its units, or its references, then
/// the rest. `creases` are those of its pattern, null where they cannot be made: then nothing is folded in their place.
/// References that do not fit on the sheet are left out; what follows a cut is made on the piece. Nothing can be said
/// of what it returns when it was stopped.
PlannedMoves planned_moves(const Project& project, const Division& division, const Precrease* creases,
                           Progress* progress = nullptr);
/// The same with the pattern drawn and its creases planned here, which takes up to seconds for a large one.
PlannedMoves planned_moves(const Project& project, const Division& division);
Programme planned_programme(const Project& project, const Division& division);

/// What the project's units ask of the planner; fails where sheet or family cannot be read.
Result<UnitWish> wish_of(const UnitJob& job, const Stock& stock);

/// The division the project asks for, by its method.
Result<Division> division_of(const Project& project);

} // namespace uc
