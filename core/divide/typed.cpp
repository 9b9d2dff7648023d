#include "divide/typed.h"

#include "base/expression.h"
#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

namespace uc {
namespace {

std::vector<std::string_view> split(std::string_view text, char at) {
  std::vector<std::string_view> parts;
  while (true) {
    const auto end = text.find(at);
    parts.push_back(trimmed(text.substr(0, end)));
    if (end == std::string_view::npos) return parts;
    text.remove_prefix(end + 1);
  }
}

std::optional<int> whole(std::string_view text) {
  int value = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (code != std::errc() || end != text.data() + text.size()) return std::nullopt;
  return value;
}

} // namespace

Result<std::vector<int>> parse_line_list(std::string_view text, int parts) {
  std::vector<int> lines;
  if (trimmed(text).empty()) return lines;
  for (const std::string_view part : split(text, ',')) {
    const auto ends = split(part, '-');
    const auto from = whole(ends.front());
    const auto to = whole(ends.back());
    if (!from || !to || ends.size() > 2 || *from > *to) {
      return Error{fmt::format("\"{}\" is not a line; type numbers such as 3, 5-8.", part)};
    }
    if (*from < 1 || *to >= parts) {
      return Error{fmt::format("Line {} does not exist; lines run from 1 to {}.", *from < 1 ? *from : *to, parts - 1)};
    }
    for (int line = *from; line <= *to; ++line) lines.push_back(line);
  }
  std::sort(lines.begin(), lines.end());
  lines.erase(std::unique(lines.begin(), lines.end()), lines.end());
  return lines;
}

std::string format_line_list(const std::vector<int>& lines) {
  std::string text;
  for (std::size_t i = 0; i < lines.size();) {
    std::size_t end = i;
    while (end + 1 < lines.size() && lines[end + 1] == lines[end] + 1) ++end;
    if (!text.empty()) text += ", ";
    text += end == i ? std::to_string(lines[i]) : fmt::format("{}-{}", lines[i], lines[end]);
    i = end + 1;
  }
  return text;
}

Result<StartMark> parse_start_mark(std::string_view text, int parts, LengthUnit unit) {
  const auto halves = split(text, ':');
  const auto fraction = split(halves.front(), '/');
  if (halves.size() != 2 || fraction.size() != 2) {
    return Error{fmt::format("\"{}\" is not a mark; type one such as 1/{}:0.1.", text, parts)};
  }
  const auto top = whole(fraction[0]);
  const auto bottom = whole(fraction[1]);
  if (!top || !bottom || *bottom < 2 || *top < 1 || *top >= *bottom) {
    return Error{fmt::format("\"{}\" is not a mark inside the sheet; type one such as 1/{}.", halves.front(), parts)};
  }
  if (static_cast<long>(*top) * parts % *bottom != 0) {
    return Error{fmt::format("{}/{} is not a line of {} parts; type a mark A/{}.", *top, *bottom, parts, parts)};
  }
  const auto sigma = parse_length(halves[1], unit);
  if (!sigma) return Error{sigma.error()};
  if (!(sigma->value >= 0 && sigma->value <= 1000)) return Error{"The mark's error must be 0 to 1000 mm."};
  return StartMark{static_cast<int>(static_cast<long>(*top) * parts / *bottom), sigma->value, StartKind::given, {}};
}

Result<std::vector<Box>> parse_areas(std::string_view text, LengthUnit unit) {
  std::vector<Box> areas;
  if (trimmed(text).empty()) return areas;
  for (const std::string_view area : split(text, ';')) {
    if (area.empty()) continue;
    const auto sides = split(area, ',');
    if (sides.size() != 4) {
      return Error{fmt::format("\"{}\" is not an area; type left, bottom, right, top such as 60,60,180,180.", area)};
    }
    double v[4];
    for (std::size_t i = 0; i < 4; ++i) {
      const auto length = parse_length(sides[i], unit);
      if (!length) return Error{length.error()};
      v[i] = length->value;
    }
    if (v[0] >= v[2] || v[1] >= v[3]) {
      return Error{
          fmt::format("\"{}\" has no size; type left, bottom, right, top with left < right and bottom < top.", area)};
    }
    areas.push_back({{v[0], v[1]}, {v[2], v[3]}});
  }
  return areas;
}

std::string format_areas(const std::vector<Box>& areas, LengthUnit unit) {
  std::string text;
  const auto num = [&](double mm) { return format_number(mm / mm_per(unit), 3); };
  for (const Box& b : areas) {
    if (!text.empty()) text += "; ";
    text += fmt::format("{},{},{},{}", num(b.low.x()), num(b.low.y()), num(b.high.x()), num(b.high.y()));
  }
  return text;
}

} // namespace uc
