// pattern: a crease pattern from a family, from rules, or from another file.
#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/quantity.h"
#include "pattern/beginnings.h"

#include <fmt/format.h>

#include <algorithm>
#include <memory>
#include <sstream>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct Options {
  std::string family, rules, from, out, sheet = "square:240mm", grid = "square", count = "16", format;
  std::vector<std::string> sets, maps;
  bool list = false;
  bool json = false;
};

Json families_json() {
  Json out = Json::array();
  for (const Beginning& b : beginnings()) {
    out.push_back({{"name", b.name},
                   {"flat_foldable", true},
                   {"parameters",
                    {{{"name", "count"},
                      {"type", "integer"},
                      {"min", b.least},
                      {"max", b.greatest},
                      {"default", b.count},
                      {"choices", Json::array()}},
                     {{"name", "size"},
                      {"type", "mm"},
                      {"min", 10},
                      {"max", 100000},
                      {"default", 240},
                      {"choices", Json::array()}}}}});
  }
  return {{"families", out}};
}

struct Drawn {
  CreasePattern pattern;
  double pleat_mm = 0;
};

Drawn drawn(const PatternDesign& design, const Polygon& sheet, const std::string& what) {
  const DrawnPattern all = drawn_pattern(design, sheet);
  if (!all.wrong.empty())
    throw CallError{fmt::format("{}:{}: {}", what, all.wrong.front().rule, all.wrong.front().sentence)};
  return {all.healed.pattern, bounding_box(sheet).size().x() / design.count};
}

Drawn family(const Options& o) {
  const auto found =
      std::find_if(beginnings().begin(), beginnings().end(), [&](const Beginning& b) { return b.name == o.family; });
  int count = found == beginnings().end() ? 0 : found->count;
  double size = 240;
  for (const std::string& set : o.sets) {
    const auto equals = set.find('=');
    const std::string name = set.substr(0, equals);
    const std::string value = equals == std::string::npos ? std::string() : set.substr(equals + 1);
    if (name == "count")
      count = whole_option("--set count", value, 1, most_grid_count);
    else if (name == "size")
      size = length_option("--set size", value);
    else
      throw CallError{fmt::format("--set {}: {} has the parameters count and size", set, o.family)};
  }
  auto design = beginning(o.family, count);
  if (!design) throw CallError{design.error()};
  const Sheet sheet = sheet_option(fmt::format("square:{}mm", size));
  Drawn out = drawn(*design, sheet.outline(), o.family);
  // Families come with directions that fold.
  const auto directions = directed(healed(out.pattern));
  if (!directions || !directions->pattern)
    throw CallError{fmt::format("{}: no directions were found in time", o.family)};
  out.pattern = *directions->pattern;
  return out;
}

Drawn rules(const Options& o) {
  const auto text = read_file(o.rules);
  if (!text) throw CallError{"--rules: " + text.error()};
  PatternDesign design;
  const auto grid = pattern_grid(o.grid);
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

int run(const Options& o) {
  if (o.list) {
    if (o.json)
      print_json(families_json());
    else
      for (const Beginning& b : beginnings()) out() << b.name << "\n";
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
  auto o = std::make_shared<Options>();
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
  c->add_option("-o,--output", o->out, "FILE.json, .svg, .dxf or .pdf");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli pattern chevron --set count=16 -o panel.svg");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
