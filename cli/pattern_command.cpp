// pattern: a crease pattern from a family, from rules, or from another file.
#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/expression.h"
#include "base/quantity.h"
#include "form/folded_form.h"
#include "io/formats.h"
#include "paper/stock.h"
#include "pattern/family.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <sstream>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct PatternOptions {
  std::string family, rules, from, out, sheet = "square:240mm", grid = "square", count = "16", format, finished, inside,
                                        stock;
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

/// Families without lengths of their own are drawn on a square of this side.
Parameter size_parameter() {
  return {"size", "Side of the sheet", ParameterType::mm, 10, 100'000, normal_size_mm, "The sheet is a square.", {}};
}

Json families_json() {
  Json out = Json::array();
  for (const PatternFamily& f : pattern_families()) {
    Json parameters = Json::array();
    for (const Parameter& p : f.parameters) parameters.push_back(parameter_json(p));
    if (!f.own_sheet) parameters.push_back(parameter_json(size_parameter()));
    out.push_back({{"name", f.name},
                   {"title", f.title},
                   {"group", name_of(f.group)},
                   {"flat_foldable", f.flat_foldable},
                   {"parameters", parameters}});
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
  FamilyFigures figures;
};

Drawn drawn(const PatternDesign& design, const Polygon& sheet, const std::string& what) {
  DrawnPattern all = drawn_pattern(design, sheet);
  if (!all.wrong.empty())
    throw CallError{all.wrong.front().rule == 0
                        ? fmt::format("{}: {}", what, all.wrong.front().sentence)
                        : fmt::format("{}:{}: {}", what, all.wrong.front().rule, all.wrong.front().sentence)};
  if (all.figures.pleat_mm == 0) all.figures.pleat_mm = bounding_box(sheet).size().x() / all.design.count;
  return {std::move(all.healed.pattern), std::move(all.figures)};
}

/// A family as it was asked for: its values, and the side of the square it is drawn on.
struct Asked {
  const PatternFamily* family = nullptr;
  ParameterValues values;
  double side = normal_size_mm;
};

Asked asked(const PatternOptions& o) {
  Asked out;
  out.family = find_pattern_family(o.family);
  if (!out.family) throw CallError{no_such_family(o.family).message};
  out.values = normal_choice(*out.family).values;
  const Parameter size = size_parameter();
  for (const std::string& set : o.sets) {
    const auto equals = set.find('=');
    const std::string name = set.substr(0, equals);
    const std::string value = equals == std::string::npos ? std::string() : set.substr(equals + 1);
    const bool is_size = name == size.name && !out.family->own_sheet;
    const Parameter* p = is_size ? &size : out.family->parameter(name);
    if (!p) {
      std::string names;
      for (const Parameter& each : out.family->parameters) names += (names.empty() ? "" : ", ") + each.name;
      if (!out.family->own_sheet) names += ", " + size.name;
      throw CallError{fmt::format("--set {}: {} has the parameters {}", set, o.family, names)};
    }
    const auto typed = parse_parameter(*p, value);
    if (!typed) throw CallError{"--set " + typed.error()};
    (is_size ? out.side : out.values[name]) = *typed;
  }
  return out;
}

Drawn drawn(const Asked& a) {
  const std::string code = fmt::format("square:{}mm", a.side);
  return drawn(family_design(a.family->name, a.values), sheet_option(code).outline(), a.family->name);
}

/// The longer side of the finished piece.
std::optional<double> finished(const Drawn& d) {
  if (d.figures.packed_mm) return (*d.figures.packed_mm)[0];
  if (d.figures.finished_mm) return d.figures.finished_mm->maxCoeff();
  const auto form = folded_form(d.pattern, graph_of(d.pattern));
  if (form && form->open_loop.empty()) return form->box.size().maxCoeff();
  return std::nullopt;
}

/// The same piece with every length multiplied: the side of the sheet, or the lengths that make it.
Asked scaled(Asked a, double factor) {
  a.side *= factor;
  for (const Parameter& p : a.family->parameters)
    if (a.family->own_sheet && p.type == ParameterType::mm && p.name != "thickness" && p.name != "clearance")
      a.values[p.name] *= factor;
  return a;
}

void check_values(const Asked& a, const std::string& option) {
  if (a.side < 1 || a.side > greatest_length_mm)
    throw CallError{fmt::format("{} needs a sheet of {} mm, which is out of range", option, format_number(a.side, 3))};
  for (const Parameter& p : a.family->parameters)
    if (const auto ok = check_parameter(p, a.values.at(p.name)); !ok) throw CallError{option + ": " + ok.error()};
}

/// The factor at which the finished piece has a wanted size. One step is exact where every length scales; thickness and
/// clearance do not, so it is repeated.
Asked finished_at(Asked a, const std::string& text) {
  const double wanted = length_option("--finished", text);
  for (int round = 0; round < 60; ++round) {
    const auto now = finished(drawn(a));
    if (!now || *now <= 0)
      throw CallError{fmt::format("--finished: the finished size of {} is not known", a.family->name)};
    if (std::abs(*now - wanted) < 1e-9 * wanted) return a;
    a = scaled(a, wanted / *now);
    check_values(a, "--finished " + text);
  }
  throw CallError{
      fmt::format("--finished {}: no sheet gives this size; thickness and clearance are too large for it", text)};
}

std::array<double, 3> box_option(const std::string& text) {
  std::array<double, 3> out{};
  std::size_t from = 0;
  for (std::size_t i = 0; i < 3; ++i) {
    const std::size_t to = i < 2 ? text.find('x', from) : text.size();
    const auto length =
        to == std::string::npos ? Result<Millimetres>(Error{""}) : parse_length(text.substr(from, to - from));
    if (!length || !(length->value > 0) || length->value > greatest_length_mm)
      throw CallError{fmt::format("--inside {}: type width x depth x height, as 80x60x25mm", text)};
    out[i] = length->value;
    from = to + 1;
  }
  return out;
}

/// The box that holds what is wanted: exactly where its lengths are parameters, else the least that is large enough.
Asked inside_at(Asked a, const std::string& text) {
  const std::array<double, 3> wanted = box_option(text);
  if (a.family->for_inside) {
    a.values = a.family->for_inside(a.values, wanted);
    check_values(a, "--inside " + text);
    return a;
  }
  const auto now = drawn(a).figures.inside_mm;
  if (!now) throw CallError{fmt::format("--inside: {} has no inside", a.family->name)};
  double factor = 0;
  for (std::size_t i = 0; i < 3; ++i) factor = std::max(factor, wanted[i] / (*now)[i]);
  a = scaled(a, factor);
  check_values(a, "--inside " + text);
  return a;
}

Drawn family(const PatternOptions& o) {
  Asked a = asked(o);
  if (!o.finished.empty() && !o.inside.empty()) throw CallError{"--finished and --inside: give one of them"};
  if (!o.finished.empty()) a = finished_at(std::move(a), o.finished);
  if (!o.inside.empty()) a = inside_at(std::move(a), o.inside);
  return drawn(a);
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

void add_figures(Json& out, const FamilyFigures& f) {
  if (f.pleat_mm > 0) out["pleat_mm"] = f.pleat_mm;
  if (f.finished_mm) out["finished_mm"] = {f.finished_mm->x(), f.finished_mm->y()};
  if (f.inside_mm) out["inside_mm"] = *f.inside_mm;
  if (f.packed_mm) out["packed_mm"] = *f.packed_mm;
  if (f.turns) out["turns"] = *f.turns;
  if (f.cone)
    out["cone"] = {{"half_angle_deg", f.cone->half_angle_deg},
                   {"faceted_half_angle_deg", f.cone->faceted_half_angle_deg},
                   {"base_radius_mm", f.cone->base_radius_mm},
                   {"height_mm", f.cone->height_mm}};
  for (const auto& [name, value] : f.more) out[name] = value;
}

int run(const PatternOptions& o) {
  if (!o.stock.empty()) (void)stock_option(o.stock);
  if (o.list) {
    if (o.json)
      print_json(families_json());
    else
      print_families();
    return done;
  }
  const int sources = !o.family.empty() + !o.rules.empty() + !o.from.empty();
  if (sources != 1) throw CallError{"pattern: name one FAMILY (see --list), or --rules FILE, or --from FILE"};
  if (o.out.empty() && !o.json) throw CallError{"pattern: -o FILE is missing; end it in .json, .svg, .dxf or .pdf"};
  if (o.family.empty() && (!o.finished.empty() || !o.inside.empty()))
    throw CallError{"--finished and --inside work back from a FAMILY; name one"};
  if (!o.rules.empty()) refuse_to_replace("-o", o.out, {o.rules});
  const Drawn made = !o.family.empty()  ? family(o)
                     : !o.rules.empty() ? rules(o)
                                        : Drawn{read_pattern({o.from, o.maps, o.format}).pattern, {}};
  const PatternSource source{o.from, o.maps, o.format};
  if (!o.out.empty()) write_pattern(made.pattern, o.out, source);
  if (!o.json) return done;
  Json out{{"finished_mm", nullptr},
           {"layers_max", nullptr},
           {"pleat_mm", nullptr},
           {"vertices", made.pattern.vertices.size()}};
  int creases = 0;
  for (const PatternEdge& e : made.pattern.edges) creases += folds(e.kind);
  out["creases"] = creases;
  add_figures(out, made.figures);
  const Point sheet = bounding_box(made.pattern.vertices).size();
  out["sheet_mm"] = {sheet.x(), sheet.y()};
  const auto proof = proved(healed(made.pattern));
  if (proof && proof->folds_flat()) {
    const Point size = proof->form->box.size();
    out["finished_mm"] = {size.x(), size.y()};
    out["layers_max"] = proof->overlap->layers_max;
    if (!o.stock.empty()) out["thickness_mm"] = proof->overlap->layers_max * stock_option(o.stock).caliper_mm;
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
  c->add_option("--finished", o->finished, "Longer side of the finished piece; the sheet is worked back");
  c->add_option("--inside", o->inside, "Inside of a box, as 80x60x25mm; the sheet is worked back");
  c->add_option("--stock", o->stock, "Paper by name, for the thickness of all layers");
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
