// What must hold of the order of overlapping faces so that a flat-folded sheet does not pass through itself (Justin
// 1997; Bern and Hayes 1996). Every pair of overlapping faces has one variable; the taco-tortilla and
// tortilla-tortilla conditions are equations between two of them, taco-taco is a parity of four, and transitivity
// holds among the faces over each cell.
#pragma once

#include "base/parallel.h"
#include "form/folded_form.h"
#include "form/pair_index.h"

#include <vector>

namespace uc {

struct LayerConstraints {
  struct Fixed {
    Literal literal;
    CreaseId edge; // the mountain or valley that says so
  };
  struct Folded {
    Literal literal; // true for a valley
    CreaseId edge;
  };

  PairIndex pairs;                           // pairs[0] unused; first face < second face
  std::vector<Fixed> fixed;                  // by creases with a direction
  std::vector<Folded> creases;               // every folded crease
  std::vector<std::array<Literal, 2>> equal; // both true or both false
  std::vector<std::array<Literal, 4>> even;  // an even number of them true
  std::vector<std::vector<FaceId>> stacks;   // faces over one cell; none holds another
  int faces = 0;

  /// The literal that says that `upper` lies above `lower`; 0 when they do not overlap.
  [[nodiscard]] Literal above(FaceId upper, FaceId lower) const { return pairs.above(upper, lower); }
};

/// Distinct stacks of faces over the cells, without those that another holds.
std::vector<std::vector<FaceId>> largest_stacks(const Overlap& overlap);

/// What the proof of a folded form of so many faces takes in memory, in bytes, told from the cells alone; an estimate
/// on the safe side.
std::size_t memory_needed(const Overlap& overlap, int faces);

/// Returns early, with what was found so far, when `progress` is stopped.
LayerConstraints layer_constraints(const CreasePattern& pattern, const PatternGraph& graph, const FoldedForm& form,
                                   const Overlap& overlap, const Progress* progress = nullptr);

} // namespace uc
