// reference: the best routes to a mark, a point, a line or an angle.
#include "command.h"
#include "construction_json.h"
#include "handout_output.h"

#include "base/expression.h"
#include "programme/text.h"
#include "reference/recipe.h"
#include "reference/search.h"

#include <fmt/format.h>

#include <cmath>
#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct ReferenceOptions {
  std::string sheet, mark, point, line, angle, recipe, max_creases = "4", top = "5", sigma = "0.25";
  std::string crease_worth = "0", exact_bonus = "0", scar_worth = "0";
  std::vector<std::string> keep_clean;
  HandoutOutput output;
  bool json = false;
};

std::vector<double> lengths(const std::string& name, const std::string& text, std::size_t count,
                            const std::string& form) {
  std::vector<double> values;
  std::size_t at = 0;
  while (at <= text.size()) {
    const auto comma = std::min(text.find(',', at), text.size());
    values.push_back(length_option(name, text.substr(at, comma - at)));
    at = comma + 1;
  }
  if (values.size() != count) throw CallError{fmt::format("{}: \"{}\" is incomplete; type {}", name, text, form)};
  return values;
}

Target target_of(const ReferenceOptions& o, const Polygon& sheet) {
  const int given = !o.mark.empty() + !o.point.empty() + !o.line.empty() + !o.angle.empty();
  if (given != 1)
    throw CallError{given == 0 ? "nothing is wanted; give one of --mark, --point, --line and --angle"
                               : "two things are wanted at once; give only one of --mark, --point, --line and --angle"};
  const auto checked = [](const char* name, Result<Target> target) {
    if (!target) throw CallError{fmt::format("{}: {}", name, target.error())};
    return *target;
  };
  if (!o.mark.empty()) {
    if (o.mark.find(':') == std::string::npos)
      throw CallError{fmt::format("--mark: \"{}\" is not a mark; type an edge and a fraction such as {}:1/3", o.mark,
                                  edge_id(sheet, 0))};
    return checked("--mark", parse_target(sheet, o.mark));
  }
  if (!o.point.empty()) {
    const auto v = lengths("--point", o.point, 2, "X,Y");
    return checked("--point", wanted_point(sheet, {v[0], v[1]}));
  }
  if (!o.line.empty()) {
    const auto v = lengths("--line", o.line, 4, "X1,Y1,X2,Y2");
    return checked("--line", wanted_line(sheet, {v[0], v[1]}, {v[2], v[3]}));
  }
  const auto degrees = parse_degrees(o.angle);
  if (!degrees) throw CallError{"--angle: " + degrees.error()};
  return checked("--angle", wanted_angle(*degrees));
}

Json route_json(const Route& route, const Programme& programme) {
  const ConstructionItem& result = route.construction[route.result];
  Json end = result.is_line() ? Json{{"line", line_json(result.line)}} : Json{{"point", point_json(result.point)}};
  return {{"creases", route.creases},
          {"error_mm", route.error_mm},
          {"sigma_mm", route.sigma_mm},
          {"pinches", route.pinches},
          {"steps", steps_json(route.construction, route.needs, programme)},
          {"result", std::move(end)}};
}

/// What counts beside the error itself, in mm of error.
double weight_option(const std::string& option, const std::string& text) {
  const auto length = parse_length(text);
  if (!length || !(length->value >= 0 && length->value <= 100))
    throw CallError{fmt::format("{} {}: type 0 to 100 mm", option, text)};
  return length->value;
}

/// What was asked for, as the title of its hand-out.
std::string wanted(const ReferenceOptions& o) {
  return !o.mark.empty()    ? "Mark at " + o.mark
         : !o.point.empty() ? "Mark at " + o.point
         : !o.line.empty()  ? "Line " + o.line
                            : "Crease at " + o.angle + "°";
}

int print(const std::vector<Route>& routes, double sigma_mm, const ReferenceOptions& o) {
  HandProfile hand;
  hand.sigma_mm = sigma_mm;
  const bool json = o.json;
  Json list = Json::array();
  for (const Route& route : routes) {
    const Programme programme = programme_of(route, hand);
    if (&route == &routes.front()) write_handout(programme, wanted(o), "on " + o.sheet, o.output, {o.recipe});
    if (json) {
      list.push_back(route_json(route, programme));
      continue;
    }
    out() << fmt::format("{} crease{}, {} pinch{}; off by {}: {} by its geometry, {} by the hand ({})\n", route.creases,
                         route.creases == 1 ? "" : "s", route.pinches, route.pinches == 1 ? "" : "es",
                         format_error(Millimetres{route.total_mm()}, LengthUnit::mm),
                         route.exact ? "exact" : format_error(Millimetres{route.error_mm}, LengthUnit::mm) + " off",
                         format_error(Millimetres{route.sigma_mm}, LengthUnit::mm), route.idea);
    const ProgrammeTeller teller(programme);
    for (std::size_t i = 0; i < programme.moves.size(); ++i) out() << fmt::format("{:4}. {}\n", i + 1, teller.text(i));
    out() << "\n";
  }
  if (json) print_json({{"routes", list}});
  return done;
}

std::vector<Route> typed_route(const std::string& file, const Polygon& sheet, const Target& target,
                               const SearchOptions& options) {
  const std::string text = read_input("--recipe", file);
  const auto recipe = parse_recipe(sheet, text);
  if (!recipe) throw CallError{fmt::format("{}: {}", file, recipe.error())};
  const bool line = target.kind == Target::Kind::line || target.kind == Target::Kind::angle;
  const int result = recipe->results.front();
  if (recipe->construction[result].is_line() != line)
    throw CallError{fmt::format("{}: the recipe ends in a {}, but a {} is wanted; name another result", file,
                                line ? "mark" : "line", line ? "line" : "mark")};
  auto route = judged(recipe->construction, result, target, {options.sigma_mm, options.keep_clean});
  if (!route) throw CallError{file + ": some fold of the recipe does not fix its crease; choose other marks"};
  return {std::move(*route)};
}

int run(const ReferenceOptions& o) {
  const Sheet sheet = sheet_option(o.sheet);
  const Polygon& outline = sheet.outline();
  SearchOptions search;
  search.max_creases = whole_option("--max-creases", o.max_creases, 1, most_route_creases);
  search.top = whole_option("--top", o.top, 1, 100);
  search.sigma_mm = length_option("--sigma", o.sigma);
  search.weights = {weight_option("--crease-worth", o.crease_worth), weight_option("--scar-worth", o.scar_worth) / 100,
                    weight_option("--exact-bonus", o.exact_bonus)};
  if (search.sigma_mm < least_sigma_mm || search.sigma_mm > greatest_sigma_mm)
    throw CallError{fmt::format("--sigma: {} mm cannot be used; type {} to {} mm", format_number(search.sigma_mm, 4),
                                least_sigma_mm, greatest_sigma_mm)};
  for (const std::string& text : o.keep_clean) {
    const auto v = lengths("--keep-clean", text, 4, "X0,Y0,X1,Y1");
    if (v[0] >= v[2] || v[1] >= v[3])
      throw CallError{
          fmt::format("--keep-clean: \"{}\" has no area; type its lower left, then its upper right corner", text)};
    search.keep_clean.push_back({{v[0], v[1]}, {v[2], v[3]}});
  }
  const Target target = target_of(o, outline);
  if (const auto ok = check_search(outline, target, search); !ok) throw CallError{ok.error()};

  std::vector<Route> routes;
  if (!o.recipe.empty()) {
    routes = typed_route(o.recipe, outline, target, search);
    return print(routes, search.sigma_mm, o);
  }
  Result<std::shared_ptr<const SheetIndex>> index = Error{""};
  with_progress("Learning this shape of sheet",
                [&](Progress& p) { index = cached_index(outline, default_cache_folder(), &p); });
  if (!index) throw CallError{"--sheet: " + index.error()};
  const auto found = find_routes(**index, outline, target, search);
  if (!found) {
    err() << "under-crease-cli: " << found.error() << "\n";
    if (o.json) print_json({{"routes", Json::array()}});
    return answer_is_no;
  }
  return print(*found, search.sigma_mm, o);
}

} // namespace

void add_reference(CLI::App& app, Action& action) {
  auto o = std::make_shared<ReferenceOptions>();
  CLI::App* c =
      app.add_subcommand("reference", "Find the best ways to fold a mark, a point, a line or an angle on a sheet.");
  c->add_option("--sheet", o->sheet, "square:240mm, 210x297mm, a4, strip:300x40mm, ngon:6:100mm")->required();
  c->add_option("--mark", o->mark, "EDGE:FRACTION, such as bottom:1/3, from the left or lower end");
  c->add_option("--point", o->point, "X,Y");
  c->add_option("--line", o->line, "X1,Y1,X2,Y2");
  c->add_option("--angle", o->angle, "Direction of the crease, 0 to 180 degrees from the bottom edge");
  c->add_option("--max-creases", o->max_creases, "1 to 6 (4)");
  c->add_option("--top", o->top, "How many routes to list (5)");
  c->add_option("--sigma", o->sigma, "Standard error of one crease of the hand (0.25 mm)");
  c->add_option(
      "--crease-worth", o->crease_worth,
      "mm of error by which a route with a crease more must be better to come first (0; the window takes 0.02)");
  c->add_option("--exact-bonus", o->exact_bonus,
                "mm by which an exact route may be worse and still come first (0; the window takes 0.03)");
  c->add_option("--scar-worth", o->scar_worth, "mm of error that 100 mm of crease count as (0)");
  c->add_option("--keep-clean", o->keep_clean, "X0,Y0,X1,Y1, an area without creases; may be given again")
      ->expected(1)
      ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
  c->add_option("--recipe", o->recipe, "A file with a recipe of your own, to be judged instead of searching");
  add_handout(*c, o->output, "the hand-out of the first route");
  c->add_flag("--json", o->json, "Print one JSON document");
  c->footer("Example: under-crease-cli reference --sheet square:240mm --mark bottom:1/7 --max-creases 4 --json");
  c->callback([o, &action] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
