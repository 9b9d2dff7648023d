#include "stages/fold/run_session.h"

#include <QDateTime>

namespace uc::app {

std::string now_utc() { return QDateTime::currentDateTimeUtc().toString("yyyy-MM-ddTHH:mm:ssZ").toStdString(); }

RunSession::RunSession(Workspace& workspace, QObject* parent) : QObject(parent), workspace_(workspace) {}

const Programme& RunSession::programme() const {
  return active() ? programme_ : workspace_.document.project().programme;
}

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

QString RunSession::start() {
  if (!workspace_.log()) return workspace_.log_error();
  if (workspace_.document.planning()) {
    if (workspace_.document.planner().stopped()) workspace_.document.plan_creases();
    return tr("The creases are still being planned; start again in a moment.");
  }
  const Project& p = workspace_.document.project();
  const Division& d = workspace_.document.division();
  RunDetail run;
  const QString sheet = QString::fromStdString(p.sheet_name);
  const auto creases = workspace_.document.creases();
  const QString what = creases ? tr("pattern on %1").arg(sheet)
                       : p.grid_follows || p.references.empty()
                           ? tr("%1 parts on %2").arg(p.grid.parts).arg(sheet)
                           : tr("%1 on %2").arg(QString::fromStdString(p.references.front().title), sheet);
  run.summary.title = p.title.empty() ? what.toStdString() : p.title;
  run.summary.sheet = p.sheet.code();
  run.summary.stock = p.stock.name;
  run.summary.axis = creases ? "pattern" : name_of(p.grid.axis);
  run.summary.method = creases ? name_of(p.pre_crease->school) : name_of(p.grid.method);
  run.summary.parts = creases ? p.pattern.count : p.grid.parts;
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
  id_ = *id;
  detail_ = std::move(run);
  programme_ = p.programme;
  progress_ = progress_of({}, static_cast<int>(programme_.moves.size()));
  restart_clock(true);
  workspace_.announce_log_change();
  emit changed();
  return {};
}

QString RunSession::resume_stored() {
  if (!workspace_.log() || active()) return {};
  const auto stored = workspace_.log()->active_run();
  if (!stored) return QString::fromStdString(stored.error());
  if (!*stored) return {};
  auto detail = workspace_.log()->load(**stored);
  if (!detail) return QString::fromStdString(detail.error());
  auto programme = parse_programme(detail->programme_json, "log");
  if (!programme) return QString::fromStdString(programme.error());
  id_ = **stored;
  detail_ = *detail;
  programme_ = *programme;
  progress_ = progress_of(detail_.events, static_cast<int>(programme_.moves.size()));
  // The time between the end of the program and now is nobody's work.
  progress_.paused = true;
  restart_clock(false);
  emit changed();
  return {};
}

QString RunSession::add(EventKind kind, double seconds, const QString& text) {
  if (!active()) return tr("No run is under way; start one first.");
  if (!workspace_.log()) return workspace_.log_error();
  const RunEvent event{kind, progress_.next_move, seconds, text.toStdString(), now_utc()};
  const auto ok = workspace_.log()->add_event(id_, event);
  if (!ok) return QString::fromStdString(ok.error());
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
  id_ = 0;
  detail_ = {};
  programme_ = {};
  progress_ = {};
  restart_clock(false);
  workspace_.announce_log_change();
  emit changed();
  return {};
}

QString RunSession::set_measured(const std::vector<MeasuredLine>& measured) {
  if (!active()) return tr("No run is under way; start one first.");
  const auto ok = workspace_.log()->set_measured(id_, measured);
  if (!ok) return QString::fromStdString(ok.error());
  detail_.measured = measured;
  workspace_.announce_log_change();
  return {};
}

} // namespace uc::app
