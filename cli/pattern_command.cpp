// pattern: a crease pattern from a family, from rules, or from another file.
#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/expression.h"
#include "base/quantity.h"
#include "collapse/closed_size.h"
#include "collapse/space_proof.h"
#include "io/formats.h"
#include "io/stages_json.h"
#include "paper/shelf.h"
#include "pattern/sweep.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <memory>
#include <sstream>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct PatternOptions {
  std::string family, rules, from, out, sheet = "square:240mm", grid = "square", count = "16", format, finished, inside,
                                        stock, parameter, stages;
  std::vector<std::string> sets, maps;
  bool list = false;
  bool prove = false;
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
  DrawnPattern all; // of families and rules
};

Drawn drawn(const PatternDesign& design, const Polygon& sheet, const std::string& what) {
  DrawnPattern all = drawn_pattern(design, sheet);
  if (!all.wrong.empty())
    throw CallError{all.wrong.front().rule == 0
                        ? fmt::format("{}: {}", what, all.wrong.front().sentence)
                        : fmt::format("{}:{}: {}", what, all.wrong.front().rule, all.wrong.front().sentence)};
  all.figures.pleat_mm = narrowest_pleat(all, sheet);
  return {all.healed.pattern, all.figures, std::move(all)};
}

/// A family as it was asked for, on a square where it does not bring its own sheet.
SizedFamily asked(const PatternOptions& o) {
  const PatternFamily* family = find_pattern_family(o.family);
  if (!family) throw CallError{no_such_family(o.family).message};
  SizedFamily out{normal_choice(*family), Sheet::square(Millimetres{normal_size_mm})};
  const Parameter size = size_parameter();
  for (const std::string& set : o.sets) {
    const auto equals = set.find('=');
    const std::string name = set.substr(0, equals);
    const std::string value = equals == std::string::npos ? std::string() : set.substr(equals + 1);
    const bool is_size = name == size.name && !family->own_sheet;
    const Parameter* p = is_size ? &size : family->parameter(name);
    if (!p) {
      std::string names;
      for (const Parameter& each : family->parameters) names += (names.empty() ? "" : ", ") + each.name;
      if (!family->own_sheet) names += ", " + size.name;
      throw CallError{fmt::format("--set {}: {} has the parameters {}", set, o.family, names)};
    }
    const auto typed = parse_parameter(*p, value);
    if (!typed) throw CallError{"--set " + typed.error()};
    if (is_size)
      out.sheet = Sheet::square(Millimetres{*typed});
    else
      out.choice.values[name] = *typed;
  }
  return out;
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

SizedFamily sized(const PatternOptions& o) {
  SizedFamily a = asked(o);
  if (!o.finished.empty() && !o.inside.empty()) throw CallError{"--finished and --inside: give one of them"};
  if (o.finished.empty() && o.inside.empty()) return a;
  const std::string option = o.finished.empty() ? "--inside " + o.inside : "--finished " + o.finished;
  FinishedMeasure size_of;
  const auto measure = [&](const DrawnPattern& drawn) { return size_of(drawn); };
  auto made = o.finished.empty()
                  ? sized_to_hold(std::move(a), box_option(o.inside))
                  : sized_to_finish(std::move(a), length_option("--finished", o.finished, 0.1, 100'000), measure);
  if (!made) throw CallError{fmt::format("{}: {}", option, made.error())};
  return std::move(made).value();
}

Drawn family(const PatternOptions& o) {
  const SizedFamily a = sized(o);
  return drawn(family_design(a.choice.name, a.choice.values), a.sheet.outline(), a.choice.name);
}

Drawn rules(const PatternOptions& o) {
  const std::string text = read_input("--rules", o.rules);
  PatternDesign design;
  const auto grid = named<PatternGrid>(o.grid);
  if (!grid) throw CallError{fmt::format("--grid {}: type square, diagonal or equilateral", o.grid)};
  design.grid = *grid;
  design.count = whole_option("--count", o.count, 1, most_grid_count);
  std::istringstream lines(text);
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

/// A parameter tried over its range.
int try_values(const PatternOptions& o) {
  if (o.family.empty()) throw CallError{"--try varies a parameter of a FAMILY; name one"};
  if (!o.out.empty()) throw CallError{"--try writes no file; leave -o out"};
  Result<std::vector<TriedValue>> values = Error{""};
  const SizedFamily a = sized(o);
  const Parameter* varied = find_pattern_family(o.family)->parameter(o.parameter);
  if (!varied) throw CallError{fmt::format("--try {}: {} has no such parameter; see --list", o.parameter, o.family)};
  with_progress("Trying the values", [&](Progress& p) { values = tried(a, o.parameter, &p); });
  if (!values) throw CallError{"--try: " + values.error()};
  Json list = Json::array();
  for (const TriedValue& v : *values) {
    const bool drawn = v.refused.empty();
    const std::string text = parameter_text(*varied, v.value);
    Json one{{"value", v.value}, {"refused", drawn ? Json(nullptr) : Json(v.refused)}};
    if (drawn) {
      one["finished_mm"] = v.finished_mm ? Json{v.finished_mm->x(), v.finished_mm->y()} : Json(nullptr);
      one["sheet_mm"] = {v.sheet_mm.x(), v.sheet_mm.y()};
      one["pleat_mm"] = v.pleat_mm;
      one["layers_max"] = v.layers > 0 ? Json(v.layers) : Json(nullptr);
      one["creases"] = v.creases;
    }
    list.push_back(std::move(one));
    if (o.json) continue;
    const auto mm = [](double x) { return format_number(x, 2); };
    out() << (!drawn
                  ? fmt::format("{:>10}  {}\n", text, v.refused)
                  : fmt::format("{:>10}  finished {:<18} pleat {:<8} layers {:<4} {} creases\n", text,
                                v.finished_mm ? mm(v.finished_mm->x()) + " x " + mm(v.finished_mm->y()) : "not known",
                                mm(v.pleat_mm), v.layers > 0 ? std::to_string(v.layers) : "-", v.creases));
  }
  if (o.json) print_json({{"family", o.family}, {"parameter", o.parameter}, {"tried", list}});
  return done;
}

/// How the family is closed by hand, for `collapse --stages`.
void write_stages(const DrawnPattern& drawn, const std::string& file) {
  const auto mesh = fold_mesh(drawn.healed, drawn.full_deg, drawn.goals);
  if (!mesh) throw CallError{"--stages: " + mesh.error()};
  const auto stages = stages_by_angle(*mesh);
  if (stages.empty()) throw CallError{"--stages: no crease of this family is a mountain or a valley"};
  write_output("--stages", file, stages_json(stages));
}

/// The size of the finished piece; of what no family drew, where it folds flat.
void add_size(Json& out, const Eigen::Vector3d& box) {
  out["finished_mm"] = {box.x(), box.y()};
  out["finished_box_mm"] = {box.x(), box.y(), box.z()};
}

/// Layers, and the size of what no family drew. A family that folds flat for all its values need not be proved for
/// that, which for a large one would take longer than anybody waits.
void add_folded(Json& out, const PatternOptions& o, const Drawn& made) {
  constexpr std::chrono::seconds patience{5};
  Progress proving;
  proving.end_by(std::chrono::steady_clock::now() + patience);
  ProofOptions effort;
  effort.seconds = patience.count();
  effort.progress = &proving;
  effort.memory_bytes = 1'000'000'000;
  const auto proof = proved(healed(made.pattern), effort);
  std::optional<Point> size;
  int layers = 0;
  if (proof && proof->folds_flat()) {
    size = folded_size(*proof->form);
    layers = proof->overlap->layers_max;
  } else if (!o.family.empty() && find_pattern_family(o.family)->flat_foldable &&
             !(proof && !proof->violations.empty())) {
    const SizedFamily sized_as_drawn{{o.family, {}}, Sheet()};
    Progress counting;
    counting.end_by(std::chrono::steady_clock::now() + patience);
    const TriedValue told = figures_of(sized_as_drawn, made.all, &counting);
    layers = told.layers;
  }
  // Of what stands in space nobody can say how many layers lie anywhere.
  if (!made.all.full_deg.empty() && !made.all.lies_flat) layers = 0;
  if (size && o.family.empty()) add_size(out, {size->x(), size->y(), 0});
  if (layers == 0) return;
  out["layers_max"] = layers;
  if (!o.stock.empty()) out["thickness_mm"] = layers * stock_option(o.stock).caliper_mm;
}

/// What is proved of what closes in space; of what lies flat `check` says it.
void add_proof(Json& out, const DrawnPattern& drawn) {
  if (drawn.lies_flat) throw CallError{"--prove: this family lies flat in the end; write it to a file and check that"};
  if (drawn.usual_part == 0) throw CallError{"--prove: a grid is creased and lies open; nothing of it closes"};
  Result<SpaceProof> proof = Error{""};
  with_progress("Closing it", [&](Progress& p) { proof = space_proof(drawn, &p); });
  if (!proof) throw CallError{"--prove: " + proof.error()};
  out["in_space"] = {
      {"can_be_made", proof->can_be_made()}, {"vertices", proof->vertices}, {"closing", proof->closing},
      {"gap_deg", proof->gap_deg},           {"closed_to", proof->to_part}, {"peak_strain", proof->peak_strain},
      {"bend_deg", proof->bend_deg},         {"off_deg", proof->off_deg},   {"passed_through", proof->passed_through}};
}

int run(const PatternOptions& o, const CLI::App& c) {
  if (!o.stock.empty()) (void)stock_option(o.stock);
  if (o.list) {
    if (o.json)
      print_json(families_json());
    else
      print_families();
    return done;
  }
  if (!o.parameter.empty()) return try_values(o);
  const int sources = !o.family.empty() + !o.rules.empty() + !o.from.empty();
  if (sources != 1) throw CallError{"pattern: name one FAMILY (see --list), or --rules FILE, or --from FILE"};
  refuse_misplaced(c, {"--sheet", "--grid", "--count"}, !o.rules.empty(),
                   "belongs to --rules; a FAMILY takes --set NAME=VALUE, see --list");
  refuse_misplaced(c, {"--set"}, !o.family.empty(), "belongs to a FAMILY; name one");
  refuse_misplaced(c, {"--map"}, !o.from.empty(), "belongs to --from; name the drawing");
  if (o.out.empty() && o.stages.empty() && !o.json)
    throw CallError{"pattern: -o FILE is missing; end it in .json, .svg, .dxf or .pdf"};
  if (o.prove && (o.family.empty() || !o.json))
    throw CallError{"--prove: it is told of a FAMILY, with --json; add what is missing"};
  if (o.family.empty() && (!o.finished.empty() || !o.inside.empty()))
    throw CallError{"--finished and --inside work back from a FAMILY; name one"};
  if (!o.rules.empty()) refuse_to_replace("-o", o.out, {o.rules});
  if (o.family.empty() && !o.stages.empty()) throw CallError{"--stages are those of a FAMILY; name one"};
  if (!o.stages.empty() && o.stages == o.out) throw CallError{"--stages and -o name one file; give two names"};
  const PatternSource source{o.from, o.maps, o.format};
  HandClosing closing; // of a pattern that is read
  const Drawn made = !o.family.empty()  ? family(o)
                     : !o.rules.empty() ? rules(o)
                                        : Drawn{read_pattern(source, nullptr, &closing).pattern, {}, {}};
  if (o.from.empty()) closing = {made.all.full_deg, made.all.goals};
  if (!o.out.empty()) write_pattern(made.pattern, o.out, source, closing);
  if (!o.stages.empty()) write_stages(made.all, o.stages);
  if (!o.json) return done;
  Json out{{"finished_mm", nullptr},
           {"layers_max", nullptr},
           {"pleat_mm", nullptr},
           {"vertices", made.pattern.vertices.size()}};
  int creases = 0;
  for (const PatternEdge& e : made.pattern.edges) creases += folds(e.kind);
  out["creases"] = creases;
  add_figures(out, made.figures);
  for (const HeldFlat& h : made.all.held) {
    Json outline = Json::array();
    for (const Point& p : h.part) outline.push_back({p.x(), p.y()});
    out["held_flat"].push_back({{"part", h.what}, {"outline", std::move(outline)}});
  }
  const Point sheet = bounding_box(made.pattern.vertices).size();
  out["sheet_mm"] = {sheet.x(), sheet.y()};
  if (!o.stock.empty()) {
    const auto from = nearest_sheet(generic_stocks(), sheet.x(), sheet.y(), o.stock);
    out["cut_from"] = from ? Json{{"stock", from->stock.name},
                                  {"sheet_mm", {from->stock.width_mm, from->stock.height_mm}},
                                  {"pieces", from->pieces},
                                  {"left_over", from->left_over}}
                           : Json(nullptr);
  }
  add_folded(out, o, made);
  if (!o.family.empty()) {
    FinishedMeasure measure;
    if (const auto size = measure(made.all)) add_size(out, *size);
    if (measure.by_collapse()) out["finished_by"] = "collapse";
    if (made.all.usual_part < 1) out["closed_to"] = made.all.usual_part;
    if (o.prove) add_proof(out, made.all);
  }
  if (!o.stock.empty() && out.contains("finished_box_mm")) {
    const double caliper = stock_option(o.stock).caliper_mm;
    auto& box = out["finished_box_mm"];
    if (out.contains("thickness_mm") && box[2] == 0.0)
      box[2] = out["thickness_mm"];
    else
      for (auto& side : box) side = side.get<double>() + caliper;
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
  c->add_flag("--prove", o->prove,
              "With --json, of a FAMILY that closes in space: whether it does, and at what strain");
  c->add_option("--try", o->parameter, "A parameter tried over its range: finished size, pleat, layers at each value");
  c->add_option("--stock", o->stock, "Paper by name, for the thickness of all layers and the sheet it is cut from");
  c->add_option("--rules", o->rules, "Draw the rules of a file, one a line");
  c->add_option("--from", o->from, "Read a pattern: .json, .svg or .dxf");
  c->add_option("--format", o->format, "json, svg or dxf, where the name does not tell");
  c->add_option("--map", o->maps, "Kind of lines in a drawing, as colour:#ff0000=mountain; may be repeated");
  c->add_option("--sheet", o->sheet, "Sheet for --rules")->capture_default_str();
  c->add_option("--grid", o->grid, "square, diagonal or equilateral")->capture_default_str();
  c->add_option("--count", o->count, "Cells across for --rules")->capture_default_str();
  c->add_option("-o,--output", o->out, "FILE " + endings_for(FileUse::write_pattern));
  c->add_option("--stages", o->stages, "FILE for the stages in which a family is closed by hand, as collapse reads it");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli pattern chevron --set count=16 -o panel.svg");
  c->callback([&action, o, c] { action = [o, c] { return run(*o, *c); }; });
}

} // namespace uc::cli
