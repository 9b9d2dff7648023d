#include "io/pattern_json.h"

#include "io/stages_json.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

using Json = nlohmann::json;

long line_at(const std::string& text, std::size_t byte) {
  return 1 + std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(std::min(byte, text.size())), '\n');
}

/// The line on which element `index` of the list under a top-level key begins; the text is valid JSON.
long line_of(const std::string& text, const std::string& key, std::size_t index) {
  int depth = 0;
  bool in_list = false;
  std::size_t passed = 0;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (c == '"') {
      const std::size_t start = ++i;
      while (i < text.size() && text[i] != '"') i += text[i] == '\\' ? 2 : 1;
      if (depth == 1 && !in_list && text.compare(start, i - start, key) == 0) {
        const std::size_t open = text.find_first_not_of(" \t\r\n:", i + 1);
        in_list = open != std::string::npos && text[open] == '[';
        if (!in_list) return line_at(text, start);
      }
    } else if (c == '[' || c == '{') {
      ++depth;
      if (in_list && depth == 3 && passed == index) return line_at(text, i);
    } else if (c == ']' || c == '}') {
      if (in_list && depth == 2) return line_at(text, i);
      --depth;
    } else if (c == ',' && in_list && depth == 2) {
      ++passed;
    }
  }
  return line_at(text, text.size());
}

Error wrong(const std::string& text, const std::string& key, std::size_t index, const std::string& what) {
  return Error{fmt::format("line {}: {}", line_of(text, key, index), what)};
}

bool finite(const Json& j) {
  return j.is_number() && std::isfinite(j.get<double>()) && std::abs(j.get<double>()) <= most_pattern_mm;
}

} // namespace

Result<CreasePattern> parse_pattern_json(const std::string& text) {
  Json j;
  try {
    j = Json::parse(text);
  } catch (const Json::parse_error& e) {
    return Error{fmt::format("line {}: this is not valid JSON; write the pattern again or mend it there",
                             line_at(text, e.byte == 0 ? 0 : e.byte - 1))};
  } catch (const Json::exception&) {
    return Error{"line 1: a number in this JSON is too large; coordinates are in mm"};
  }
  if (!j.is_object() || j.value("format", Json()) != "under-crease/pattern")
    return Error{"line 1: this is not a pattern; it must hold \"format\":\"under-crease/pattern\""};
  if (const Json version = j.value("version", Json()); !version.is_number_integer() || version != 1)
    return wrong(text, "version", 0, "only version 1 of the pattern format can be read");
  const auto vertices = j.find("vertices");
  const auto edges = j.find("edges");
  if (vertices == j.end() || !vertices->is_array() || edges == j.end() || !edges->is_array())
    return Error{"line 1: a pattern needs the lists \"vertices\" and \"edges\""};
  if (edges->size() > most_pattern_edges || vertices->size() > most_pattern_edges)
    return wrong(text, "vertices", 0,
                 fmt::format("more than {} vertices or edges; split the pattern", most_pattern_edges));
  CreasePattern out;
  out.vertices.reserve(vertices->size());
  for (std::size_t i = 0; i < vertices->size(); ++i) {
    const Json& v = (*vertices)[i];
    if (!v.is_array() || v.size() != 2 || !finite(v[0]) || !finite(v[1]))
      return wrong(text, "vertices", i, fmt::format("vertex {} must be two numbers in mm, as [120, 60.5]", i));
    out.vertices.emplace_back(v[0].get<double>(), v[1].get<double>());
  }
  const auto count = static_cast<std::int64_t>(vertices->size());
  out.edges.reserve(edges->size());
  for (std::size_t i = 0; i < edges->size(); ++i) {
    const Json& e = (*edges)[i];
    if (!e.is_array() || e.size() != 3 || !e[0].is_number_integer() || !e[1].is_number_integer() || !e[2].is_string())
      return wrong(text, "edges", i, fmt::format("edge {} must be two vertices and a kind, as [0, 1, \"raw\"]", i));
    std::array<int, 2> ends{};
    for (std::size_t k = 0; k < 2; ++k) {
      const bool known = e[k].is_number_unsigned() && e[k].get<std::uint64_t>() < static_cast<std::uint64_t>(count);
      if (!known)
        return wrong(text, "edges", i,
                     count == 0 ? fmt::format("edge {} has no vertices to join; add them first", i)
                                : fmt::format("edge {} names vertex {}; there are 0 to {}", i, e[k].dump(), count - 1));
      ends[k] = e[k].get<int>();
    }
    const auto kind = named<EdgeKind>(e[2].get_ref<const std::string&>());
    if (!kind)
      return wrong(
          text, "edges", i,
          fmt::format("edge {} is of an unknown kind; use raw, mountain, valley, undirected, unfolded or cut", i));
    out.edges.push_back({ends[0], ends[1], *kind});
  }
  return out;
}

Result<HandClosing> parse_hand_closing(const std::string& text, std::size_t edges) {
  HandClosing out;
  if (text.find("\"full_deg\"") == std::string::npos && text.find("\"goals\"") == std::string::npos) return out;
  const Json j = Json::parse(text, nullptr, false);
  const auto one_each = [&](const char* key) -> std::vector<JsonReader> {
    const auto list = JsonReader(j).find(key);
    return list ? list->list(edges, edges) : std::vector<JsonReader>{};
  };
  const char* key = "full_deg";
  try {
    for (const JsonReader& deg : one_each(key)) out.full_deg.push_back(deg.number(-180, 180));
    key = "goals";
    out.goals = goals_from(one_each(key));
  } catch (const FieldError& e) {
    return wrong(text, key, 0, e.what());
  }
  return out;
}

Json json_of(const std::vector<CreaseGoals>& goals) {
  Json all = Json::array();
  for (const CreaseGoals& edge : goals) {
    Json list = Json::array();
    for (const CreaseGoal& g : edge) list.push_back({g.stage, g.deg});
    all.push_back(std::move(list));
  }
  return all;
}

std::string pattern_json(const CreasePattern& pattern, const HandClosing& closing) {
  std::string out = "{\"format\":\"under-crease/pattern\",\"version\":1,\n\"vertices\":[";
  const char* comma = "\n";
  for (const Point& p : pattern.vertices) {
    out += fmt::format("{}[{},{}]", comma, p.x(), p.y());
    comma = ",\n";
  }
  out += "],\n\"edges\":[";
  comma = "\n";
  for (const PatternEdge& e : pattern.edges) {
    out += fmt::format("{}[{},{},\"{}\"]", comma, e.from, e.to, name_of(e.kind));
    comma = ",\n";
  }
  out += "]";
  if (!closing.full_deg.empty()) out += ",\n\"full_deg\":" + Json(closing.full_deg).dump();
  if (!closing.goals.empty()) out += ",\n\"goals\":" + json_of(closing.goals).dump();
  return out + "}\n";
}

} // namespace uc
