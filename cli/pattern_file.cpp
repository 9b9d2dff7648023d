#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/expression.h"
#include "base/memory.h"
#include "base/quantity.h"
#include "io/pattern_file.h"

#include <fmt/format.h>

#include <filesystem>

namespace uc::cli {
void add_source(CLI::App& command, PatternSource& source) {
  command.add_option("FILE", source.file, "A pattern: .json, .svg or .dxf; - for standard input")->required();
  command.add_option("--format", source.format, "json, svg or dxf, where the name does not tell");
  command.add_option("--map", source.maps, "Kind of lines in a drawing, as colour:#ff0000=mountain; may be repeated");
}

namespace {

PatternFormat format_of(const PatternSource& source) {
  if (!source.format.empty()) {
    const auto named = pattern_format("pattern." + source.format, false);
    if (!named) throw CallError{fmt::format("--format {}: type json, svg or dxf", source.format)};
    return *named;
  }
  if (source.file == "-") throw CallError{"FILE -: say what comes from standard input, as --format json"};
  const auto format = pattern_format(source.file, false);
  if (!format) throw CallError{format.error()};
  return *format;
}

} // namespace

std::string title_of(const PatternSource& source) {
  return source.file == "-" ? "pattern" : std::filesystem::path(source.file).stem().string();
}

bool same_format(const PatternSource& source, const std::string& file) {
  const auto out = pattern_format(file, true);
  return out && *out == format_of(source);
}

HealedPattern read_pattern(const PatternSource& source, const Progress* progress, HandClosing* closing) {
  const PatternFormat format = format_of(source);
  KindMapping mapping;
  for (const std::string& text : source.maps) {
    const auto rule = parse_kind_rule(text);
    if (!rule) throw CallError{"--map: " + rule.error()};
    mapping.push_back(*rule);
  }
  const std::string text = read_input("", source.file, largest_pattern_file);
  auto pattern = parse_pattern(text, format, mapping, progress);
  if (!pattern) {
    if (progress && progress->late()) throw OutOfTime{};
    // The error begins with "line N: ".
    const std::string& e = pattern.error();
    throw CallError{fmt::format("{}:{}", source.file, e.substr(e.find(' ') + 1))};
  }
  for (const std::string& s : pattern->healed.repair.sentences()) err() << source.file << ": " << s << "\n";
  if (!pattern->left_out.empty()) err() << source.file << ": " << left_out_sentence(pattern->left_out) << "\n";
  if (closing) *closing = pattern->closing;
  return pattern->healed;
}

void write_pattern(const CreasePattern& pattern, const std::string& file, const PatternSource& source,
                   const HandClosing& closing) {
  const auto format = pattern_format(file, true);
  if (!format) throw CallError{"-o " + format.error()};
  const std::string title = std::filesystem::path(file).stem().string();
  const auto bytes = pattern_bytes(pattern, *format, title, {font_folder()}, {}, closing);
  if (!bytes) throw CallError{"-o: " + bytes.error()};
  // A pattern may be directed, or made whole, where it stands; as another format it would be lost.
  if (!source.file.empty() && same_format(source, file)) is_rewritten(source.file);
  write_output("-o", file, *bytes);
}

double seconds_option(const std::string& text) {
  const auto value = parse_number(text);
  if (!value || !(*value > 0 && *value <= 86400))
    throw CallError{fmt::format("--seconds {}: type a number of seconds from 0.1 to 86400", text)};
  return *value;
}

std::size_t memory_option(const std::string& text) {
  if (text.empty()) return free_memory() / 2;
  std::string number = text;
  double unit = 1;
  for (const auto& [name, bytes] : {std::pair{"GB", 1e9}, {"MB", 1e6}, {"kB", 1e3}}) {
    if (!number.ends_with(name)) continue;
    number.erase(number.rfind(name));
    unit = bytes;
    break;
  }
  const auto value = parse_number(number);
  if (!value || !(*value * unit >= 1e6 && *value * unit <= 1e15))
    throw CallError{fmt::format("--memory {}: type an amount of memory from 1 MB, as 2GB or 500MB", text)};
  return static_cast<std::size_t>(*value * unit);
}

void add_effort(CLI::App& command, ProofEffort& effort, const std::string& what) {
  command.add_option("--seconds", effort.seconds, "Time for all of it, " + what)->capture_default_str();
  command.add_option("--memory", effort.memory, "Memory it may take, as 2GB (half of what is free)");
}

std::string memory_sentence(std::size_t needed) {
  return fmt::format("The layers need about {:.1f} GB of memory, more than is allowed; close other programs, give more "
                     "with --memory, or check a part of the pattern.",
                     static_cast<double>(needed) / 1e9);
}

std::string no_order_sentence(const PatternProof& proof) {
  if (!proof.violations.empty()) return sentence(proof.violations.front());
  if (proof.memory_needed) return memory_sentence(proof.memory_needed);
  if (proof.status == LayerStatus::impossible)
    return fmt::format("The layers cannot be ordered: faces {} clash.", fmt::join(proof.clash, ", "));
  return late_sentence;
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
