// judge: one measured run against what a normal hand does, with the cause of what is off and what to fold again.
#include "command.h"

#include "io/measured_file.h"
#include "measure/judgement.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct JudgeOptions {
  std::string file, sigma = "0.25", sigma_error = "0", guess_sigma = "2";
  bool json = false;
};

Json document(const Judgement& j, const MeasuredRun& run) {
  Json lines = Json::array();
  for (std::size_t i = 0; i < j.lines.size(); ++i) {
    const LineVerdict& v = j.lines[i];
    lines.push_back({{"line", v.line},
                     {"planned_mm", run.position_mm[i] - v.deviation_mm},
                     {"measured_mm", run.position_mm[i]},
                     {"off_mm", v.off_mm},
                     {"limit_mm", v.limit_mm},
                     {"verdict", name_of(v.verdict)}});
  }
  Json cause;
  if (j.cause) {
    cause = {{"kind", name_of(j.cause->kind)}, {"share", j.cause->share}, {"shift_mm", j.cause->contribution_mm}};
    const bool move = j.cause->kind == Cause::Kind::fold || j.cause->kind == Cause::Kind::guess;
    cause["move"] = move ? Json(run.planned_steps[j.cause->step] + 1) : Json();
  }
  Json again = Json::array();
  for (const Repair& r : j.repair)
    again.push_back({{"line", r.line}, {"from", {r.from[0], r.from[1]}}, {"then_mm", r.then_mm}});
  return {{"lines", lines},       {"joint_limit_z", j.joint_limit_z},
          {"again", j.again},     {"zero_mm", j.zero_mm},
          {"size_mm", j.size_mm}, {"cause", cause},
          {"refold", again}};
}

std::string cause_sentence(const Judgement& j, const MeasuredRun& run) {
  const Cause& c = *j.cause;
  const std::string of = fmt::format("{:.2f} mm, {:.0f} % of it", std::abs(c.contribution_mm), 100 * c.share);
  switch (c.kind) {
  case Cause::Kind::fold:
    return fmt::format("the fold of move {} ({})", run.planned_steps[c.step] + 1, of);
  case Cause::Kind::guess:
    return fmt::format("the guess of move {} ({})", run.planned_steps[c.step] + 1, of);
  case Cause::Kind::start:
    return fmt::format("the mark the division starts from ({})", of);
  case Cause::Kind::ruler:
    return fmt::format("the ruler: its zero, or a line misread ({})", of);
  case Cause::Kind::sheet:
    return fmt::format("the size of the sheet ({})", of);
  }
  return {};
}

void tell(const Judgement& j, const MeasuredRun& run) {
  out() << fmt::format("{:>5} {:>10} {:>10} {:>8} {:>8}\n", "line", "planned", "measured", "off", "normal");
  for (std::size_t i = 0; i < j.lines.size(); ++i) {
    const LineVerdict& v = j.lines[i];
    const char* word = v.verdict == Verdict::normal ? "" : v.verdict == Verdict::odd ? "a little off, 1 in 20" : "off";
    out() << fmt::format("{:5} {:10.2f} {:10.2f} {:+8.2f} {:8.2f}  {}\n", v.line, run.position_mm[i] - v.deviation_mm,
                         run.position_mm[i], v.off_mm, v.limit_mm, word);
  }
  out() << fmt::format("off: after taking out {:+.2f} mm for the ruler's zero and {:+.2f} mm for the sheet's size\n",
                       j.zero_mm, j.size_mm);
  out() << (j.again ? "not normal: of 100 sheets folded by this hand fewer than 5 have a line so far off\n"
                    : "normal for this hand\n");
  if (j.cause) out() << "most likely cause: " << cause_sentence(j, run) << "\n";
  if (j.cause && j.cause->kind == Cause::Kind::ruler && j.again)
    out() << fmt::format("measure line {} again before anything is folded\n",
                         j.lines[static_cast<std::size_t>(j.worst)].line);
  for (const Repair& r : j.repair)
    out() << fmt::format("fold line {} again: bring line {} onto line {}; about {:.2f} mm off is then to be expected\n",
                         r.line, r.from[0], r.from[1], r.then_mm);
}

int run(const JudgeOptions& o) {
  const double sigma = length_option("--sigma", o.sigma, least_sigma_mm, greatest_sigma_mm);
  const double error = length_option("--sigma-error", o.sigma_error, 0, greatest_sigma_mm);
  const double guess = length_option("--guess-sigma", o.guess_sigma, least_sigma_mm, 10 * greatest_sigma_mm);
  const auto runs = parse_measured(read_input("", o.file), guess);
  if (!runs) throw CallError{fmt::format("{}: {}", o.file, runs.error())};
  if (runs->empty()) return refused("The file holds no run; measure one.", o.json);
  MeasuredRun measured = runs->front();
  const auto crease = [&](int line) { return line > 0 && line < measured.family.task.parts; };
  if (std::none_of(measured.family.lines.begin(), measured.family.lines.end(), crease))
    return refused("No crease of the first run is measured; measure some.", o.json);
  measured.family.task.sigma_mm = sigma;
  const Judgement judged = judge(measured.family, error);
  if (o.json)
    print_json(document(judged, measured));
  else
    tell(judged, measured);
  return done;
}

} // namespace

void add_judge(CLI::App& app, Action& action) {
  auto o = std::make_shared<JudgeOptions>();
  auto* c = app.add_subcommand("judge", "Judge a measured run: what is off, why, and what to fold again");
  c->add_option("file", o->file, "FILE.json of measured runs, of which the first is judged, or - for standard input")
      ->required();
  c->add_option("--sigma", o->sigma, "Standard error of one crease, in mm")->capture_default_str();
  c->add_option("--sigma-error", o->sigma_error, "How well that is known: its own standard error, in mm")
      ->capture_default_str();
  c->add_option("--guess-sigma", o->guess_sigma, "Standard error of a mark by eye, in mm")->capture_default_str();
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli judge measured.json --sigma 0.2 --json");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
