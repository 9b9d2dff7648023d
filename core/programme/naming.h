// One letter or number for one thing of a programme: sentences and drawings use the same, and no others. Marks and
// corners without a place of their own have capital letters, creases numbers, edges small letters, each in the order in
// which the moves come to speak of them.
#pragma once

#include "programme/phrase.h"
#include "programme/programme.h"

namespace uc {

/// The programme with letters and numbers given anew over the whole of it. Names that a steps file gives stay.
Programme lettered(Programme programme);
/// "A" to "Z", then "A2".
std::string capital_letter(int index);

/// A name as it stands in a sentence: between two signs that no text holds, where the style asks for it.
std::string name_in_text(const TextStyle& style, const std::string& name);
/// A sentence whose names are told apart, in parts: words, and in turn with them names.
struct TextPart {
  std::string text;
  bool name = false;
};
std::vector<TextPart> text_parts(const std::string& sentence);
/// The names in it, each once.
std::vector<std::string> names_in(const std::string& sentence);
/// The sentence as it is read.
std::string plain_text(const std::string& sentence);

} // namespace uc
