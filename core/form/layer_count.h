// How many ways a pattern folds flat: the layer orders counted, not listed. Independent parts multiply; within a part
// the count is by cases, with parts met before remembered (Bayardo and Pehoushek 2000, Sang and others 2004).
#pragma once

#include "form/layer_proof.h"

namespace uc {

/// The number of layer orders with face 0 held, over all directions of undirected creases, as a decimal number.
/// Fails when time runs out or the stacks are too high to be written out (more than `most_counted_triples`).
Result<std::string> counted_states(const LayerConstraints& constraints, const LayerOptions& options = {});

constexpr std::size_t most_counted_triples = 20'000'000;

} // namespace uc
