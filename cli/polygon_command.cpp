// polygon: how large a regular polygon a sheet holds, and the ways to fold it.
#include "command.h"
#include "construction_json.h"
#include "handout_output.h"

#include "programme/text.h"
#include "reference/polygon.h"
#include "reference/recipe.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct PolygonOptions {
  std::string sheet, sides, recipe, sigma = "0.25";
  HandoutOutput output;
  bool json = false, landings = false;
};

Json method_json(const PolygonMethod& m, const Programme& programme) {
  Json vertices = Json::array();
  for (const Point& p : m.outline()) vertices.push_back(point_json(p));
  return {{"name", m.name},
          {"exact", m.exact},
          {"vertices", vertices},
          {"side_min_mm", m.side_min_mm},
          {"side_max_mm", m.side_max_mm},
          {"angle_error_deg", m.angle_error_deg},
          {"sigma_mm", m.sigma_mm},
          {"shape_mm", m.shape_mm},
          {"creases", m.creases},
          {"steps", steps_json(m.construction, m.needs, programme)}};
}

std::vector<PolygonMethod> typed_method(const std::string& file, const Polygon& sheet, int sides, double sigma_mm) {
  const std::string text = read_input("--recipe", file);
  const auto recipe = parse_recipe(sheet, text);
  if (!recipe) throw CallError{fmt::format("{}: {}", file, recipe.error())};
  if (static_cast<int>(recipe->results.size()) != sides)
    throw CallError{fmt::format("{}: the recipe results in {} marks; name {} as result, in order", file,
                                recipe->results.size(), sides)};
  auto method = judged_polygon("own recipe", recipe->construction, recipe->results, sigma_mm);
  if (!method) throw CallError{fmt::format("{}: {}", file, method.error())};
  return {std::move(method).value()};
}

int run(const PolygonOptions& o) {
  const Sheet sheet = sheet_option(o.sheet);
  const int sides = whole_option("--sides", o.sides, least_sides, most_sides);
  HandProfile hand;
  hand.sigma_mm = length_option("--sigma", o.sigma);
  if (const auto ok = checked(hand); !ok) throw CallError{"--sigma: " + ok.error()};
  const Polygon& outline = sheet.outline();
  const LargestPolygon largest = largest_polygon(outline, sides);
  Result<std::shared_ptr<const SheetIndex>> index = Error{""};
  with_progress("Learning this shape of sheet",
                [&](Progress& p) { index = cached_index(outline, default_cache_folder(), &p); });
  // Recipes that need no search are had even for sheets that are too long for one.
  auto methods = polygon_methods(outline, sides, hand.sigma_mm, index ? index->get() : nullptr);
  if (!o.recipe.empty()) methods = typed_method(o.recipe, outline, sides, hand.sigma_mm);
  if (o.json && !o.landings && methods) {
    auto plain = std::move(methods).value();
    std::erase_if(plain, [](const PolygonMethod& m) { return m.lands(); });
    methods = plain.empty() ? Result<std::vector<PolygonMethod>>(
                                  Error{"Only ways that mark vertices where edges land are left; add --landings."})
                            : std::move(plain);
  }
  Json list = Json::array();
  if (!o.json)
    out() << fmt::format("The largest has sides of {} mm, turned by {}°.\n", format_number(largest.side_mm, 3),
                         format_number(largest.turn_deg, 3));
  const std::vector<PolygonMethod> none;
  for (const PolygonMethod& m : methods ? *methods : none) {
    const Programme programme = programme_of(m, hand);
    if (&m == &methods->front())
      write_handout(programme, fmt::format("{} equal sides from {}", sides, sheet.code()), m.name, o.output,
                    {o.recipe});
    if (o.json) {
      list.push_back(method_json(m, programme));
      continue;
    }
    out() << fmt::format("\n{}: {} creases, sides {} to {} mm, angles within {}°{}; {} off a regular one\n", m.name,
                         m.creases, format_number(m.side_min_mm, 3), format_number(m.side_max_mm, 3),
                         format_number(m.angle_error_deg, 3), m.exact ? ", exact" : "",
                         format_error(Millimetres{m.shape_mm}, LengthUnit::mm));
    const ProgrammeTeller teller(programme);
    for (std::size_t i = 0; i < programme.moves.size(); ++i) out() << fmt::format("{:4}. {}\n", i + 1, teller.text(i));
    out() << "      " << caution_text(Caution::blade) << "\n";
  }
  if (!methods) err() << "under-crease-cli: " << methods.error() << "\n";
  if (o.json) {
    const Point size = bounding_box(outline).size();
    print_json({{"largest", {{"side_mm", largest.side_mm}, {"turn_deg", largest.turn_deg}}},
                {"sheet_mm", point_json(size)},
                {"methods", list}});
  }
  return methods ? done : answer_is_no;
}

} // namespace

void add_polygon(CLI::App& app, Action& action) {
  auto o = std::make_shared<PolygonOptions>();
  CLI::App* c =
      app.add_subcommand("polygon", "Fold a regular polygon from a sheet: how large, how exact, in which steps.");
  c->add_option("--sheet", o->sheet, "square:240mm, 210x297mm, a4, strip:300x40mm")->required();
  c->add_option("--sides", o->sides, "Number of sides, 3 to 24")->required();
  c->add_option("--sigma", o->sigma, "Standard error of one crease of the hand (0.25 mm)");
  c->add_option("--recipe", o->recipe, "A file with a recipe of your own whose result names the vertices in order");
  add_handout(*c, o->output, "the hand-out of the first way");
  c->add_flag("--json", o->json, "Print one JSON document");
  c->add_flag("--landings", o->landings,
              "List in the JSON document also ways that mark vertices where an edge lands (op landing: where lines[0] "
              "lands when the sheet is folded on lines[1])");
  c->footer("Example: under-crease-cli polygon --sheet square:240mm --sides 5 --json");
  c->callback([o, &action] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
