// divide: the plan of one grid, as text or as the JSON of the contract.
#include "command.h"
#include "handout_output.h"

#include "base/expression.h"
#include "divide/division.h"
#include "divide/starts.h"
#include "divide/typed.h"
#include "programme/text.h"

#include <fmt/format.h>

#include <cmath>
#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct DivideOptions {
  std::string sheet, parts, axis = "x", method = "best", sigma = "0.25", guess_sigma = "2", start;
  HandoutOutput output;
  bool either_side = false;
  bool json = false;
};

Json family_json(const Division& d, std::size_t f) {
  const Family& family = d.layout.families[f];
  const GridPlan& plan = d.plans[f];
  Json lines = Json::array();
  for (int k = 0; k <= d.spec.parts; ++k) {
    const double sigma = plan.line_sigma_mm[static_cast<std::size_t>(k)];
    lines.push_back({{"index", k}, {"position_mm", family.extent_mm * k / d.spec.parts}, {"sigma_mm", sigma}});
  }
  Json steps = Json::array();
  auto move = d.programme.moves.begin() + d.start_moves;
  static constexpr const char* kinds[] = {"bring", "through", "guess"};
  TextStyle style;
  style.as_it_lies = false; // steps do not list the turns between them
  const ProgrammeTeller teller(d.programme, style);
  for (const GridStep& step : plan.steps) {
    while (move->creases().makes != line_element_id(f, step.makes)) ++move;
    steps.push_back({{"n", steps.size() + 1},
                     {"kind", kinds[static_cast<int>(step.kind)]},
                     {"a", step.a},
                     {"b", step.b},
                     {"makes", step.makes},
                     {"extent", step.pinch ? "pinch" : "full"},
                     {"text", teller.text(static_cast<std::size_t>(move - d.programme.moves.begin()))}});
    ++move;
  }
  return {{"axis", family.name}, {"extent_mm", family.extent_mm}, {"lines", lines}, {"steps", steps}};
}

int run(const DivideOptions& o) {
  const Sheet sheet = sheet_option(o.sheet);
  GridSpec spec;
  spec.parts = whole_option("--parts", o.parts, least_parts, greatest_parts);
  const auto axis = named<GridAxis>(o.axis);
  if (!axis)
    throw CallError{fmt::format("--axis: \"{}\" is not a direction; type x, y, both, diagonal or equilateral", o.axis)};
  spec.axis = *axis;
  const auto method = named<Method>(o.method);
  if (!method) {
    throw CallError{
        fmt::format("--method: \"{}\" is not a method; type best, edges, neighbours, stepping or iterated", o.method)};
  }
  spec.method = *method;
  HandProfile hand;
  hand.sigma_mm = length_option("--sigma", o.sigma);
  hand.guess_sigma_mm = length_option("--guess-sigma", o.guess_sigma);
  hand.either_side = o.either_side;
  if (!o.start.empty()) {
    const auto kind = named<StartKind>(o.start);
    std::shared_ptr<const SheetIndex> index;
    if (kind == StartKind::route) {
      with_progress("Learning this shape of sheet", [&](Progress& p) {
        const auto made = cached_index(sheet.outline(), default_cache_folder(), &p);
        if (made) index = *made;
      });
    }
    const auto start = kind && *kind != StartKind::given ? start_of(sheet, spec, hand, *kind, index.get())
                                                         : parse_start_mark(o.start, spec.parts);
    if (!start) throw CallError{"--start: " + start.error()};
    spec.start = *start;
  }
  const auto division = divide(sheet, spec, hand);
  if (!division) throw CallError{division.error()};
  const Division& d = *division;
  write_handout(d.programme, fmt::format("{} parts on {}", spec.parts, sheet.code()), "", o.output);

  if (o.json) {
    Json j = {{"parts", spec.parts},
              {"method", o.method},
              {"sigma_mm", hand.sigma_mm},
              {"guess_sigma_mm", hand.guess_sigma_mm},
              {"worst_sigma_mm", d.worst_sigma_mm},
              {"creases", d.creases},
              {"turn_overs", d.turn_overs},
              {"rotations", d.rotations},
              {"minutes", d.minutes}};
    if (d.guides > 0) j["guides"] = d.guides;
    if (d.start_moves > 0) {
      Json first = Json::array();
      TextStyle style;
      style.as_it_lies = false;
      const ProgrammeTeller teller(d.programme, style);
      for (int i = 0; i < d.start_moves; ++i) first.push_back(teller.text(static_cast<std::size_t>(i)));
      j["start"] = {{"line", d.spec.start->line},
                    {"sigma_mm", d.spec.start->sigma_mm},
                    {"creases", d.start_creases},
                    {"moves", first}};
    }
    if (d.plans.size() == 1) {
      j.update(family_json(d, 0));
    } else {
      j["families"] = Json::array();
      for (std::size_t f = 0; f < d.plans.size(); ++f) j["families"].push_back(family_json(d, f));
    }
    print_json(j);
    return done;
  }
  out() << fmt::format("{} parts on {}, method {}\n", spec.parts, sheet.code(), o.method);
  const ProgrammeTeller teller(d.programme);
  for (std::size_t i = 0; i < d.programme.moves.size(); ++i) out() << fmt::format("{:4}. {}\n", i + 1, teller.text(i));
  const std::string guides = d.guides > 0 ? fmt::format(" and {} to guide them", d.guides) : "";
  out() << fmt::format(
      "{} creases{}, {} turn-overs, {} rotations, {:.0f} minutes; expected error {} at the worst line, "
      "{} on average\n",
      d.creases, guides, d.turn_overs, d.rotations, d.minutes,
      format_error(Millimetres{d.worst_sigma_mm}, LengthUnit::mm),
      format_error(Millimetres{d.mean_sigma_mm}, LengthUnit::mm));
  return done;
}

} // namespace

void add_divide(CLI::App& app, Action& action) {
  auto o = std::make_shared<DivideOptions>();
  CLI::App* c = app.add_subcommand("divide", "Plan a division into equal parts with the expected error of every line.");
  c->add_option("--sheet", o->sheet, "square:240mm, 210x297mm, a4, strip:300x40mm, ngon:6:100mm")->required();
  c->add_option("--parts", o->parts, "Number of equal parts, 2 to 256")->required();
  c->add_option("--axis", o->axis, "x, y, both, diagonal or equilateral (x)");
  c->add_option("--method", o->method, "best, edges, neighbours, stepping or iterated (best)");
  c->add_option("--sigma", o->sigma, "Standard error of one crease of the hand (0.25 mm)");
  c->add_option("--guess-sigma", o->guess_sigma, "Standard error of a mark placed by eye (2 mm)");
  c->add_flag("--either-side", o->either_side, "Bring paper over from left and right alike, without half turns");
  c->add_option("--start", o->start,
                "A/N:MM, a mark that exists already and its standard error; or diagonals, corner-fold, binary, route, "
                "ruler, printed: where an odd count starts from");
  add_handout(*c, o->output);
  c->add_flag("--json", o->json, "Print one JSON document");
  c->footer("Example: under-crease-cli divide --sheet square:240mm --parts 24 --axis both --json");
  c->callback([o, &action] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
