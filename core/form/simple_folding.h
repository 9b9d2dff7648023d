// Whether a pattern comes flat by simple folds: line by line, each through all the layers that lie there. A grid, a
// strip, pleats that are folded to and fro and what is creased through them do. Then the order of the layers is known
// without any search, and that it can be had is proved by how it was made: no fold moves paper through paper (Arkin,
// Bender, Demaine, Demaine, Mitchell, Sethia and Skiena 2004, "When can you fold a map?").
#pragma once

#include "form/folded_form.h"

#include <optional>
#include <vector>

namespace uc {

struct SimpleFolding {
  std::vector<int> height; // per face: its place in one order of all faces, lowest first, seen from the coloured side
                           // of face 0; where faces overlap it is the order of the layers
  int folds = 0;
};

/// The folds are looked for greedily, of the lines beside the last fold and then of all others the longest first, and
/// such that no crease comes to lie on paper without one, or with one that wants the opposite sense; nullopt means only
/// that none were found. Time grows with lines times folds times faces, which is bounded: a pattern with very many of
/// all three is given up. Directions are kept, undirected creases take any.
std::optional<SimpleFolding> simple_folding(const CreasePattern& pattern, const PatternGraph& graph,
                                            const FoldedForm& form, const Progress* progress = nullptr);

} // namespace uc
