// units: many pieces folded alike into a planned solid: counts, sheets, cuts, colours, joints, order.
#include "command.h"
#include "space_output.h"

#include "io/exports.h"
#include "io/formats.h"
#include "io/units_json.h"
#include "paper/stock.h"
#include "solid/expression.h"
#include "unit/unit_programme.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct UnitsOptions {
  std::string solid, family, sheet, finished, colours, variant = "0", symmetry, stock, out;
  std::string from, margin = "0";
  std::vector<std::string> own_files;
  StillOptions still;
  bool bands = false, keep_grain = false;
  bool list = false;
  bool json = false;
};

int list(bool json) {
  Json families = Json::array();
  for (const UnitFamily& f : unit_families()) {
    families.push_back({{"name", f.name},
                        {"title", f.title},
                        {"stands_for", name_of(f.stands_for)},
                        {"sheet_ratio", f.ratio},
                        {"handed", f.handed},
                        {"mathematics", f.mathematics}});
    if (!json) out() << fmt::format("{:<18} {:<7} {}\n", f.name, name_of(f.stands_for), f.title);
  }
  Json stocks = Json::array();
  for (const Stock& s : generic_stocks()) stocks.push_back(s.name);
  if (json) print_json({{"families", families}, {"stocks", stocks}});
  return done;
}

std::vector<OwnFamily> own_families(const UnitsOptions& o) {
  std::vector<OwnFamily> out;
  for (const std::string& file : o.own_files) {
    const std::string text = read_input("--own", file);
    auto family = parse_own_family(text);
    if (!family) throw CallError{fmt::format("--own: {}: {}", file, family.error())};
    out.push_back(std::move(family).value());
  }
  return out;
}

UnitWish wish_of(const UnitsOptions& o) {
  UnitWish w;
  w.own = own_families(o);
  w.family = o.family;
  w.solid = o.solid;
  if (!o.sheet.empty() && !o.finished.empty()) throw CallError{"--sheet and --finished: give one of them"};
  if (!o.sheet.empty()) {
    const auto sheet = unit_sheet(o.family, o.sheet, w.own);
    if (!sheet) throw CallError{"--sheet " + sheet.error()};
    w.sheet = *sheet;
  }
  if (!o.finished.empty()) w.finished_mm = length_option("--finished", o.finished, 5, 10'000);
  if (!o.colours.empty()) w.colours = whole_option("--colours", o.colours, 1, 24);
  if (!o.from.empty()) {
    const Sheet from = sheet_option(o.from);
    if (!from.has_right_corners()) throw CallError{fmt::format("--from {}: pieces are cut from rectangles", o.from)};
    w.from = UnitSheet{from.width(), from.height()};
  }
  w.margin_mm = o.margin == "0" ? 0 : length_option("--margin", o.margin, 0, 10'000);
  if (w.margin_mm > 0 && !w.from)
    throw CallError{"--margin: it is left round the pieces on larger sheets; give --from too"};
  w.keep_grain = o.keep_grain;
  w.bands = o.bands;
  if (o.symmetry == "all")
    w.symmetry = 0;
  else if (!o.symmetry.empty())
    w.symmetry = whole_option("--symmetry", o.symmetry, 2, 1000);
  w.variant = whole_option("--variant", o.variant, 0, 999);
  if (!o.stock.empty()) {
    const Stock stock = stock_option(o.stock);
    w.stock = stock.name;
    w.caliper_mm = stock.caliper_mm;
    w.largest_mm = stock.largest_mm;
  }
  return w;
}

Json plan_json(const UnitPlan& p) {
  Json units = Json::array();
  for (std::size_t u = 0; u < p.graph.units.size(); ++u) {
    const Unit& unit = p.graph.units[u];
    Json j{{"id", u}, {"colour", p.colours.colour[u]}, {"piece_mm", {unit.width_mm, unit.height_mm}}};
    switch (unit.kind) {
    case Unit::Kind::edge:
      j["edge"] = unit.vertices;
      break;
    case Unit::Kind::clip:
      j["edge"] = unit.vertices;
      j["clip"] = true;
      break;
    case Unit::Kind::face:
      j["face"] = unit.index;
      break;
    case Unit::Kind::vertex:
      j["vertex"] = unit.index;
      break;
    }
    units.push_back(std::move(j));
  }
  Json cuts = Json::array();
  for (const UnitCut& c : p.cutting.pieces)
    cuts.push_back({{"sheet", c.sheet},
                    {"unit", c.unit},
                    {"at_mm", {c.at_mm.x(), c.at_mm.y()}},
                    {"size_mm", {c.size_mm.x(), c.size_mm.y()}}});
  Json assembly = Json::array();
  for (std::size_t i = 0; i < p.assembly.size(); ++i) {
    Json closes = Json::array();
    for (const int r : p.assembly[i].closes) {
      const auto& ring = p.graph.rings[static_cast<std::size_t>(r)].units;
      closes.push_back({{"ring", ring.size()}, {"units", ring}});
    }
    assembly.push_back(
        {{"n", i + 1}, {"add", {p.assembly[i].add}}, {"closes", closes}, {"rings_closed", p.assembly[i].rings_closed}});
  }
  Json ridges = Json::array();
  for (const Ridge& r : p.ridges)
    ridges.push_back({{"angle_deg", r.angle_deg},
                      {"units", r.units},
                      {"fold", r.fold() == Fold::undirected ? "none" : name_of(r.fold())}});
  Json out{{"units", p.graph.units.size()},
           {"sheets", p.cutting.sheets},
           {"sheet_mm", {p.sheet.width_mm, p.sheet.height_mm}},
           {"from_mm", {p.cutting.sheet_mm.x(), p.cutting.sheet_mm.y()}},
           {"cuts", p.cutting.cuts},
           {"edge_mm", p.edge_mm},
           {"diameter_mm", p.diameter_mm},
           {"warnings", p.warnings},
           {"unit_list", units},
           {"cut_list", cuts},
           {"joints", p.graph.joints},
           {"hold", name_of(p.hold)},
           {"glued", p.hold == Hold::glue ? Json(p.graph.joints) : Json::array()},
           {"ridges", ridges},
           {"assembly", assembly}};
  if (p.bend) out["bend_deg"] = {{"worst", p.bend->worst_deg}, {"mean", p.bend->mean_deg}};
  return out;
}

int run(const UnitsOptions& o, const CLI::App& c) {
  if (o.list) return list(o.json);
  if (o.solid.empty() || o.family.empty())
    throw CallError{"units: give --solid NAME and --family F; --list names the families"};
  if (const auto own = own_families(o); !unit_family(o.family, own)) {
    std::string names;
    for (const auto& f : all_unit_families(own)) names += (names.empty() ? "" : ", ") + f->name;
    throw CallError{fmt::format("--family {}: there are {}", o.family, names)};
  }
  const bool handout = static_cast<bool>(format_for(FileUse::write_units, o.out));
  check_space(c, handout ? std::string() : o.out, o.still);
  if (const auto solid = parse_solid(o.solid); !solid) throw CallError{"--solid: " + solid.error()};
  const UnitWish wish = wish_of(o);
  const auto plan = unit_plan(wish);
  if (!plan) return refused(plan.error(), o.json);
  if (!o.colours.empty() && wish.colours == 1 && !plan->graph.joints.empty())
    return refused(
        "one colour cannot keep units apart that join; give --colours 2 or more, or leave it out for one paper",
        o.json);
  if (handout) {
    const Programme programme = unit_programme(*plan, {}, HandProfile{});
    ExportOptions options;
    options.fonts.folder = font_folder();
    const auto bytes = units_bytes(*plan, programme, o.solid, o.out, options);
    if (!bytes) throw CallError{"-o " + bytes.error()};
    write_output("-o", o.out, *bytes);
  } else if (!o.out.empty()) {
    const SpatialModel model = model_of(*plan, o.solid, palette_of(*plan, {}));
    write_output("-o", o.out, space_file(o.out, model, o.still, plan->diameter_mm));
  }
  if (o.json) {
    print_json(plan_json(*plan));
    return done;
  }
  out() << fmt::format(
      "{} units from {} sheets of {:.1f} x {:.1f} mm, {} cuts; edges {:.1f} mm, {:.1f} mm across, {} joints\n",
      plan->graph.units.size(), plan->cutting.sheets, plan->sheet.width_mm, plan->sheet.height_mm, plan->cutting.cuts,
      plan->edge_mm, plan->diameter_mm, plan->graph.joints.size());
  if (plan->bend)
    out() << fmt::format("Joints give by {:.1f} degrees at worst, {:.1f} on average, compared with a flat unit.\n",
                         plan->bend->worst_deg, plan->bend->mean_deg);
  for (const std::string& r : ridge_texts(plan->ridges)) out() << r << "\n";
  if (plan->hold == Hold::glue) out() << "Glue holds it. " << caution_text(Caution::glue) << "\n";
  for (const std::string& w : plan->warnings) out() << "Note: " << w << ".\n";
  if (plan->cutting.cuts > 0)
    out() << "Cut with a sharp blade against a steel ruler, on a mat, fingers behind the ruler.\n";
  return done;
}

} // namespace

void add_units(CLI::App& app, Action& action) {
  auto o = std::make_shared<UnitsOptions>();
  auto* c = app.add_subcommand("units", "Plan a solid of many units: counts, sheets, cuts, colours, order");
  c->add_option("--own", o->own_files, "A unit of your own, described in a .json file; may be repeated");
  c->add_option("--solid", o->solid, "The solid, as for the command solid");
  c->add_option("--family", o->family, "The unit family, see --list");
  c->add_option("--sheet", o->sheet, "Sheet of one unit (half-square: of two; strips: the strip)");
  c->add_option("--finished", o->finished, "Outside diameter, tips included; the sheet is worked back");
  c->add_option("--colours", o->colours, "Colours, no two alike at a joint; without it all units are of one paper");
  c->add_option("--variant", o->variant, "Another answer of the colours")->capture_default_str();
  c->add_option("--from", o->from, "Larger sheets that the pieces are cut from, such as a4");
  c->add_option("--margin", o->margin, "Left round the pieces on those sheets")->capture_default_str();
  c->add_flag("--keep-grain", o->keep_grain, "All pieces lie one way on the sheet");
  c->add_option("--symmetry", o->symmetry, "A rotation of this order takes colours to colours: 2, 3, 5 ..., or all");
  c->add_flag("--bands", o->bands, "Edges straight on round the solid have one colour");
  c->add_option("--stock", o->stock, "Paper by name");
  c->add_option("-o", o->out,
                "Write the solid in its colours: " + space_endings() +
                    "; or the hand-out: " + endings_for(FileUse::write_units));
  add_still(*c, o->still, false);
  c->add_flag("--list", o->list, "List families and stocks");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer(
      "Example: under-crease-cli units --solid icosahedron --family parallelogram --sheet square:75mm --colours 3");
  c->callback([&action, o, c] { action = [o, c] { return run(*o, *c); }; });
}

} // namespace uc::cli
