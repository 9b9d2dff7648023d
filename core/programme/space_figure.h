// The stages of a collapse as a programme shows them: the state to reach, drawn in space, and its words.
#pragma once

#include "programme/figure.h"
#include "programme/phrase.h"

#include <optional>
#include <string>

namespace uc {

/// The state in space a move leads to; none for moves that change none.
std::optional<int> space_state_after(const Move& move);
/// Whether a move, or what follows it, is drawn in space.
bool shows_space(const Programme& programme, int index);
/// The sheet as it is after the move, seen from above at a slant, the faces nearest to the eye drawn last; the creases
/// that the move drives are marked.
Figure space_figure(const Programme& programme, int index);

/// What hands do in a stage, in the language of record; the last stage has the sentences that are left, and stages
/// beyond the last sentence go on with it.
std::vector<std::string> hand_sentences(const SpaceStates& space, const Collapse& collapse);
std::string collapse_text(const Programme& programme, const Collapse& collapse, const TextStyle& style);
std::string collapse_check(const Programme& programme, const Collapse& collapse, const TextStyle& style);

} // namespace uc
