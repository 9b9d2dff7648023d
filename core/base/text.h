// Small things done to text as it is typed.
#pragma once

#include <string>
#include <string_view>

namespace uc {

/// Without the spaces, tabs and line breaks around it.
constexpr std::string_view trimmed(std::string_view text) {
  constexpr std::string_view blanks = " \t\r\n";
  const auto from = text.find_first_not_of(blanks);
  return from == text.npos ? std::string_view{} : text.substr(from, text.find_last_not_of(blanks) - from + 1);
}

/// With the letters A to Z made small; others stay as they are.
inline std::string lower_case(std::string_view text) {
  std::string out(text);
  for (char& c : out) {
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  }
  return out;
}

} // namespace uc
