// A pattern as it is worked on: a grid, a list of rules, perhaps an imported pattern under them, and what they draw on
// a sheet.
#pragma once

#include "pattern/rule.h"

#include <memory>

namespace uc {

/// A direction that was found for a crease, which is known by its middle in grid coordinates.
struct FoundDirection {
  Point at = Point::Zero();
  EdgeKind kind = EdgeKind::mountain;
  bool operator==(const FoundDirection& o) const { return at == o.at && kind == o.kind; }
};

struct PatternDesign {
  PatternGrid grid = PatternGrid::square;
  int count = 16;
  std::vector<std::string> rules;            // as typed
  std::shared_ptr<const CreasePattern> base; // imported; its raw edges replace the sheet's. Shared by undo steps
  std::vector<FoundDirection> directions;    // for creases that rules leave undirected; others ignore them
  bool operator==(const PatternDesign&) const = default;
  [[nodiscard]] bool empty() const { return rules.empty() && !base; }
};

struct DrawnPattern {
  HealedPattern healed;
  std::vector<int> rule_of; // per edge: the rule that drew it, from 1; 0 for the sheet and the imported pattern
  struct Wrong {
    int rule = 0; // from 1
    std::string sentence;
  };
  std::vector<Wrong> wrong; // rules that could not be read or drew nothing; the others are drawn
};

/// Everything the rules draw, cut off at the sheet, with crossings split.
DrawnPattern drawn_pattern(const PatternDesign& design, const Polygon& sheet);

/// The directions that `directed` gives to creases undirected in `drawn`, in grid coordinates.
std::vector<FoundDirection> found_directions(const PatternDesign& design, const Polygon& sheet,
                                             const CreasePattern& drawn, const CreasePattern& directed);

constexpr std::size_t most_drawn_creases = 200'000;

} // namespace uc
