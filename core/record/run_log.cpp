#include "record/run_log.h"

#include "base/clean_text.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include <cmath>

namespace uc {
namespace {

constexpr const char* summary_columns =
    "id,title,sheet,stock,kind,way,size,started,ended,status,moves_planned,moves_done,planned_minutes,minutes,"
    "planned_sigma_mm,planned_worst_mm,measured_rms_mm,measured_worst_mm,faults,note";

RunSummary summary_of(SQLite::Statement& q) {
  RunSummary s;
  s.id = q.getColumn(0).getInt64();
  s.title = q.getColumn(1).getString();
  s.sheet = q.getColumn(2).getString();
  s.stock = q.getColumn(3).getString();
  s.kind = q.getColumn(4).getString();
  s.way = q.getColumn(5).getString();
  s.size = q.getColumn(6).getInt();
  s.started = q.getColumn(7).getString();
  s.ended = q.getColumn(8).getString();
  s.status = named<RunStatus>(q.getColumn(9).getString()).value_or(RunStatus::unreadable);
  s.moves_planned = q.getColumn(10).getInt();
  s.moves_done = q.getColumn(11).getInt();
  s.planned_minutes = q.getColumn(12).getDouble();
  s.minutes = q.getColumn(13).getDouble();
  s.planned_sigma_mm = q.getColumn(14).getDouble();
  s.planned_worst_mm = q.getColumn(15).getDouble();
  if (!q.getColumn(16).isNull()) s.measured_rms_mm = q.getColumn(16).getDouble();
  if (!q.getColumn(17).isNull()) s.measured_worst_mm = q.getColumn(17).getDouble();
  s.faults = q.getColumn(18).getInt();
  s.note = q.getColumn(19).getString();
  return s;
}

std::int64_t insert_run(SQLite::Database& db, const RunDetail& run, bool own_id = false) {
  const RunSummary& s = run.summary;
  SQLite::Statement q(db, "INSERT INTO runs(title,sheet,stock,kind,way,size,started,ended,status,moves_planned,"
                          "planned_minutes,planned_sigma_mm,planned_worst_mm,note,moves_done,minutes,faults,id) "
                          "VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)");
  q.bind(1, s.title);
  q.bind(2, s.sheet);
  q.bind(3, s.stock);
  q.bind(4, s.kind);
  q.bind(5, s.way);
  q.bind(6, s.size);
  q.bind(7, s.started);
  q.bind(8, s.ended);
  q.bind(9, name_of(s.status));
  q.bind(10, s.moves_planned);
  q.bind(11, s.planned_minutes);
  q.bind(12, s.planned_sigma_mm);
  q.bind(13, s.planned_worst_mm);
  q.bind(14, s.note);
  q.bind(15, s.moves_done);
  q.bind(16, s.minutes);
  q.bind(17, s.faults);
  if (own_id) q.bind(18, s.id); // else the next free number
  q.exec();
  const std::int64_t id = db.getLastInsertRowid();
  SQLite::Statement p(db, "INSERT INTO payloads(run,programme,plans) VALUES(?,?,?)");
  p.bind(1, id);
  p.bind(2, run.programme_json);
  p.bind(3, run.plans_json);
  p.exec();
  return id;
}

Result<std::vector<RunEvent>> events_of(const SQLite::Database& db, std::int64_t run) {
  std::vector<RunEvent> events;
  SQLite::Statement e(db, "SELECT kind,move,seconds,text,at FROM events WHERE run=? ORDER BY id");
  e.bind(1, run);
  while (e.executeStep()) {
    const auto kind = named<EventKind>(e.getColumn(0).getString());
    if (!kind) {
      return Error{fmt::format("Run {}: event {} is of the kind \"{}\", which this version does not know; update the "
                               "program to read it.",
                               run, events.size() + 1, clipped(shown_text(e.getColumn(0).getString()), 60))};
    }
    events.push_back({*kind, e.getColumn(1).getInt(), e.getColumn(2).getDouble(), e.getColumn(3).getString(),
                      e.getColumn(4).getString()});
  }
  return events;
}

Status insert_event(SQLite::Database& db, std::int64_t run, const RunEvent& event) {
  SQLite::Statement q(db, "INSERT INTO events(run,kind,move,seconds,text,at) VALUES(?,?,?,?,?,?)");
  q.bind(1, run);
  q.bind(2, name_of(event.kind));
  q.bind(3, event.move);
  q.bind(4, event.seconds);
  q.bind(5, event.text);
  q.bind(6, event.at);
  q.exec();
  if (event.kind != EventKind::idle) {
    SQLite::Statement u(db, "UPDATE runs SET minutes=minutes+?/60.0 WHERE id=?");
    u.bind(1, event.seconds);
    u.bind(2, run);
    u.exec();
  }
  if (event.kind == EventKind::fault) {
    SQLite::Statement f(db, "UPDATE runs SET faults=faults+1 WHERE id=?");
    f.bind(1, run);
    f.exec();
  }
  if (event.kind == EventKind::done || event.kind == EventKind::back || event.kind == EventKind::skipped) {
    SQLite::Statement moves(db, "SELECT moves_planned FROM runs WHERE id=?");
    moves.bind(1, run);
    const int planned = moves.executeStep() ? moves.getColumn(0).getInt() : 0;
    const auto events = events_of(db, run);
    if (!events) return Error{events.error()};
    const RunProgress progress = progress_of(*events, planned);
    SQLite::Statement d(db, "UPDATE runs SET moves_done=? WHERE id=?");
    d.bind(1, progress.next_move - static_cast<int>(progress.skipped.size()));
    d.bind(2, run);
    d.exec();
  }
  return Done{};
}

void insert_measured(SQLite::Database& db, std::int64_t run, const std::vector<MeasuredLine>& measured) {
  SQLite::Statement clear(db, "DELETE FROM measured WHERE run=?");
  clear.bind(1, run);
  clear.exec();
  SQLite::Statement q(db, "INSERT INTO measured VALUES(?,?,?,?,?,?,?)");
  for (const MeasuredLine& m : measured) {
    q.bind(1, run);
    q.bind(2, m.family);
    q.bind(3, m.line);
    q.bind(4, m.position_mm);
    q.bind(5, m.expected_mm);
    q.bind(6, m.plan_sigma_mm);
    q.bind(7, m.ruler_sigma_mm);
    q.exec();
    q.reset();
  }
  const auto error = measured_error(measured);
  SQLite::Statement u(db, "UPDATE runs SET measured_rms_mm=?, measured_worst_mm=? WHERE id=?");
  if (error) {
    u.bind(1, error->rms_mm);
    u.bind(2, error->worst_mm);
  } else {
    u.bind(1);
    u.bind(2);
  }
  u.bind(3, run);
  u.exec();
}

void insert_place(SQLite::Database& db, std::int64_t run, const std::string& project) {
  SQLite::Statement q(db, "INSERT OR REPLACE INTO places(run,project) VALUES(?,?)");
  q.bind(1, run);
  q.bind(2, project);
  q.exec();
}

/// Events, measurements and photos of a run whose row is there.
Status insert_parts(SQLite::Database& db, const RunDetail& run, std::int64_t id) {
  for (const RunEvent& e : run.events) {
    if (auto ok = insert_event(db, id, e); !ok) return ok;
  }
  insert_measured(db, id, run.measured);
  if (!run.project.empty()) insert_place(db, id, run.project);
  for (const std::string& photo : run.photos) {
    SQLite::Statement q(db, "INSERT INTO photos(run,path) VALUES(?,?)");
    q.bind(1, id);
    q.bind(2, photo);
    q.exec();
  }
  return Done{};
}

} // namespace

RunLog::RunLog(LogDatabase database, std::string path, bool writable)
    : db_(std::move(database)), path_(std::move(path)), writable_(writable), opened_(file_stamp(path_)) {}
RunLog::~RunLog() = default;
RunLog::RunLog(RunLog&&) noexcept = default;
RunLog& RunLog::operator=(RunLog&&) noexcept = default;

template <class Work> auto RunLog::guarded(Work&& work) const -> decltype(work()) {
  try {
    return work();
  } catch (const SQLite::Exception& e) {
    failure_ = log_failure(path_, e.getErrorCode(), e.what());
    return Error{failure_.message};
  }
}

template <class Work> auto RunLog::written(Work&& work) -> decltype(work()) {
  if (!writable_) return Error{fmt::format("{}: the log was opened only to be read.", path_)};
  if (const auto ok = in_place(); !ok) return Error{ok.error()};
  auto result = guarded(work);
  // What went into a file that nobody finds again does not count.
  if (const auto ok = in_place(); !ok) return Error{ok.error()};
  return result;
}

Status RunLog::in_place() const {
  const auto now = file_stamp(path_);
  if (now && opened_ && now->same_file(*opened_)) return Done{};
  failure_ = {LogTrouble::missing, fmt::format("{}: the log was {} by another program while it was open; nothing more "
                                               "was written. Put it back, or press Try again.",
                                               path_, now ? "replaced" : "removed")};
  return Error{failure_.message};
}

Result<RunLog> RunLog::open(const std::string& path, LogFailure* failure) {
  LogFailure own;
  LogFailure& f = failure ? *failure : own;
  auto db = open_log_to_write(path, f);
  if (!db && f.trouble == LogTrouble::missing) {
    if (const auto made = make_log(path, f); !made) return Error{made.error()};
    db = open_log_to_write(path, f);
  }
  if (!db) return Error{db.error()};
  return RunLog(std::move(db).value(), path, true);
}

Result<RunLog> RunLog::open_to_read(const std::string& path, LogFailure* failure) {
  LogFailure own;
  auto db = open_log_to_read(path, failure ? *failure : own);
  if (!db) return Error{db.error()};
  return RunLog(std::move(db).value(), path, false);
}

Result<std::int64_t> RunLog::begin(const RunDetail& run) {
  return written([&]() -> Result<std::int64_t> {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    const std::int64_t id = insert_run(*db_, run);
    if (!run.project.empty()) insert_place(*db_, id, run.project);
    all.commit();
    return id;
  });
}

Status RunLog::add_event(std::int64_t run, const RunEvent& event) {
  return written([&]() -> Status {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    if (auto ok = insert_event(*db_, run, event); !ok) return ok;
    all.commit();
    return Done{};
  });
}

Status RunLog::set_measured(std::int64_t run, const std::vector<MeasuredLine>& measured) {
  return written([&]() -> Status {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    insert_measured(*db_, run, measured);
    all.commit();
    return Done{};
  });
}

Status RunLog::set_note(std::int64_t run, const std::string& note) {
  return written([&]() -> Status {
    SQLite::Statement q(*db_, "UPDATE runs SET note=? WHERE id=?");
    q.bind(1, note);
    q.bind(2, run);
    q.exec();
    return Done{};
  });
}

Status RunLog::add_photo(std::int64_t run, const std::string& path) {
  return written([&]() -> Status {
    SQLite::Statement q(*db_, "INSERT INTO photos(run,path) VALUES(?,?)");
    q.bind(1, run);
    q.bind(2, path);
    q.exec();
    return Done{};
  });
}

Status RunLog::remove_photo(std::int64_t run, const std::string& path) {
  return written([&]() -> Status {
    SQLite::Statement q(*db_, "DELETE FROM photos WHERE rowid=(SELECT max(rowid) FROM photos WHERE run=? AND path=?)");
    q.bind(1, run);
    q.bind(2, path);
    q.exec();
    return Done{};
  });
}

Status RunLog::put_aside(std::int64_t run) {
  return written([&]() -> Status {
    SQLite::Statement q(*db_, "UPDATE runs SET status='waiting' WHERE id=? AND status='active'");
    q.bind(1, run);
    if (q.exec() == 0) return Error{fmt::format("Run {} is not under way any more.", run)};
    return Done{};
  });
}

Status RunLog::take_up(std::int64_t run) {
  return written([&]() -> Status {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement other(*db_, "SELECT id FROM runs WHERE status='active' AND id<>?");
    other.bind(1, run);
    if (other.executeStep())
      return Error{
          fmt::format("Run {} is under way; finish it or leave it waiting first.", other.getColumn(0).getInt64())};
    SQLite::Statement q(*db_, "UPDATE runs SET status='active' WHERE id=? AND status='waiting'");
    q.bind(1, run);
    if (q.exec() == 0) return Error{fmt::format("Run {} does not wait any more.", run)};
    all.commit();
    return Done{};
  });
}

Status RunLog::set_project(std::int64_t run, const std::string& path) {
  return written([&]() -> Status {
    insert_place(*db_, run, path);
    return Done{};
  });
}

Status RunLog::end(std::int64_t run, RunStatus status, const std::string& at) {
  return written([&]() -> Status {
    SQLite::Statement q(*db_, "UPDATE runs SET status=?, ended=? WHERE id=?");
    q.bind(1, name_of(status));
    q.bind(2, at);
    q.bind(3, run);
    q.exec();
    return Done{};
  });
}

Result<std::int64_t> RunLog::add_whole(const RunDetail& run) {
  return written([&]() -> Result<std::int64_t> {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    RunDetail bare = run;
    bare.summary.moves_done = 0;
    bare.summary.minutes = 0;
    bare.summary.faults = 0;
    const std::int64_t id = insert_run(*db_, bare);
    if (const auto ok = insert_parts(*db_, run, id); !ok) return Error{ok.error()};
    all.commit();
    return id;
  });
}

Status RunLog::correct(std::int64_t run, const RunCorrection& c) {
  return written([&]() -> Status {
    SQLite::Statement q(*db_, "UPDATE runs SET title=?, stock=?, status=? WHERE id=?");
    q.bind(1, c.title);
    q.bind(2, c.stock);
    q.bind(3, name_of(c.status));
    q.bind(4, run);
    if (q.exec() == 0) return Error{fmt::format("There is no run {} in the log any more.", run)};
    return Done{};
  });
}

Status RunLog::restore(const RunDetail& run) {
  return written([&]() -> Status {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement taken(*db_, "SELECT 1 FROM runs WHERE id=?");
    taken.bind(1, run.summary.id);
    if (taken.executeStep())
      return Error{fmt::format("Run {} cannot be put back: another has its number now.", run.summary.id)};
    RunDetail bare = run;
    bare.summary.moves_done = 0;
    bare.summary.minutes = 0;
    bare.summary.faults = 0;
    if (const auto ok = insert_parts(*db_, run, insert_run(*db_, bare, true)); !ok) return ok;
    all.commit();
    return Done{};
  });
}

Status RunLog::remove(std::int64_t run) {
  return written([&]() -> Status {
    SQLite::Statement q(*db_, "DELETE FROM runs WHERE id=?");
    q.bind(1, run);
    q.exec();
    return Done{};
  });
}

Result<std::vector<RunSummary>> RunLog::list(const RunQuery& query) const {
  return guarded([&]() -> Result<std::vector<RunSummary>> {
    constexpr const char* orders[] = {"started", "title COLLATE NOCASE", "size", "minutes", "measured_rms_mm"};
    std::string sql = fmt::format("SELECT {} FROM runs WHERE 1", summary_columns);
    if (query.status) sql += " AND status=:status";
    if (!query.text.empty()) {
      sql += " AND (instr(lower(title||' '||stock||' '||sheet||' '||way||' '||kind||' '||note||' '||size||"
             "' '||started),lower(:text))>0)";
    }
    const bool newest = query.order == RunOrder::newest;
    sql += fmt::format(" ORDER BY {} {}, id DESC LIMIT {}", orders[static_cast<std::size_t>(query.order)],
                       newest != query.descending ? "DESC" : "ASC", query.limit);
    SQLite::Statement q(*db_, sql);
    if (query.status) q.bind(":status", name_of(*query.status));
    if (!query.text.empty()) q.bind(":text", query.text);
    std::vector<RunSummary> runs;
    while (q.executeStep()) runs.push_back(summary_of(q));
    return runs;
  });
}

Result<RunDetail> RunLog::load(std::int64_t run) const {
  return guarded([&]() -> Result<RunDetail> {
    RunDetail detail;
    SQLite::Statement q(*db_, fmt::format("SELECT {} FROM runs WHERE id=?", summary_columns));
    q.bind(1, run);
    if (!q.executeStep())
      return Error{fmt::format("There is no run {} in the log; list the runs to see their numbers.", run)};
    detail.summary = summary_of(q);
    if (detail.summary.status == RunStatus::unreadable) {
      return Error{fmt::format("Run {}: its state is \"{}\", which this version does not know; update the program to "
                               "read it.",
                               run, clipped(shown_text(q.getColumn(9).getString()), 60))};
    }
    SQLite::Statement p(*db_, "SELECT programme,plans FROM payloads WHERE run=?");
    p.bind(1, run);
    if (p.executeStep()) {
      detail.programme_json = p.getColumn(0).getString();
      detail.plans_json = p.getColumn(1).getString();
    }
    auto events = events_of(*db_, run);
    if (!events) return Error{events.error()};
    detail.events = std::move(events).value();
    SQLite::Statement m(*db_, "SELECT family,line,position_mm,expected_mm,plan_sigma_mm,ruler_sigma_mm FROM measured "
                              "WHERE run=? ORDER BY family,line");
    m.bind(1, run);
    while (m.executeStep()) {
      detail.measured.push_back({m.getColumn(0).getString(), m.getColumn(1).getInt(), m.getColumn(2).getDouble(),
                                 m.getColumn(3).getDouble(), m.getColumn(4).getDouble(), m.getColumn(5).getDouble()});
    }
    SQLite::Statement f(*db_, "SELECT path FROM photos WHERE run=? ORDER BY rowid");
    f.bind(1, run);
    while (f.executeStep()) detail.photos.push_back(f.getColumn(0).getString());
    if (db_->tableExists("places")) { // not in logs of earlier versions, which are only read
      SQLite::Statement where(*db_, "SELECT project FROM places WHERE run=?");
      where.bind(1, run);
      if (where.executeStep()) detail.project = where.getColumn(0).getString();
    }
    return detail;
  });
}

Result<std::optional<std::int64_t>> RunLog::active_run() const {
  return guarded([&]() -> Result<std::optional<std::int64_t>> {
    SQLite::Statement q(*db_, "SELECT id FROM runs WHERE status='active' ORDER BY id DESC LIMIT 1");
    std::optional<std::int64_t> id;
    if (q.executeStep()) id = q.getColumn(0).getInt64();
    return id;
  });
}

Result<std::optional<std::int64_t>> RunLog::waiting_run(const std::string& project) const {
  return guarded([&]() -> Result<std::optional<std::int64_t>> {
    SQLite::Statement q(*db_, "SELECT id FROM runs JOIN places ON places.run=id WHERE status='waiting' AND project=? "
                              "ORDER BY id DESC LIMIT 1");
    q.bind(1, project);
    std::optional<std::int64_t> id;
    if (q.executeStep()) id = q.getColumn(0).getInt64();
    return id;
  });
}

} // namespace uc
