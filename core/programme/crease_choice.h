// Where several creases would bring the same things together: the words that tell the one that is meant from the
// others, as the sheet lies.
#pragma once

#include "programme/element_name.h"

namespace uc {

/// What sets a crease apart from others that run the same way.
enum class Stand { alone, steepest, flattest, leftmost, rightmost, highest, lowest, unclear };

struct CreaseChoice {
  Course course = Course::level;
  Stand stand = Stand::alone;
};

/// `others` as the bare sheet has them; those without a length are not known any more.
CreaseChoice crease_choice(const Segment& meant, const std::vector<Segment>& others, const SheetState& state);
/// Whether the same words could be said of another crease.
bool could_be_meant(const CreaseChoice& said, const Segment& meant, const Segment& other, const SheetState& state);

} // namespace uc
