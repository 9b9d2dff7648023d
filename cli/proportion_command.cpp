// proportion: a sheet trimmed to another ratio by folding alone, or cut into strips.
#include "command.h"
#include "construction_json.h"
#include "handout_output.h"

#include "programme/text.h"
#include "reference/proportion.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct ProportionOptions {
  std::string sheet, ratio, strips, max_creases = "9", top = "3", sigma = "0.25";
  HandoutOutput output;
  bool json = false;
};

int run_strips(const ProportionOptions& o, const Polygon& sheet) {
  const auto ways = strips_of(sheet, length_option("--strips", o.strips));
  if (!ways) throw CallError{"--strips: " + ways.error()};
  Json list = Json::array();
  const double area = signed_area(sheet);
  for (const Strips& s : *ways) {
    // Measured and cut, not folded.
    list.push_back({{"piece_mm", {s.length_mm, s.width_mm}},
                    {"kept", s.count * s.length_mm * s.width_mm / area},
                    {"creases", 0},
                    {"error_mm", 0},
                    {"sigma_mm", s.sigma_mm},
                    {"steps", Json::array()},
                    {"count", s.count},
                    {"offcut_mm", s.offcut_mm}});
    if (!o.json)
      out() << fmt::format("{} strips of {} x {} mm, {} mm left over\n", s.count, format_number(s.length_mm, 2),
                           format_number(s.width_mm, 2), format_number(s.offcut_mm, 2));
  }
  if (o.json) print_json({{"ways", list}});
  return done;
}

int run_trim(const ProportionOptions& o, const Polygon& sheet) {
  const auto ratio = parse_ratio(o.ratio);
  if (!ratio) throw CallError{"--ratio: " + ratio.error()};
  SearchOptions search;
  const int most_creases = whole_option("--max-creases", o.max_creases, 1, most_trim_creases);
  search.top = whole_option("--top", o.top, 1, 100);
  search.sigma_mm = length_option("--sigma", o.sigma);
  Result<std::shared_ptr<const SheetIndex>> index = Error{""};
  with_progress("Learning this shape of sheet",
                [&](Progress& p) { index = cached_index(sheet, default_cache_folder(), &p); });
  if (!index) throw CallError{"--sheet: " + index.error()};
  const auto trims = trims_to(**index, sheet, *ratio, search, most_creases);
  if (!trims) {
    err() << "under-crease-cli: " << trims.error() << "\n";
    if (o.json) print_json({{"ways", Json::array()}});
    return answer_is_no;
  }
  HandProfile hand;
  hand.sigma_mm = search.sigma_mm;
  Json list = Json::array();
  for (const Trim& t : *trims) {
    const Programme programme = programme_of(t, hand);
    if (&t == &trims->front()) write_handout(programme, "Ratio " + o.ratio, "from " + o.sheet, o.output);
    const Point size = bounding_box(t.piece()).size();
    list.push_back({{"piece_mm", point_json(size)},
                    {"kept", t.share},
                    {"error_mm", t.error_mm},
                    {"sigma_mm", t.sigma_mm},
                    {"creases", t.construction.creases()},
                    {"steps", steps_json(t.construction, {}, programme)}});
    if (o.json) continue;
    out() << fmt::format("{} x {} mm, {} creases; the cut is off by {} at its worse end\n", format_number(size.x(), 2),
                         format_number(size.y(), 2), t.construction.creases(),
                         format_error(Millimetres{t.total_mm()}, LengthUnit::mm));
    const ProgrammeTeller teller(programme);
    for (std::size_t i = 0; i < programme.moves.size(); ++i) out() << fmt::format("{:4}. {}\n", i + 1, teller.text(i));
    out() << "      " << caution_text(Caution::blade) << "\n\n";
  }
  if (o.json) print_json({{"ways", list}});
  return done;
}

int run(const ProportionOptions& o) {
  const Polygon sheet = sheet_option(o.sheet).outline();
  if (o.ratio.empty() == o.strips.empty()) throw CallError{"give either --ratio or --strips"};
  return o.strips.empty() ? run_trim(o, sheet) : run_strips(o, sheet);
}

} // namespace

void add_proportion(CLI::App& app, Action& action) {
  auto o = std::make_shared<ProportionOptions>();
  CLI::App* c =
      app.add_subcommand("proportion", "Trim a sheet to another ratio by folding alone, or cut it into strips.");
  c->add_option("--sheet", o->sheet, "square:240mm, 210x297mm, a4, strip:300x40mm")->required();
  c->add_option("--ratio", o->ratio, "Long side over short side: sqrt2, golden, 4/3, 2");
  c->add_option("--strips", o->strips, "Width of the strips");
  c->add_option("--max-creases", o->max_creases, "Creases in all, the one of the cut included, 1 to 9 (9)");
  c->add_option("--top", o->top, "How many ways to list (3)");
  c->add_option("--sigma", o->sigma, "Standard error of one crease of the hand (0.25 mm)");
  add_handout(*c, o->output, "the hand-out of the first way to a ratio");
  c->add_flag("--json", o->json, "Print one JSON document");
  c->footer("Example: under-crease-cli proportion --sheet square:240mm --ratio sqrt2");
  c->callback([o, &action] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
