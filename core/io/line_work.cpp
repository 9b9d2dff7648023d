#include "io/line_work.h"

#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <set>

namespace uc {
namespace {

constexpr const char* by_names[] = {"class", "layer", "colour", "dash"};

bool fits(const KindRule& rule, const DrawnLine& line) {
  switch (rule.by) {
  case KindRule::By::css_class:
    return std::find(line.classes.begin(), line.classes.end(), rule.value) != line.classes.end();
  case KindRule::By::layer:
    return line.layer == rule.value;
  case KindRule::By::colour:
    return lower_case(line.colour) == lower_case(rule.value);
  case KindRule::By::dash:
    return line.dash == rule.value;
  }
  return false;
}

/// The mark by which an unknown line is best named: class, else colour, else layer, else dash.
KindRule mark_of(const DrawnLine& line) {
  if (!line.classes.empty()) return {KindRule::By::css_class, line.classes.front(), std::nullopt};
  if (!line.colour.empty()) return {KindRule::By::colour, line.colour, std::nullopt};
  if (!line.layer.empty()) return {KindRule::By::layer, line.layer, std::nullopt};
  return {KindRule::By::dash, line.dash, std::nullopt};
}

} // namespace

std::string kind_rule_text(const KindRule& rule) {
  return fmt::format("{}:{}={}", by_names[static_cast<int>(rule.by)], rule.value,
                     rule.kind ? name_of(*rule.kind) : "skip");
}

Result<KindRule> parse_kind_rule(const std::string& text) {
  const Error wrong{
      fmt::format("\"{}\" is not a mapping; type class, layer, colour or dash, a colon, the value, = and a "
                  "kind or skip, as colour:#ff0000=mountain",
                  text)};
  const auto colon = text.find(':');
  const auto equals = text.rfind('=');
  if (colon == std::string::npos || equals == std::string::npos || equals < colon) return wrong;
  KindRule rule;
  const std::string by = text.substr(0, colon);
  const auto* const found = std::find(std::begin(by_names), std::end(by_names), by);
  if (found == std::end(by_names)) return wrong;
  rule.by = static_cast<KindRule::By>(found - std::begin(by_names));
  rule.value = text.substr(colon + 1, equals - colon - 1);
  const std::string kind = text.substr(equals + 1);
  if (kind != "skip") {
    rule.kind = named<EdgeKind>(kind);
    if (!rule.kind) return wrong;
  }
  return rule;
}

ReadKind kind_of(const DrawnLine& line, const KindMapping& mapping) {
  for (const KindRule& rule : mapping) {
    if (fits(rule, line)) return {true, rule.kind};
  }
  for (const std::string& c : line.classes) {
    if (const auto kind = named<EdgeKind>(c)) return {true, kind};
  }
  if (const auto kind = named<EdgeKind>(lower_case(line.layer))) return {true, kind};
  return {};
}

std::vector<UnknownLines> unknown_lines(const LineWork& work, const KindMapping& mapping) {
  std::vector<UnknownLines> out;
  for (const DrawnLine& line : work.lines) {
    if (kind_of(line, mapping).known) continue;
    const KindRule mark = mark_of(line);
    const auto there = std::find_if(out.begin(), out.end(), [&](const UnknownLines& u) {
      return u.rule.by == mark.by && u.rule.value == mark.value;
    });
    if (there == out.end())
      out.push_back({mark, 1, line.line});
    else
      ++there->count;
  }
  std::stable_sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.count > b.count; });
  return out;
}

Result<CreasePattern> mapped(const LineWork& work, const KindMapping& mapping) {
  const auto unknown = unknown_lines(work, mapping);
  if (!unknown.empty()) {
    const UnknownLines& u = unknown.front();
    KindRule example = u.rule;
    example.kind = EdgeKind::mountain;
    return Error{fmt::format("line {}: the kind of {} {} is not known; say it, as {}", u.first_line, u.count,
                             u.count == 1 ? "line" : "lines", kind_rule_text(example))};
  }
  CreasePattern out;
  for (const DrawnLine& line : work.lines) {
    const auto kind = kind_of(line, mapping).kind;
    if (!kind) continue;
    const int v = static_cast<int>(out.vertices.size());
    out.vertices.push_back(line.segment.from);
    out.vertices.push_back(line.segment.to);
    out.edges.push_back({v, v + 1, *kind});
  }
  return out;
}

std::string signature(const LineWork& work) {
  std::set<std::string> marks;
  for (const DrawnLine& line : work.lines) {
    for (const std::string& c : line.classes) marks.insert("class:" + c);
    if (!line.layer.empty()) marks.insert("layer:" + line.layer);
    if (!line.colour.empty()) marks.insert("colour:" + lower_case(line.colour));
  }
  std::string out;
  for (const std::string& m : marks) out += (out.empty() ? "" : " ") + m;
  return out;
}

} // namespace uc
