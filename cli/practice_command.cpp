// practice: short exercises on scrap, and what is measured of each.
#include "command.h"

#include "base/clean_text.h"
#include "base/expression.h"
#include "io/practice.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <sstream>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct PracticeOptions {
  std::string name, measured;
  bool list = false, json = false;
};

Json measures_json(const Exercise& e) {
  Json all = Json::array();
  for (const ExerciseMeasure& m : e.measures) all.push_back({{"what", m.what}, {"planned_mm", m.planned_mm}});
  return all;
}

int list(const std::vector<Exercise>& all, bool json) {
  if (json) {
    Json out = Json::array();
    for (const Exercise& e : all)
      out.push_back({{"name", e.steps.name},
                     {"title", e.steps.file.title},
                     {"moves", e.steps.moves},
                     {"measures", measures_json(e)}});
    print_json({{"exercises", out}});
    return done;
  }
  for (const Exercise& e : all) {
    const auto moves = static_cast<std::size_t>(e.steps.moves);
    out() << fmt::format("{:22} {:2} {}  {}\n", e.steps.name, moves, moves == 1 ? "move " : "moves",
                         e.steps.file.title);
  }
  return done;
}

int show(const Exercise& e, const PracticeOptions& o) {
  std::vector<double> found;
  std::istringstream values(o.measured);
  for (std::string one; std::getline(values, one, ',');) found.push_back(length_option("--measured", one, 0, 100'000));
  if (!o.measured.empty() && found.size() != e.measures.size())
    throw CallError{fmt::format("--measured: {} figures were typed and {} are measured; give one for each, in order",
                                found.size(), e.measures.size())};
  double squares = 0;
  for (std::size_t i = 0; i < found.size(); ++i) squares += std::pow(found[i] - e.measures[i].planned_mm, 2);
  const double rms = found.empty() ? 0 : std::sqrt(squares / static_cast<double>(found.size()));
  if (o.json) {
    Json measures = measures_json(e);
    for (std::size_t i = 0; i < found.size(); ++i) {
      measures[i]["measured_mm"] = found[i];
      measures[i]["off_mm"] = found[i] - e.measures[i].planned_mm;
    }
    Json j = {{"name", e.steps.name},
              {"title", e.steps.file.title},
              {"moves", e.steps.moves},
              {"measures", measures},
              {"steps", e.steps.text}};
    if (!found.empty()) j["rms_mm"] = rms;
    print_json(j);
    return done;
  }
  out() << e.steps.file.title << "\n" << e.steps.text.substr(e.steps.text.find('\n') + 1) << "Measure:\n";
  for (std::size_t i = 0; i < e.measures.size(); ++i) {
    out() << fmt::format("  {}: {:.2f} mm", e.measures[i].what, e.measures[i].planned_mm);
    if (!found.empty())
      out() << fmt::format(", found {:.2f}, off by {:+.2f}", found[i], found[i] - e.measures[i].planned_mm);
    out() << "\n";
  }
  if (!found.empty()) out() << fmt::format("off by {:.2f} mm (root mean square)\n", rms);
  return done;
}

int run(const PracticeOptions& o) {
  if (o.list != o.name.empty()) throw CallError{"NAME: name an exercise, or --list them; one of both"};
  if (o.list && !o.measured.empty()) throw CallError{"--measured: belongs to one exercise; name it in place of --list"};
  const auto all = exercises(practice_folder());
  if (!all) throw CallError{all.error()};
  if (o.list) return list(*all, o.json);
  const auto found = std::find_if(all->begin(), all->end(), [&](const Exercise& e) { return e.steps.name == o.name; });
  if (found == all->end())
    throw CallError{fmt::format("{} is not an exercise; see practice --list", shown_text(o.name))};
  return show(*found, o);
}

} // namespace

void add_practice(CLI::App& app, Action& action) {
  auto o = std::make_shared<PracticeOptions>();
  auto* c = app.add_subcommand("practice", "Exercises on scrap paper, and what is measured of each");
  c->add_option("NAME", o->name, "An exercise, such as halve");
  c->add_flag("--list", o->list, "List them");
  c->add_option("--measured", o->measured, "What was measured, in the order listed: 37.6,18.9");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli practice edge-to-crease --measured 18.9");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
