// Sentences for the moves of a fold sequence, generated from their data.
#pragma once

#include "fold/sequence.h"
#include "programme/text.h"

namespace uc {

/// The instruction for the move that led to a state; for the first one, how the sheet is taken up.
std::string state_text(const FoldSequence& sequence, std::size_t state, const TextStyle& style = {});
/// What has to be heeded in the move that led to a state.
Caution state_caution(const FoldSequence& sequence, std::size_t state);

} // namespace uc
