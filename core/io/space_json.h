// The states of a sheet in space that a programme carries, in files.
#pragma once

#include "io/json_codec.h"
#include "io/json_reader.h"

namespace uc {

Json json_of(const SpaceStates& states);
SpaceStates space_states_from(const JsonReader& r);
Collapse collapse_from(const JsonReader& move);
/// Fails where a move reaches a state that is not there; null where there are none.
void check_space(const JsonReader& at, const Move& move, const SpaceStates* states);

} // namespace uc
