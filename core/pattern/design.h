// A pattern as it is worked on: a family with its values, or a grid with a list of rules and perhaps an imported
// pattern under them; and what they draw on a sheet.
#pragma once

#include "pattern/hand_closing.h"
#include "pattern/parameter.h"
#include "pattern/rule.h"

#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <tuple>
#include <utility>

namespace uc {

/// A direction that was found for a crease, which is known by its middle in grid coordinates.
struct FoundDirection {
  Point at = Point::Zero();
  EdgeKind kind = EdgeKind::mountain;
  bool operator==(const FoundDirection& o) const { return at == o.at && kind == o.kind; }
};

/// A family by its name, with the values of its parameters.
struct FamilyChoice {
  std::string name;
  ParameterValues values;
  bool operator==(const FamilyChoice&) const = default;
};

struct PatternDesign {
  std::optional<FamilyChoice> family; // draws in place of grid, rules and base, which are then not looked at
  PatternGrid grid = PatternGrid::square;
  int count = 16;
  std::vector<std::string> rules;            // as typed
  std::shared_ptr<const CreasePattern> base; // imported; its raw edges replace the sheet's. Shared by undo steps
  std::vector<double> base_full_deg;         // per edge of the base, how far it is folded in the end; empty: flat, 180
  std::vector<CreaseGoals> base_goals;       // per edge of the base, the stages that close it; empty: all together
  std::vector<FoundDirection> directions;    // for creases that rules leave undirected; others ignore them
  bool operator==(const PatternDesign&) const = default;
  [[nodiscard]] bool empty() const { return rules.empty() && !base && !family; }
};

/// What is known of the finished piece beside its folded form. Lengths in mm.
struct FamilyFigures {
  std::optional<std::array<double, 3>> inside_mm; // of boxes: width, depth, height
  std::optional<std::array<double, 2>> packed_mm; // of wraps: diameter, height
  std::optional<double> turns;                    // of wraps: while opening
  double pleat_mm = 0;                            // the narrowest; 0: a cell of the grid
  /// Closed without and with flat facets, by the half angle between axis and slant.
  struct Cone {
    double half_angle_deg = 0;
    double faceted_half_angle_deg = 0;
    double base_radius_mm = 0;
    double height_mm = 0;
  };
  std::optional<Cone> cone;
  std::vector<std::pair<std::string, double>> more; // by the name of the field
};

/// What a family draws on a sheet.
struct FamilyDrawing {
  PatternDesign design; // rules, or lines as the base
  FamilyFigures figures;
  std::vector<HeldFlat> held = {};
  /// Of what rules draw, the stages that close a crease; null: all together.
  CreaseGoals (*goals_of)(const Segment& crease) = nullptr;
  double usual_part = 1;  // how far of the way hands leave it closed
  std::string hands = {}; // by which words it is closed (see hand_words.h); empty: those of the family's name
};

/// What a crease is called for as long as the rule that draws it stays: other rules may come, go and change places.
struct EdgeId {
  std::uint64_t rule = 0; // of its text, and of how many before it read the same; 0 for sheet and imported pattern
  int crease = 0;         // of those the rule draws
  int piece = 0;          // between the vertices on it, along the crease
  bool operator==(const EdgeId&) const = default;
  bool operator<(const EdgeId& o) const { return std::tie(rule, crease, piece) < std::tie(o.rule, o.crease, o.piece); }
};

struct DrawnPattern {
  PatternDesign design;  // what was drawn: of a family, the rules or lines it made
  FamilyFigures figures; // of a family
  HealedPattern healed;
  std::vector<int> rule_of;       // per edge: the rule that drew it, from 1; 0 for the sheet and the imported pattern
  std::vector<EdgeId> ids;        // per edge, all different
  std::vector<double> full_deg;   // per edge, how far it is folded in the end; empty: 180 everywhere
  std::vector<CreaseGoals> goals; // per edge: the stages that close it; empty: all together
  std::vector<HeldFlat> held;     // of a family
  double usual_part = 1;          // how far of the way hands leave it closed
  std::vector<std::string> hands; // of a family: how hands close it (see hand_words.h)
  bool lies_flat = true;          // with all creases folded; hands may leave it open all the same
  struct Wrong {
    int rule = 0; // from 1; 0 for a family that cannot be drawn
    std::string sentence;
  };
  std::vector<Wrong> wrong; // rules that could not be read or drew nothing; the others are drawn
};

/// Everything the rules draw, cut off at the sheet, with crossings split.
DrawnPattern drawn_pattern(const PatternDesign& design, const Polygon& sheet);

/// How two drawings of a pattern differ, by the ids of their edges.
struct PatternChange {
  int added = 0;
  int gone = 0;
  int turned = 0; // of another kind than before
};
PatternChange change_between(const DrawnPattern& before, const DrawnPattern& after);

/// The directions that `directed` gives to creases undirected in `drawn`, in grid coordinates.
std::vector<FoundDirection> found_directions(const PatternDesign& design, const Polygon& sheet,
                                             const CreasePattern& drawn, const CreasePattern& directed);

constexpr std::size_t most_drawn_creases = 200'000;

} // namespace uc
