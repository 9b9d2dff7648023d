// pre-crease: the moves that put a pattern's creases on the sheet, by several schools, with what each costs.
#include "handout_output.h"
#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/quantity.h"
#include "crease/precrease.h"
#include "programme/text.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct PrecreaseOptions {
  PatternSource source;
  std::string school = "needed", sigma = "0.25", grid = "0";
  HandoutOutput output;
  bool both_ways = false;
  bool either_side = false;
  bool json = false;
};

Json costs_json(const Precrease& p) {
  return {{"school", name_of(p.spec.school)},
          {"moves", p.programme.moves.size()},
          {"folds", p.folds},
          {"pinches", p.pinches},
          {"measured_lines", p.measured},
          {"worked_again", p.worked_again},
          {"turn_overs", p.turn_overs},
          {"rotations", p.rotations},
          {"minutes", p.minutes},
          {"crease_mm", p.crease_mm},
          {"scar_mm", p.scar_mm},
          {"worst_sigma_mm", p.worst_sigma_mm},
          {"mean_sigma_mm", p.mean_sigma_mm}};
}

Json spans_json(const std::vector<Segment>& spans) {
  Json out = Json::array();
  for (const Segment& s : spans) out.push_back({s.from.x(), s.from.y(), s.to.x(), s.to.y()});
  return out;
}

Json lines_json(const Precrease& p) {
  Json out = Json::array();
  for (std::size_t i = 0; i < p.making.lines.size(); ++i) {
    const LineInMaking& l = p.making.lines[i];
    const Line& line = p.making.construction[l.items.back()].line;
    out.push_back({{"line", {line.normal.x(), line.normal.y(), line.c}},
                   {"wanted", l.carrier >= 0},
                   {"made_by", l.measured      ? "ruler"
                               : l.family >= 0 ? "division"
                                               : "alignment"},
                   {"sigma_mm", p.making.sigma_mm[i]}});
  }
  return out;
}

Json moves_json(const Programme& programme) {
  Json out = Json::array();
  const ProgrammeTeller teller(programme);
  for (const Move& m : programme.moves) {
    Json step{{"n", out.size() + 1}, {"kind", kind_name(m)}, {"text", teller.text(out.size())}};
    if (const MakeCreases& made = m.creases(); made.makes) {
      step["fold"] = name_of(made.fold);
      step["extent"] = name_of(made.extent);
      step["spans"] = spans_json(made.spans);
      step["sigma_mm"] = m.sigma_mm;
    }
    out.push_back(std::move(step));
  }
  return out;
}

std::string turned(int times) { return times == 0 ? "never" : times == 1 ? "once" : fmt::format("{} times", times); }

int run(const PrecreaseOptions& o) {
  const auto school = named<CreaseSchool>(o.school);
  if (!school)
    throw CallError{fmt::format("--school {}: type everything, needed, scored, as-you-go or usual", o.school)};
  HandProfile hand;
  hand.sigma_mm = length_option("--sigma", o.sigma);
  hand.either_side = o.either_side;
  if (const auto ok = checked(hand); !ok) throw CallError{"--sigma: " + ok.error()};
  const int grid = whole_option("--grid", o.grid, 0, greatest_parts);
  const HealedPattern pattern = read_pattern(o.source);
  if (!pattern.crossings.empty())
    throw CallError{fmt::format("{}: creases cross without a vertex; mend them first (see check)", o.source.file)};
  Json costs = Json::array();
  std::optional<Precrease> chosen;
  for (const CreaseSchool each : all_schools) {
    auto plan = precrease(pattern.pattern, hand, {each, o.both_ways}, grid);
    if (!plan && each == CreaseSchool::as_you_go && each != *school) continue; // for patterns with twists only
    if (!plan) throw CallError{fmt::format("{}: {}", o.source.file, plan.error())};
    costs.push_back(costs_json(*plan));
    if (each == *school) chosen = std::move(plan).value();
  }
  if (*school == CreaseSchool::usual) {
    auto plan = precrease(pattern.pattern, hand, {*school, o.both_ways}, grid);
    if (!plan) throw CallError{fmt::format("{}: {}", o.source.file, plan.error())};
    chosen = std::move(plan).value();
  }
  write_handout(chosen->programme, title_of(o.source), "", o.output, {o.source.file});
  if (o.json) {
    print_json({{"school", name_of(chosen->spec.school)},
                {"schools", costs},
                {"lines", lines_json(*chosen)},
                {"steps", moves_json(chosen->programme)}});
    return done;
  }
  for (const Json& c : costs)
    out() << fmt::format("{:10}  {:4} moves, {:3.0f} min, {} turned over, off by {:.2f} mm at worst, {:.0f} mm creased "
                         "where the pattern has none\n",
                         c["school"].get<std::string>(), c["moves"].get<int>(), c["minutes"].get<double>(),
                         turned(c["turn_overs"].get<int>()), c["worst_sigma_mm"].get<double>(),
                         c["scar_mm"].get<double>());
  out() << "\n";
  const ProgrammeTeller teller(chosen->programme);
  for (std::size_t i = 0; i < chosen->programme.moves.size(); ++i)
    out() << fmt::format("{:4}. {}\n", i + 1, teller.text(i));
  return done;
}

} // namespace

void add_precrease(CLI::App& app, Action& action) {
  auto o = std::make_shared<PrecreaseOptions>();
  auto* c = app.add_subcommand("pre-crease", "Plan how a pattern's creases come onto the sheet before the collapse");
  add_source(*c, o->source);
  c->add_option("--school", o->school,
                "everything, needed, scored, as-you-go or usual (needed or scored, in few moves)")
      ->capture_default_str();
  c->add_flag("--both-ways", o->both_ways, "Work every crease to both sides");
  c->add_flag("--either-side", o->either_side, "Bring paper over from left and right alike, without half turns");
  c->add_option("--sigma", o->sigma, "Your hand's standard error")->capture_default_str();
  c->add_option("--grid", o->grid, "Count of the grid under the pattern, for the school everything");
  add_handout(*c, o->output);
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli pre-crease panel.json --school needed");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
