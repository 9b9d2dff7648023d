#include "programme/element_id.h"

#include <fmt/format.h>

#include <charconv>

namespace uc {
namespace {

std::optional<std::int32_t> whole(std::string_view text) {
  std::int32_t value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || value < 0) return std::nullopt;
  return value;
}

} // namespace

std::string text_of(ElementId id) {
  return id ? fmt::format("{}.{}.{}", name_of(id.source), id.plan, id.item) : name_of(id.source);
}

std::optional<ElementId> element_id(std::string_view text) {
  if (text == "none") return ElementId{};
  const auto first = text.find('.');
  const auto second = first == text.npos ? first : text.find('.', first + 1);
  if (second == text.npos) return std::nullopt;
  const auto source = named<ElementSource>(text.substr(0, first));
  const auto plan = whole(text.substr(first + 1, second - first - 1));
  const auto item = whole(text.substr(second + 1));
  if (!source || *source == ElementSource::none || !plan || !item) return std::nullopt;
  return ElementId{*source, *plan, *item};
}

std::optional<ElementId> element_id_of_number(std::int64_t n) {
  // Lines of grids counted from 1 in thousands by family, references in hundreds of thousands by number, pre-creases
  // from fifty million on, and starts as references from the 1000th on.
  constexpr std::int64_t family = 1000;
  constexpr std::int64_t reference = 100'000;
  constexpr std::int64_t first_start = 1000;
  constexpr std::int64_t pattern = 50'000'000;
  constexpr std::int64_t pattern_lines = pattern + 100'000;
  constexpr std::int64_t pattern_marks = pattern + 1'000'000;
  constexpr std::int64_t pattern_end = pattern + 10'000'000;
  const auto id = [](ElementSource source, std::int64_t plan, std::int64_t item) {
    return ElementId{source, static_cast<std::int32_t>(plan), static_cast<std::int32_t>(item)};
  };
  if (n < 0 || n >= std::int64_t{1} << 31) return std::nullopt;
  if (n == 0) return ElementId{};
  if (n < reference) return id(ElementSource::grid, (n - 1) / family, (n - 1) % family);
  if (n >= pattern_marks && n < pattern_end) return id(ElementSource::pattern, 2, n - pattern_marks);
  if (n >= pattern_lines && n < pattern_end) return id(ElementSource::pattern, 1, n - pattern_lines);
  if (n >= pattern && n < pattern_end) return id(ElementSource::pattern, 0, n - pattern);
  const std::int64_t number = n / reference - 1;
  return number >= first_start ? id(ElementSource::start, number - first_start, n % reference)
                               : id(ElementSource::reference, number, n % reference);
}

} // namespace uc
