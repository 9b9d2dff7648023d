// The words an enum is written with in files, reports and on the command line. Each enum has one table, beside it, from
// which it is written and strictly read: a word that is not in the table is an error of whoever reads it.
#pragma once

#include <array>
#include <optional>
#include <stdexcept>
#include <string>
#include <string_view>
#include <type_traits>

namespace uc {

template <class E> struct Word {
  E value;
  const char* text;
};

/// The table of an enum, in the order its words are listed to people; specialised beside the enum.
template <class E> inline constexpr std::array<Word<E>, 0> enum_words{};

template <class E>
concept Worded = std::is_enum_v<E> && !enum_words<E>.empty();

template <Worded E> std::string name_of(E value) {
  for (const Word<E>& word : enum_words<E>) {
    if (word.value == value) return word.text;
  }
  throw std::logic_error("an enumerator without a word");
}

template <Worded E> std::optional<E> named(std::string_view text) {
  for (const Word<E>& word : enum_words<E>) {
    if (word.text == text) return word.value;
  }
  return std::nullopt;
}

/// "raw, mountain or valley": what may be typed.
template <Worded E> std::string listed_words() {
  std::string list;
  for (std::size_t i = 0; i < enum_words<E>.size(); ++i)
    list += (i == 0 ? "" : i + 1 == enum_words<E>.size() ? " or " : ", ") + std::string(enum_words<E>[i].text);
  return list;
}

} // namespace uc
