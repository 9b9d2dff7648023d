// A fold sequence as the JSON of the command `steps`: every state with its faces, where they lie and what is above
// what.
#pragma once

#include "fold/sequence.h"
#include "io/json_codec.h"

namespace uc {

/// All states, or the one asked for.
Json steps_json(const FoldSequence& sequence, double sigma_mm, std::optional<int> state = std::nullopt,
                double creep_per_layer_mm = 0);

} // namespace uc
