// pattern: a crease pattern from a family, from rules, or from another file.
#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/quantity.h"
#include "io/formats.h"
#include "pattern/family.h"

#include <fmt/format.h>

#include <algorithm>
#include <memory>
#include <sstream>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct PatternOptions {
  std::string family, rules, from, out, sheet = "square:240mm", grid = "square", count = "16", format;
  std::vector<std::string> sets, maps;
  bool list = false;
  bool json = false;
};

constexpr double normal_size_mm = 240;

Json parameter_json(const Parameter& p) {
  const auto value = [&](double v) -> Json {
    if (p.type == ParameterType::choice) return parameter_text(p, v);
    if (p.type == ParameterType::integer) return static_cast<int>(v);
    return v;
  };
  return {{"name", p.name},       {"type", name_of(p.type)},    {"min", value(p.least)},
          {"max", value(p.most)}, {"default", value(p.normal)}, {"choices", p.choices}};
}

/// Every family is drawn on a square of this side.
Parameter size_parameter() {
  return {"size", "Side of the sheet", ParameterType::mm, 10, 100'000, normal_size_mm, "The sheet is a square.", {}};
}

Json families_json() {
  Json out = Json::array();
  for (const PatternFamily& f : pattern_families()) {
    Json parameters = Json::array();
    for (const Parameter& p : f.parameters) parameters.push_back(parameter_json(p));
    parameters.push_back(parameter_json(size_parameter()));
    out.push_back({{"name", f.name}, {"flat_foldable", f.flat_foldable}, {"parameters", parameters}});
  }
  return {{"families", out}};
}

void print_families() {
  for (const PatternFamily& f : pattern_families()) {
    out() << fmt::format("{:<16} {}\n", f.name, f.title);
    for (const Parameter& p : f.parameters) {
      const char* unit = p.type == ParameterType::mm ? " mm" : p.type == ParameterType::degrees ? " degrees" : "";
      const std::string range = p.type == ParameterType::choice ? fmt::format("{}", fmt::join(p.choices, " "))
                                                                : fmt::format("{} to {}{}", parameter_text(p, p.least),
                                                                              parameter_text(p, p.most), unit);
      out() << fmt::format("  {:<14} {:<12} {:<6} {}\n", p.name, range, parameter_text(p, p.normal), p.why);
    }
  }
}

struct Drawn {
  CreasePattern pattern;
  double pleat_mm = 0;
};

Drawn drawn(const PatternDesign& design, const Polygon& sheet, const std::string& what) {
  DrawnPattern all = drawn_pattern(design, sheet);
  if (!all.wrong.empty())
    throw CallError{all.wrong.front().rule == 0
                        ? fmt::format("{}: {}", what, all.wrong.front().sentence)
                        : fmt::format("{}:{}: {}", what, all.wrong.front().rule, all.wrong.front().sentence)};
  return {std::move(all.healed.pattern), bounding_box(sheet).size().x() / all.design.count};
}

Drawn family(const PatternOptions& o) {
  const PatternFamily* known = find_pattern_family(o.family);
  if (!known) throw CallError{no_such_family(o.family).message};
  FamilyChoice choice = normal_choice(*known);
  const Parameter size = size_parameter();
  double side = size.normal;
  for (const std::string& set : o.sets) {
    const auto equals = set.find('=');
    const std::string name = set.substr(0, equals);
    const std::string value = equals == std::string::npos ? std::string() : set.substr(equals + 1);
    const Parameter* p = name == size.name ? &size : known->parameter(name);
    if (!p) {
      std::string names;
      for (const Parameter& each : known->parameters) names += each.name + ", ";
      throw CallError{fmt::format("--set {}: {} has the parameters {}{}", set, o.family, names, size.name)};
    }
    const auto typed = parse_parameter(*p, value);
    if (!typed) throw CallError{"--set " + typed.error()};
    (p == &size ? side : choice.values[name]) = *typed;
  }
  return drawn(family_design(choice.name, choice.values), sheet_option(fmt::format("square:{}mm", side)).outline(),
               o.family);
}

Drawn rules(const PatternOptions& o) {
  const auto text = read_file(o.rules);
  if (!text) throw CallError{"--rules: " + text.error()};
  PatternDesign design;
  const auto grid = named<PatternGrid>(o.grid);
  if (!grid) throw CallError{fmt::format("--grid {}: type square, diagonal or equilateral", o.grid)};
  design.grid = *grid;
  design.count = whole_option("--count", o.count, 1, most_grid_count);
  std::istringstream lines(*text);
  long number = 0;
  for (std::string line; std::getline(lines, line);) {
    ++number;
    if (line.find_first_not_of(" \t\r") == std::string::npos || line[line.find_first_not_of(" \t\r")] == '#') continue;
    const auto rule = parse_rule(line);
    if (!rule) throw CallError{fmt::format("{}:{}: {}", o.rules, number, rule.error())};
    design.rules.push_back(line);
  }
  return drawn(design, sheet_option(o.sheet).outline(), o.rules);
}

int run(const PatternOptions& o) {
  if (o.list) {
    if (o.json)
      print_json(families_json());
    else
      print_families();
    return done;
  }
  const int sources = !o.family.empty() + !o.rules.empty() + !o.from.empty();
  if (sources != 1) throw CallError{"pattern: name one FAMILY (see --list), or --rules FILE, or --from FILE"};
  if (o.out.empty()) throw CallError{"pattern: -o FILE is missing; end it in .json, .svg, .dxf or .pdf"};
  if (!o.rules.empty()) refuse_to_replace("-o", o.out, {o.rules});
  const Drawn made = !o.family.empty()  ? family(o)
                     : !o.rules.empty() ? rules(o)
                                        : Drawn{read_pattern({o.from, o.maps, o.format}).pattern, 0};
  const PatternSource source{o.from, o.maps, o.format};
  write_pattern(made.pattern, o.out, source);
  if (!o.json) return done;
  Json out{{"finished_mm", nullptr},
           {"layers_max", nullptr},
           {"pleat_mm", nullptr},
           {"vertices", made.pattern.vertices.size()}};
  int creases = 0;
  for (const PatternEdge& e : made.pattern.edges) creases += folds(e.kind);
  out["creases"] = creases;
  if (made.pleat_mm > 0) out["pleat_mm"] = made.pleat_mm;
  const auto proof = proved(healed(made.pattern));
  if (proof && proof->folds_flat()) {
    const Point size = proof->form->box.size();
    out["finished_mm"] = {size.x(), size.y()};
    out["layers_max"] = proof->overlap->layers_max;
  }
  print_json(out);
  return done;
}

} // namespace

void add_pattern(CLI::App& app, Action& action) {
  auto o = std::make_shared<PatternOptions>();
  auto* c = app.add_subcommand("pattern", "Write a crease pattern: of a family, by rules, or from another file");
  c->add_option("FAMILY", o->family, "A family, see --list");
  c->add_flag("--list", o->list, "List the families");
  c->add_option("--set", o->sets, "A parameter, as count=12; may be repeated");
  c->add_option("--rules", o->rules, "Draw the rules of a file, one a line");
  c->add_option("--from", o->from, "Read a pattern: .json, .svg or .dxf");
  c->add_option("--format", o->format, "json, svg or dxf, where the name does not tell");
  c->add_option("--map", o->maps, "Kind of lines in a drawing, as colour:#ff0000=mountain; may be repeated");
  c->add_option("--sheet", o->sheet, "Sheet for --rules")->capture_default_str();
  c->add_option("--grid", o->grid, "square, diagonal or equilateral")->capture_default_str();
  c->add_option("--count", o->count, "Cells across for --rules")->capture_default_str();
  c->add_option("-o,--output", o->out, "FILE " + endings_for(FileUse::write_pattern));
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli pattern chevron --set count=16 -o panel.svg");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
