#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/expression.h"
#include "base/quantity.h"
#include "io/pattern_file.h"

#include <fmt/format.h>

#include <filesystem>
#include <iostream>

namespace uc::cli {
void add_source(CLI::App& command, PatternSource& source) {
  command.add_option("FILE", source.file, "A pattern: .json, .svg or .dxf")->required();
  command.add_option("--map", source.maps, "Kind of lines in a drawing, as colour:#ff0000=mountain; may be repeated");
}

HealedPattern read_pattern(const PatternSource& source) {
  const auto format = pattern_format(source.file, false);
  if (!format) throw CallError{format.error()};
  KindMapping mapping;
  for (const std::string& text : source.maps) {
    const auto rule = parse_kind_rule(text);
    if (!rule) throw CallError{"--map: " + rule.error()};
    mapping.push_back(*rule);
  }
  const auto text = read_file(source.file, largest_pattern_file);
  if (!text) throw CallError{text.error()};
  auto pattern = parse_pattern(*text, *format, mapping);
  if (!pattern) {
    // The error begins with "line N: ".
    const std::string& e = pattern.error();
    throw CallError{fmt::format("{}:{}", source.file, e.substr(e.find(' ') + 1))};
  }
  for (const std::string& s : pattern->healed.repair.sentences()) std::cerr << source.file << ": " << s << "\n";
  if (!pattern->left_out.empty()) std::cerr << source.file << ": " << left_out_sentence(pattern->left_out) << "\n";
  return pattern->healed;
}

void write_pattern(const CreasePattern& pattern, const std::string& file) {
  const auto format = pattern_format(file, true);
  if (!format) throw CallError{"-o " + format.error()};
  const std::string title = std::filesystem::path(file).stem().string();
  const auto bytes = pattern_bytes(pattern, *format, title, {font_folder()}, {});
  if (!bytes) throw CallError{"-o: " + bytes.error()};
  if (const auto ok = write_atomically(file, *bytes); !ok) throw CallError{"-o: " + ok.error()};
}

double seconds_option(const std::string& text) {
  const auto value = parse_number(text);
  if (!value || !(*value > 0 && *value <= 86400))
    throw CallError{fmt::format("--seconds {}: type a number of seconds from 0.1 to 86400", text)};
  return *value;
}

nlohmann::json violations_json(const std::vector<LocalViolation>& violations) {
  nlohmann::json out = nlohmann::json::array();
  for (const LocalViolation& v : violations) {
    out.push_back({{"vertex", v.vertex ? nlohmann::json(*v.vertex) : nlohmann::json()},
                   {"x", v.at.x()},
                   {"y", v.at.y()},
                   {"rule", name_of(v.rule)},
                   {"defect_deg", v.defect_deg}});
  }
  return out;
}

std::string sentence(const LocalViolation& v) {
  const std::string where = fmt::format("{}, {} mm", format_number(v.at.x(), 2), format_number(v.at.y(), 2));
  if (!v.vertex) return fmt::format("Two edges cross at {} without a vertex.", where);
  const std::string vertex = fmt::format("Vertex {} at {}", *v.vertex, where);
  switch (v.rule) {
  case LocalRule::even_degree:
    return fmt::format("{}: an odd number of creases, {}, meet.", vertex, v.edges.size());
  case LocalRule::kawasaki:
    return fmt::format("{}: the alternating sum of its angles is {}° instead of 0 (Kawasaki-Justin).", vertex,
                       format_number(v.defect_deg, 3));
  case LocalRule::maekawa:
    return fmt::format("{}: mountains and valleys do not differ by two (Maekawa-Justin).", vertex);
  case LocalRule::big_little_big:
    return fmt::format("{}: the creases round a small angle have the wrong directions (big-little-big).", vertex);
  case LocalRule::dangling:
    return fmt::format("{}: a crease ends inside the paper.", vertex);
  case LocalRule::crossing:
    break;
  }
  return vertex;
}

} // namespace uc::cli
