// How hands close what a family draws: what to hold, what turns which way, what goes over or under what. Sentences in
// the language of record, to be translated where they are said.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace uc {

/// In the order in which it is done: one for each of the family's stages where it has as many, else all of it together.
/// None for families that close nothing.
const std::vector<std::string>& hand_words(std::string_view family);
/// Whether a sentence of these has the folder glue something, which takes a caution.
bool speaks_of_glue(std::string_view sentence);

} // namespace uc
