// hand: what measured runs say about the hand that folded them.
#include "command.h"

#include "io/json_codec.h"
#include "io/measured_file.h"
#include "measure/hand_fit.h"
#include "measure/pace.h"
#include "record/run_log.h"

#include <fmt/format.h>

#include <cmath>
#include <memory>

namespace uc::cli {
namespace {

struct HandOptions {
  std::string file, log, guess_sigma = "2";
  bool json = false;
};

struct Measured {
  std::vector<MeasuredFamily> families;
  std::vector<std::int64_t> runs; // of each, as it is called
  std::vector<TimedMove> moves;
};

Measured from_file(const HandOptions& o, double guess_sigma_mm) {
  const auto runs = parse_measured(read_input("", o.file), guess_sigma_mm);
  if (!runs) throw CallError{fmt::format("{}: {}", o.file, runs.error())};
  Measured all;
  for (std::size_t i = 0; i < runs->size(); ++i) {
    all.families.push_back((*runs)[i].family);
    all.runs.push_back(static_cast<std::int64_t>(i));
  }
  return all;
}

Measured from_log(const HandOptions& o, double guess_sigma_mm) {
  is_input(o.log);
  const auto log = RunLog::open_to_read(o.log);
  if (!log) throw CallError{"--log: " + log.error()};
  const auto listed = log->list();
  if (!listed) throw CallError{"--log: " + listed.error()};
  Measured all;
  for (const RunSummary& summary : *listed) {
    const auto run = log->load(summary.id);
    if (!run) throw CallError{"--log: " + run.error()};
    if (!run->measured.empty()) {
      const auto families = measured_families(*run);
      if (!families) throw CallError{"--log: " + families.error()};
      for (MeasuredFamily family : *families) {
        family.task.guess_sigma_mm = guess_sigma_mm;
        all.families.push_back(std::move(family));
        all.runs.push_back(summary.id);
      }
    }
    if (summary.status != RunStatus::finished) continue;
    const auto timed = timed_moves(*run);
    all.moves.insert(all.moves.end(), timed.begin(), timed.end());
  }
  return all;
}

int run(const HandOptions& o) {
  if (o.file.empty() == o.log.empty())
    throw CallError{"type a file of measured runs or --log FILE, one of the two; see under-crease-cli hand --help"};
  const double guess = length_option("--guess-sigma", o.guess_sigma, least_sigma_mm, 10 * greatest_sigma_mm);
  const Measured all = o.file.empty() ? from_log(o, guess) : from_file(o, guess);
  const auto fit = fit_hand(all.families);
  if (!fit) return refused(fit.error(), o.json);
  const Pace pace = learnt_pace(all.moves, HandProfile{});
  if (o.json) {
    Json left = Json::array();
    for (const LeftOut& l : fit->left_out) left.push_back({{"run", all.runs[l.run]}, {"line", l.line}, {"z", l.z}});
    print_json({{"sigma_mm", fit->sigma_mm},
                {"standard_error_mm", fit->standard_error_mm},
                {"runs", fit->runs},
                {"lines", fit->lines},
                {"left_out", left},
                {"bias_mm", fit->bias_mm},
                {"bias_error_mm", fit->bias_error_mm},
                {"ruler_mm", fit->ruler_mm},
                {"ruler_learnt", fit->ruler_learnt},
                {"seconds", {{"fold", pace.fold_seconds}, {"pinch", pace.pinch_seconds}}}});
    return done;
  }
  out() << fmt::format("one crease errs by {:.3f} ± {:.3f} mm at each end (standard error), from {} lines in {} runs\n",
                       fit->sigma_mm, fit->standard_error_mm, fit->lines, fit->runs);
  const bool steady = std::abs(fit->bias_mm) > 2 * fit->bias_error_mm;
  out() << fmt::format("creases lie {:.3f} ± {:.3f} mm {} their place{}\n", std::abs(fit->bias_mm), fit->bias_error_mm,
                       fit->bias_mm < 0 ? "beyond" : "short of",
                       steady ? ": a steady habit, more than chance" : ", no more than chance");
  out() << fmt::format("the ruler errs by {:.2f} mm ({})\n", fit->ruler_mm,
                       fit->ruler_learnt ? "learnt from lines that were read twice" : "as given");
  for (const LeftOut& l : fit->left_out)
    out() << fmt::format("left out: line {} of run {}, {:.1f} standard errors off\n", l.line,
                         o.file.empty() ? all.runs[l.run] : all.runs[l.run] + 1, std::abs(l.z));
  out() << fmt::format("a fold takes {:.0f} s, a pinch {:.0f} s ({})\n", pace.fold_seconds, pace.pinch_seconds,
                       all.moves.empty() ? "assumed" : fmt::format("from {} timed moves", all.moves.size()));
  return done;
}

} // namespace

void add_hand(CLI::App& app, Action& action) {
  auto o = std::make_shared<HandOptions>();
  auto* c = app.add_subcommand("hand", "What measured runs say about the hand that folded them");
  c->add_option("file", o->file, "FILE.json of measured runs, or - for standard input");
  c->add_option("--log", o->log, "The log file to take the measured runs from instead");
  c->add_option("--guess-sigma", o->guess_sigma, "Standard error of a mark by eye, in mm")->capture_default_str();
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("A bias above zero says that creases stay back, towards the edge that was moved.\n"
            "Example: under-crease-cli hand measured.json");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
