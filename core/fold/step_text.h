// Sentences for the moves of a fold sequence, generated from their data.
#pragma once

#include "fold/sequence.h"
#include "programme/text.h"

namespace uc {

/// "the bottom left corner", "the top edge", "crease c2", "p1"
std::string thing_name(const FoldSequence& sequence, const std::string& name, const TextStyle& style = {});
/// The instruction for the move that led to a state; for the first one, how the sheet is taken up.
std::string state_text(const FoldSequence& sequence, std::size_t state, const TextStyle& style = {});

} // namespace uc
