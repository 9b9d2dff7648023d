// Units on their flat map: the drawing and the words of moves that fold and join them.
#pragma once

#include "programme/figure.h"
#include "programme/phrase.h"

#include <string>

namespace uc {

/// Whether a move, or the end of the programme, is drawn on the flat map of its units.
bool shows_units(const Programme& programme, int index);
/// The map before a move: units folded, or in the second half joined, in their colours, the move's own with a thick
/// rim, those it meets marked, the others pale. What was skipped counts as done.
Figure unit_figure(const Programme& programme, int index, const std::vector<int>& skipped = {});

/// "a" of the first colour: what stands beside the numbers of the map of all units.
std::string colour_letter(int colour);

std::string fold_unit_text(const Programme& programme, const FoldUnit& fold, const TextStyle& style);
std::string fold_unit_check(const Programme& programme, const FoldUnit& fold, const TextStyle& style);
std::string join_text(const Programme& programme, const Join& join, const TextStyle& style);
std::string join_check(const Programme& programme, const Join& join, const TextStyle& style);

} // namespace uc
