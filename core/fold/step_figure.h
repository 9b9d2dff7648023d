// Drawings of fold sequences, as data: the paper in its layers as the folder sees it, fanned by a little, with the next
// fold and an arrow for what moves.
#pragma once

#include "fold/sequence.h"
#include "programme/figure.h"

namespace uc {

/// The paper after so many moves.
Figure state_figure(const FoldSequence& sequence, std::size_t state);
/// The move that leads to this state, drawn on the paper before it; turning over and turning as the paper lies then.
Figure step_figure(const FoldSequence& sequence, std::size_t state);

} // namespace uc
