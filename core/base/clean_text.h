// Text from files and names as it may be shown: control characters could move the cursor of a terminal, recolour it or
// turn the reading direction round. They are kept where they are kept, and made visible where they are shown.
#pragma once

#include <string>
#include <string_view>

namespace uc {

/// The text with control characters, characters that turn the reading direction, and bytes that are not UTF-8 replaced
/// by U+FFFD. Line breaks and tabs become spaces unless `lines` keeps them.
std::string shown_text(std::string_view text, bool lines = false);

/// At most `most` bytes, cut between characters in the middle, with "..." where something went.
std::string clipped(std::string_view text, std::size_t most);

/// JSON text in which control characters that JSON lets pass (U+007F to U+009F, and those that turn the reading
/// direction) are written as \u escapes. The document means the same.
std::string shown_json(std::string_view json);

} // namespace uc
