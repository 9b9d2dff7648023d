// Fields of other versions of the program: told from what was looked at while a document was read, kept beside what was
// read, and put back where it is written again. What is known is always written whole.
#pragma once

#include "io/json_reader.h"

namespace uc {

/// Where the rest of what is known in part stands.
constexpr const char* inside_key = "";

/// What nobody has asked for: its keys with their values and, under the empty key, what is unknown inside those that
/// were asked for. Null when that is nothing. Items of a list that have a name keep it.
nlohmann::json unseen(const nlohmann::json& document, const SeenKeys& seen);

/// Adds what `unseen` told to a document that was made anew. Nothing that stands there changes, and what has no place
/// any more, since what it was inside of is gone, is left out. Items of lists are found by their name or, in lists as
/// long as before, by their place.
void put_back(nlohmann::json& document, const nlohmann::json& unknown);

} // namespace uc
