#include "base/clean_text.h"

#include <fmt/format.h>

namespace uc {
namespace {

struct Character {
  char32_t code = 0;
  std::size_t length = 1;
  bool good = false;
};

bool follows(std::string_view text, std::size_t at) {
  return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0U) == 0x80U;
}

/// The character at a place of UTF-8 text; a byte that begins none counts alone (Unicode 15, table 3-7).
Character character_at(std::string_view text, std::size_t at) {
  const auto first = static_cast<unsigned char>(text[at]);
  if (first < 0x80) return {first, 1, true};
  const std::size_t length = first >= 0xF0 ? 4 : first >= 0xE0 ? 3 : 2;
  if (first < 0xC2 || first > 0xF4) return {};
  char32_t code = first & (0x7FU >> length);
  for (std::size_t i = 1; i < length; ++i) {
    if (!follows(text, at + i)) return {};
    code = code << 6 | (static_cast<unsigned char>(text[at + i]) & 0x3FU);
  }
  constexpr char32_t least[] = {0, 0, 0x80, 0x800, 0x10000};
  if (code < least[length] || code > 0x10FFFF || (code >= 0xD800 && code <= 0xDFFF)) return {};
  return {code, length, true};
}

/// Characters that act on the screen instead of standing on it.
bool acts(char32_t c) {
  return c < 0x20 || (c >= 0x7F && c <= 0x9F) || c == 0x061C || c == 0x200E || c == 0x200F || c == 0x2028 ||
         c == 0x2029 || (c >= 0x202A && c <= 0x202E) || (c >= 0x2066 && c <= 0x2069) || c == 0xFEFF;
}

} // namespace

std::string shown_text(std::string_view text, bool lines) {
  std::string out;
  out.reserve(text.size());
  for (std::size_t i = 0; i < text.size();) {
    const Character c = character_at(text, i);
    const bool space = c.code == '\n' || c.code == '\t' || c.code == '\r';
    if (c.good && space)
      out += lines ? static_cast<char>(c.code == '\r' ? ' ' : c.code) : ' ';
    else if (!c.good || acts(c.code))
      out += "\xEF\xBF\xBD";
    else
      out += text.substr(i, c.length);
    i += c.length;
  }
  return out;
}

std::string clipped(std::string_view text, std::size_t most) {
  if (text.size() <= most || most < 8) return std::string(text.substr(0, most));
  std::size_t head = (most - 3) * 2 / 3;
  std::size_t tail = text.size() - (most - 3 - head);
  while (head > 0 && follows(text, head)) --head;
  while (tail < text.size() && follows(text, tail)) ++tail;
  return fmt::format("{}...{}", text.substr(0, head), text.substr(tail));
}

std::string shown_json(std::string_view json) {
  std::string out;
  out.reserve(json.size());
  for (std::size_t i = 0; i < json.size();) {
    const Character c = character_at(json, i);
    if (c.good && c.code >= 0x7F && acts(c.code))
      out += fmt::format("\\u{:04x}", static_cast<unsigned>(c.code));
    else
      out += json.substr(i, c.length);
    i += c.length;
  }
  return out;
}

} // namespace uc
