#include "stages/fold/run_session.h"

#include "base/file_name.h"

#include <fmt/format.h>

#include <QDateTime>

namespace uc::app {

std::string now_utc() { return QDateTime::currentDateTimeUtc().toString("yyyy-MM-ddTHH:mm:ssZ").toStdString(); }

RunSession::RunSession(Workspace& workspace, QObject* parent)
    : QObject(parent), workspace_(workspace),
      reading_([this](Read read) { take(read.id, std::move(read.detail), std::move(read.programme), read.waiting); }) {
  // The run goes where its project goes.
  connect(&workspace_.document, &Document::saved, this, [this] {
    if (!of_document_ || !active() || looking_on() || !workspace_.log()) return;
    detail_.project = bytes_of(workspace_.document.path());
    (void)workspace_.log()->set_project(id_, detail_.project);
  });
  connect(&workspace_.document, &Document::replaced, this, [this] {
    of_document_ = active() && !detail_.project.empty() && detail_.project == bytes_of(workspace_.document.path());
  });
}

const Programme& RunSession::programme() const { return active() ? programme_ : workspace_.strip_programme(); }

double RunSession::seconds_on_move() const {
  return active() && !progress_.paused && clock_.isValid() ? static_cast<double>(clock_.elapsed()) / 1000 : 0;
}

double RunSession::worked_seconds() const { return progress_.worked_seconds + seconds_on_move(); }

void RunSession::restart_clock(bool running) {
  if (running)
    clock_.start();
  else
    clock_.invalidate();
}

QString RunSession::hold_file() const { return workspace_.folder() + "/run.lock"; }

void RunSession::show_in_strip() {
  workspace_.show_run(active() ? std::make_shared<const Programme>(programme_) : nullptr);
}

bool RunSession::plan_has_changed() const {
  return active() && !workspace_.document.planning() &&
         json_of(programme_) != json_of(workspace_.document.project().programme);
}

QString RunSession::start() {
  if (!workspace_.log()) return workspace_.log_error();
  if (!blocked_.isEmpty()) return blocked_;
  if (reading()) return tr("The run that is under way is being read; it comes up in a moment.");
  HeldFile::Outcome outcome{};
  HeldFile hold = HeldFile::take(bytes_of(hold_file()), true, outcome);
  if (outcome == HeldFile::Outcome::taken)
    return tr("Another window is folding; finish or end its run first, or fold there.");
  if (outcome == HeldFile::Outcome::impossible) return workspace_.cannot_write_sentence();
  // A run that another window left behind is gone on with, not begun beside.
  if (const auto stored = workspace_.log()->active_run(); !stored || *stored) {
    const QString wrong = stored ? resume_stored() : QString::fromStdString(stored.error());
    return wrong.isEmpty() ? tr("A run was under way; go on with it, or finish it first.") : wrong;
  }
  if (workspace_.document.planning()) {
    if (workspace_.document.planning_stopped()) workspace_.document.plan_again();
    return tr("The moves are still being planned; start again in a moment.");
  }
  const Project& p = workspace_.document.project();
  const Division& d = workspace_.document.division();
  RunDetail run;
  const QString sheet = QString::fromStdString(p.sheet_name);
  const auto creases = workspace_.document.creases();
  const QString what =
      p.programme.units ? tr("%1 of %2 units").arg(shown(p.units.solid)).arg(p.programme.units->units.size())
      : creases         ? tr("pattern on %1").arg(sheet)
      : folded_work(p) == FoldedWork::grid ? tr("%1 parts on %2").arg(p.grid.parts).arg(sheet)
      : p.references.empty()               ? sheet
                             : tr("%1 on %2").arg(QString::fromStdString(p.references.front().title), sheet);
  run.summary.title = p.title.empty() ? what.toStdString() : p.title;
  run.summary.sheet = p.sheet.code();
  run.summary.stock = p.stock.name;
  if (p.programme.units) {
    run.summary.kind = "units";
    run.summary.way = p.units.family;
    run.summary.size = static_cast<int>(p.programme.units->units.size());
  } else if (creases) {
    run.summary.kind = "pre-crease";
    run.summary.way = name_of(creases->spec.school);
    run.summary.size = workspace_.document.pattern()->design.count;
  } else if (folded_work(p) != FoldedWork::grid) {
    run.summary.kind = p.programme.folding ? "steps" : "references";
    run.summary.size = static_cast<int>(p.programme.moves.size());
  } else {
    run.summary.kind = "division";
    run.summary.way = name_of(p.grid.axis) + ", " + name_of(p.grid.method);
    run.summary.size = p.grid.parts;
  }
  run.project = bytes_of(workspace_.document.path());
  run.summary.started = now_utc();
  run.summary.moves_planned = static_cast<int>(p.programme.moves.size());
  run.summary.planned_minutes = p.programme.planned_seconds() / 60;
  run.summary.planned_sigma_mm = creases ? creases->mean_sigma_mm : d.mean_sigma_mm;
  run.summary.planned_worst_mm = creases ? creases->worst_sigma_mm : d.worst_sigma_mm;
  run.programme_json = json_of(p.programme).dump();
  run.plans_json = (creases ? plans_json(*creases) : plans_json(d)).dump();
  const auto id = workspace_.log()->begin(run);
  if (!id) return QString::fromStdString(id.error());
  run.summary.id = *id;
  hold_ = std::move(hold);
  load(std::move(run), p.programme);
  of_document_ = true;
  restart_clock(true);
  workspace_.announce_log_change();
  emit changed();
  return {};
}

void RunSession::load(RunDetail detail, Programme programme) {
  id_ = detail.summary.id;
  detail_ = std::move(detail);
  programme_ = std::move(programme);
  progress_ = progress_of(detail_.events, static_cast<int>(programme_.moves.size()));
  show_in_strip();
}

QString RunSession::resume_stored() {
  if (!workspace_.log() || active() || reading()) return {};
  blocked_.clear();
  unreadable_ = 0;
  const auto stored = workspace_.log()->active_run();
  if (!stored) return QString::fromStdString(stored.error());
  return *stored ? read_stored(**stored, false) : QString();
}

QString RunSession::take_up_waiting(std::int64_t id) {
  if (!workspace_.log()) return workspace_.log_error();
  if (active()) return tr("Another run is under way; finish it or leave it waiting first.");
  if (reading()) return tr("Another run is being read; try again in a moment.");
  return read_stored(id, true);
}

QString RunSession::take_up_of_project() {
  if (!workspace_.log() || active() || reading() || workspace_.document.path().isEmpty()) return {};
  if (const auto other = workspace_.log()->active_run(); !other || *other) return {}; // that one goes first
  const auto waiting = workspace_.log()->waiting_run(bytes_of(workspace_.document.path()));
  if (!waiting) return QString::fromStdString(waiting.error());
  return *waiting ? read_stored(**waiting, true) : QString();
}

/// A run of steps is folded again to be read, which may take seconds; the others are there at once.
QString RunSession::read_stored(std::int64_t id, bool waiting) {
  auto detail = workspace_.log()->load(id);
  if (!detail) {
    take(id, {}, Error{detail.error()}, waiting);
    return blocked_;
  }
  reading_.begin([id, waiting, detail = *detail](Progress&) {
    return Read{id, detail, parse_programme(detail.programme_json, fmt::format("Run {}", id)), waiting};
  });
  reading_.wait(50);
  return blocked_;
}

void RunSession::take(std::int64_t id, RunDetail detail, Result<Programme> programme, bool waiting) {
  if (active() || !workspace_.log()) return;
  if (programme && programme->empty()) programme = Error{fmt::format("Run {} has no moves.", id)};
  if (!programme && waiting) return emit found(QString::fromStdString(programme.error()));
  if (!programme) {
    unreadable_ = id;
    blocked_ = tr("Run %1 is under way but cannot be read, so no other is begun beside it. %2")
                   .arg(id)
                   .arg(QString::fromStdString(programme.error()));
    emit changed();
    return emit found(blocked_);
  }
  HeldFile::Outcome outcome{};
  HeldFile hold = HeldFile::take(bytes_of(hold_file()), true, outcome);
  if (waiting) {
    if (!hold) return emit found(tr("Another window is folding; finish or end its run first, or fold there."));
    if (const auto ok = workspace_.log()->take_up(id); !ok) return emit found(QString::fromStdString(ok.error()));
    detail.summary.status = RunStatus::active;
  }
  hold_ = std::move(hold);
  load(std::move(detail), std::move(programme).value());
  of_document_ = !detail_.project.empty() && detail_.project == bytes_of(workspace_.document.path());
  // The time between the end of the program and now is nobody's work.
  if (hold_) progress_.paused = true;
  restart_clock(false);
  if (waiting) workspace_.announce_log_change();
  emit changed();
  emit found({});
}

QString RunSession::put_aside() {
  if (!active()) return {};
  if (looking_on()) return tr("Another window folds this run; leave it waiting there.");
  if (!workspace_.log()) return workspace_.log_error();
  if (!progress_.paused) {
    if (const QString wrong = pause(); !wrong.isEmpty()) return wrong;
  }
  if (const auto ok = workspace_.log()->put_aside(id_); !ok) {
    workspace_.heed_log();
    return QString::fromStdString(ok.error());
  }
  leave();
  workspace_.announce_log_change();
  return {};
}

QString RunSession::close_unreadable() {
  if (unreadable_ == 0 || !workspace_.log()) return {};
  const auto ok = workspace_.log()->end(unreadable_, RunStatus::abandoned, now_utc());
  if (!ok) return QString::fromStdString(ok.error());
  blocked_.clear();
  unreadable_ = 0;
  workspace_.announce_log_change();
  emit changed();
  return {};
}

void RunSession::look_again() {
  if (!looking_on() || !workspace_.log()) return;
  HeldFile::Outcome outcome{};
  HeldFile hold = HeldFile::take(bytes_of(hold_file()), true, outcome);
  auto detail = workspace_.log()->load(id_);
  const bool ended = !detail || detail->summary.status != RunStatus::active;
  if (!ended && !hold && detail->events.size() == detail_.events.size()) return;
  if (ended) {
    leave();
    workspace_.announce_log_change();
    return;
  }
  load(std::move(detail).value(), programme_);
  hold_ = std::move(hold);
  if (hold_) progress_.paused = true;
  emit changed();
}

QString RunSession::keep_in_new_log() {
  if (!active() || looking_on() || !workspace_.log()) return {};
  // Only a log that has no run under way gets it; one that cannot tell is asked again later.
  const auto stored = workspace_.log()->active_run();
  if (!stored) return QString::fromStdString(stored.error());
  if (*stored) {
    const auto there = workspace_.log()->load(**stored);
    if (**stored == id_ && (!there || there->summary.started == detail_.summary.started)) return {};
    return tr("This log has another run under way; finish that one, then the run of this window can be kept in it.");
  }
  RunDetail whole = detail_;
  whole.summary.status = RunStatus::active;
  const auto id = workspace_.log()->add_whole(whole);
  if (!id) return QString::fromStdString(id.error());
  id_ = detail_.summary.id = *id;
  workspace_.announce_log_change();
  return {};
}

void RunSession::leave() {
  id_ = 0;
  hold_.release();
  detail_ = {};
  programme_ = {};
  progress_ = {};
  restart_clock(false);
  show_in_strip();
  emit changed();
}

QString RunSession::add(EventKind kind, double seconds, const QString& text) {
  if (!active()) return tr("No run is under way; start one first.");
  if (looking_on()) return tr("Another window folds this run; here you can only look on.");
  if (!workspace_.log()) return workspace_.log_error();
  const RunEvent event{kind, progress_.next_move, seconds, text.toStdString(), now_utc()};
  const auto ok = workspace_.log()->add_event(id_, event);
  if (!ok) {
    workspace_.heed_log();
    return QString::fromStdString(ok.error());
  }
  detail_.events.push_back(event);
  const bool was_paused = progress_.paused;
  progress_ = progress_of(detail_.events, static_cast<int>(programme_.moves.size()));
  if (kind != EventKind::paused && kind != EventKind::resumed) progress_.paused = was_paused;
  return {};
}

QString RunSession::done() {
  if (progress_.next_move >= static_cast<int>(programme_.moves.size())) return {};
  const QString wrong = add(EventKind::done, seconds_on_move());
  if (!wrong.isEmpty()) return wrong;
  progress_.paused = false;
  restart_clock(true);
  emit changed();
  return {};
}

QString RunSession::skip(const QString& reason) {
  if (progress_.next_move >= static_cast<int>(programme_.moves.size())) return {};
  const QString wrong = add(EventKind::skipped, seconds_on_move(), reason);
  if (wrong.isEmpty()) restart_clock(!progress_.paused);
  emit changed();
  return wrong;
}

QString RunSession::back() {
  if (progress_.next_move == 0) return {};
  const QString wrong = add(EventKind::back, seconds_on_move());
  if (wrong.isEmpty()) restart_clock(!progress_.paused);
  emit changed();
  return wrong;
}

QString RunSession::note(const QString& text) {
  const QString wrong = add(EventKind::note, 0, text);
  emit changed();
  return wrong;
}

QString RunSession::fault(const QString& text) {
  const QString wrong = add(EventKind::fault, 0, text);
  emit changed();
  return wrong;
}

QString RunSession::pause() {
  if (progress_.paused) return {};
  const QString wrong = add(EventKind::paused, seconds_on_move());
  if (wrong.isEmpty()) restart_clock(false);
  emit changed();
  return wrong;
}

QString RunSession::take_up() {
  if (!progress_.paused) return {};
  QString wrong;
  // A run found again after closing is paused only in memory; its stored state decides what must be written.
  if (progress_of(detail_.events, static_cast<int>(programme_.moves.size())).paused) wrong = add(EventKind::resumed, 0);
  if (wrong.isEmpty()) {
    progress_.paused = false;
    restart_clock(true);
  }
  emit changed();
  return wrong;
}

QString RunSession::declare_idle(double idle_seconds) {
  if (!active() || progress_.paused) return {};
  const double worked = std::max(0.0, seconds_on_move() - idle_seconds);
  QString wrong = add(EventKind::paused, worked);
  if (wrong.isEmpty()) wrong = add(EventKind::idle, idle_seconds);
  if (wrong.isEmpty()) restart_clock(false);
  emit changed();
  return wrong;
}

QString RunSession::end(RunStatus status) {
  const EventKind kind = status == RunStatus::finished ? EventKind::finished : EventKind::abandoned;
  const QString wrong = add(kind, seconds_on_move());
  if (!wrong.isEmpty()) return wrong;
  const auto ok = workspace_.log()->end(id_, status, now_utc());
  if (!ok) return QString::fromStdString(ok.error());
  leave();
  workspace_.announce_log_change();
  return {};
}

QString RunSession::set_measured(const std::vector<MeasuredLine>& measured) {
  if (!active()) return tr("No run is under way; start one first.");
  if (looking_on()) return tr("Another window folds this run; measure there.");
  if (!workspace_.log()) return workspace_.log_error();
  const auto ok = workspace_.log()->set_measured(id_, measured);
  if (!ok) return QString::fromStdString(ok.error());
  detail_.measured = measured;
  workspace_.announce_log_change();
  return {};
}

} // namespace uc::app
