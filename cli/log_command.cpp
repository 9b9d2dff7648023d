// log: the runs of the log, listed, shown or exported.
#include "command.h"

#include "io/json_codec.h"
#include "io/runs_file.h"
#include "programme/text.h"
#include "record/run_log.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

struct LogOptions {
  std::string database, search, status, sort = "newest", output;
  std::int64_t run = 0;
  bool json = false;
};

/// The log, looked at without writing; none where nothing has been folded yet.
std::optional<RunLog> open_log(const LogOptions& o) {
  const std::string path = o.database.empty() ? default_log_path() : o.database;
  LogFailure failure;
  is_input(path);
  auto log = RunLog::open_to_read(path, &failure);
  if (log) return std::move(log).value();
  if (failure.trouble != LogTrouble::missing) throw CallError{log.error()};
  if (!o.database.empty()) throw CallError{fmt::format("--log: {}: there is no such file; check the name", path)};
  return std::nullopt;
}

std::vector<RunSummary> matching(const std::optional<RunLog>& log, const LogOptions& o) {
  RunQuery query;
  query.text = o.search;
  if (!o.status.empty()) {
    query.status = named<RunStatus>(o.status);
    if (!query.status) {
      throw CallError{fmt::format(
          "--status: \"{}\" is not a state of a run; type active, waiting, finished or abandoned", o.status)};
    }
  }
  static const std::map<std::string, RunOrder> orders = {
      {"newest", RunOrder::newest},   {"title", RunOrder::title},
      {"size", RunOrder::size},       {"parts", RunOrder::size}, // as it was called
      {"minutes", RunOrder::minutes}, {"error", RunOrder::error}};
  const auto order = orders.find(o.sort);
  if (order == orders.end()) {
    throw CallError{fmt::format("--sort: \"{}\" is not an order; type newest, title, size, minutes or error", o.sort)};
  }
  query.order = order->second;
  if (!log) return {};
  auto runs = log->list(query);
  if (!runs) throw CallError{runs.error()};
  return std::move(runs).value();
}

int list(const LogOptions& o) {
  const auto runs = matching(open_log(o), o);
  if (o.json) {
    Json all = Json::array();
    for (const RunSummary& r : runs) all.push_back(json_of(r));
    print_json({{"runs", all}});
    return done;
  }
  for (const RunSummary& r : runs) {
    out() << fmt::format("{:5}  {:10}  {:9}  {:10} {:4}  {:5.1f} min  {:>8}  {}\n", r.id, r.started.substr(0, 10),
                         name_of(r.status), r.kind, r.size, r.minutes,
                         r.measured_rms_mm ? fmt::format("{:.2f} mm", *r.measured_rms_mm) : "-", r.title);
  }
  if (runs.empty()) out() << "No run matches.\n";
  return done;
}

int show(const LogOptions& o) {
  const auto log = open_log(o);
  const auto run =
      log ? log->load(o.run)
          : Result<RunDetail>(Error{fmt::format("There is no run {} in the log; nothing is logged yet.", o.run)});
  if (!run) return refused(run.error(), o.json);
  if (o.json) {
    print_json(json_of(*run));
    return done;
  }
  const RunSummary& s = run->summary;
  out() << fmt::format("{}\n{} on {}, {} {}{}{}\n{}, started {}, {} of {} moves, {:.1f} of {:.1f} planned "
                       "minutes\n",
                       s.title, s.sheet, s.stock, s.kind, s.size, s.way.empty() ? "" : ": ", s.way, name_of(s.status),
                       s.started, s.moves_done, s.moves_planned, s.minutes, s.planned_minutes);
  if (s.measured_rms_mm) {
    out() << fmt::format("measured error {:.2f} mm rms, {:.2f} mm at worst, planned {:.2f} mm\n", *s.measured_rms_mm,
                         *s.measured_worst_mm, s.planned_sigma_mm);
  }
  for (const RunEvent& e : run->events) {
    out() << fmt::format("  {}  {:9}  move {:3}  {:5.0f} s  {}\n", e.at, name_of(e.kind), e.move + 1, e.seconds,
                         e.text);
  }
  if (!s.note.empty()) out() << s.note << "\n";
  return done;
}

int export_runs(const LogOptions& o) {
  const auto log = open_log(o);
  const auto runs = matching(log, o);
  const auto format = format_for(FileUse::write_runs, o.output);
  if (!format) throw CallError{"--output: " + format.error()};
  const auto file = runs_file(log ? &*log : nullptr, runs, *format);
  if (!file) throw CallError{file.error()};
  write_output("-o", o.output, file->bytes);
  if (file->mended) err() << mended_runs_sentence << "\n";
  if (o.json)
    print_json({{"file", o.output}, {"runs", runs.size()}});
  else
    out() << fmt::format("{} written ({} runs)\n", o.output, runs.size());
  return done;
}

void add_selection(CLI::App* c, const std::shared_ptr<LogOptions>& o) {
  c->add_option("--search", o->search, "Words in title, stock, sheet, method or note");
  c->add_option("--status", o->status, "active, waiting, finished or abandoned");
  c->add_option("--sort", o->sort, "newest, title, size, minutes or error (newest)");
}

} // namespace

void add_log(CLI::App& app, Action& action) {
  auto o = std::make_shared<LogOptions>();
  CLI::App* c = app.add_subcommand("log", "The log of folded runs: list, show, export.");
  c->require_subcommand(1);
  const auto common = [&](CLI::App* sub) {
    sub->add_option("--log", o->database, "The log file (the one in the XDG data folder)");
    sub->add_flag("--json", o->json, "Print one JSON document");
  };
  CLI::App* l = c->add_subcommand("list", "All runs, or those that match.");
  common(l);
  add_selection(l, o);
  l->footer("Example: under-crease-cli log list --search panel --sort error --json");
  l->callback([o, &action] { action = [o] { return list(*o); }; });
  CLI::App* s = c->add_subcommand("show", "One run with its moves and measurements.");
  common(s);
  s->add_option("run", o->run, "The run's number, as listed")->required();
  s->footer("Example: under-crease-cli log show 12 --json");
  s->callback([o, &action] { action = [o] { return show(*o); }; });
  CLI::App* e = c->add_subcommand("export", "Runs to FILE.csv or FILE.json.");
  common(e);
  add_selection(e, o);
  e->add_option("-o,--output", o->output, "FILE " + endings_for(FileUse::write_runs))->required();
  e->footer("Example: under-crease-cli log export -o runs.csv");
  e->callback([o, &action] { action = [o] { return export_runs(*o); }; });
  c->footer("Example: under-crease-cli log list");
}

} // namespace uc::cli
