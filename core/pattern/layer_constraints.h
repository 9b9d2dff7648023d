// What must hold of the order of overlapping faces so that a flat-folded sheet does not pass through itself (Justin
// 1997; Bern and Hayes 1996). Every pair of overlapping faces has one variable; the taco-tortilla and
// tortilla-tortilla conditions are equations between two of them, taco-taco is a parity of four, and transitivity
// holds among the faces over each cell.
#pragma once

#include "pattern/folded_form.h"

#include <cstdint>
#include <unordered_map>
#include <vector>

namespace uc {

/// A literal: +v says that the first face of pair v lies above the second, -v that it lies below. Pairs count from 1.
using Literal = int;

struct LayerConstraints {
  struct Fixed {
    Literal literal;
    int edge; // the mountain or valley that says so
  };
  struct Folded {
    Literal literal; // true for a valley
    int edge;
  };

  std::vector<std::array<int, 2>> pairs;     // pairs[0] unused; first face < second face
  std::vector<Fixed> fixed;                  // by creases with a direction
  std::vector<Folded> creases;               // every folded crease
  std::vector<std::array<Literal, 2>> equal; // both true or both false
  std::vector<std::array<Literal, 4>> even;  // an even number of them true
  std::vector<std::vector<int>> stacks;      // faces over one cell; none holds another
  int faces = 0;

  /// The literal that says that `upper` lies above `lower`; 0 when they do not overlap.
  [[nodiscard]] Literal above(int upper, int lower) const {
    const auto low = static_cast<std::uint64_t>(upper < lower ? upper : lower);
    const auto high = static_cast<std::uint64_t>(upper < lower ? lower : upper);
    const auto found = pair_of_.find(low << 32 | high);
    if (found == pair_of_.end()) return 0;
    return upper < lower ? found->second : -found->second;
  }

private:
  friend LayerConstraints layer_constraints(const CreasePattern&, const PatternGraph&, const FoldedForm&,
                                            const Overlap&);
  std::unordered_map<std::uint64_t, int> pair_of_;
};

LayerConstraints layer_constraints(const CreasePattern& pattern, const PatternGraph& graph, const FoldedForm& form,
                                   const Overlap& overlap);

} // namespace uc
