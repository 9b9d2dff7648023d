// The grammar of steps files as people learn it, and a steps file written as the house writes it.
#pragma once

#include "fold/steps_file.h"

#include <string>
#include <string_view>
#include <vector>

namespace uc {

/// One form of a line: as it is typed, and what it does.
struct GrammarLine {
  StepVerb verb;
  const char* typed;
  const char* does;
};
const std::vector<GrammarLine>& step_grammar();

/// The text with one space between words, a comma after the word before it, remarks two spaces after what they stand
/// beside, and no spaces at the ends of lines. It reads as the same moves, and written again it stays as it is.
std::string formatted_steps(std::string_view text);

/// The text with these values in its `let` lines, in place of what stood there; remarks stay.
std::string with_values(std::string_view text, const StepValues& values);

} // namespace uc
