#include "record/run_log.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <sqlite3.h>

#include <cmath>
#include <ctime>
#include <filesystem>

namespace uc {
namespace {

constexpr int schema_version = 1;

constexpr const char* schema = R"sql(
CREATE TABLE runs (
  id INTEGER PRIMARY KEY, title TEXT NOT NULL, sheet TEXT NOT NULL, stock TEXT NOT NULL, axis TEXT NOT NULL,
  method TEXT NOT NULL, parts INTEGER NOT NULL, started TEXT NOT NULL, ended TEXT NOT NULL DEFAULT '',
  status TEXT NOT NULL, moves_planned INTEGER NOT NULL, moves_done INTEGER NOT NULL DEFAULT 0,
  planned_minutes REAL NOT NULL, minutes REAL NOT NULL DEFAULT 0, planned_sigma_mm REAL NOT NULL,
  planned_worst_mm REAL NOT NULL, measured_rms_mm REAL, measured_worst_mm REAL, faults INTEGER NOT NULL DEFAULT 0,
  note TEXT NOT NULL DEFAULT '');
CREATE TABLE payloads (run INTEGER PRIMARY KEY REFERENCES runs(id) ON DELETE CASCADE, programme TEXT NOT NULL,
  plans TEXT NOT NULL);
CREATE TABLE events (id INTEGER PRIMARY KEY, run INTEGER NOT NULL REFERENCES runs(id) ON DELETE CASCADE,
  kind TEXT NOT NULL, move INTEGER NOT NULL, seconds REAL NOT NULL, text TEXT NOT NULL, at TEXT NOT NULL);
CREATE TABLE measured (run INTEGER NOT NULL REFERENCES runs(id) ON DELETE CASCADE, family TEXT NOT NULL,
  line INTEGER NOT NULL, position_mm REAL NOT NULL, expected_mm REAL NOT NULL, plan_sigma_mm REAL NOT NULL,
  ruler_sigma_mm REAL NOT NULL);
CREATE TABLE photos (run INTEGER NOT NULL REFERENCES runs(id) ON DELETE CASCADE, path TEXT NOT NULL);
CREATE INDEX events_of_run ON events(run);
CREATE INDEX measured_of_run ON measured(run);
CREATE INDEX photos_of_run ON photos(run);
CREATE INDEX runs_by_start ON runs(started);
CREATE INDEX runs_by_status ON runs(status);
)sql";

Error explained(const std::string& path, const SQLite::Exception& e) {
  switch (e.getErrorCode() & 0xff) {
  case SQLITE_BUSY:
  case SQLITE_LOCKED:
    return Error{fmt::format("{}: the log is in use by another program; close that program and try again.", path)};
  case SQLITE_CORRUPT:
  case SQLITE_NOTADB:
    return Error{
        fmt::format("{}: the log is damaged; set it aside to begin a new one, nothing will be deleted.", path)};
  case SQLITE_FULL:
    return Error{fmt::format("{}: the disk is full; free some space and try again.", path)};
  case SQLITE_READONLY:
  case SQLITE_CANTOPEN:
  case SQLITE_PERM:
    return Error{fmt::format("{}: the log cannot be written; check that the folder exists and is yours.", path)};
  default:
    return Error{fmt::format("{}: the log reports: {}; try again.", path, e.what())};
  }
}

template <class Work> auto guarded(const std::string& path, Work&& work) -> decltype(work()) {
  try {
    return work();
  } catch (const SQLite::Exception& e) {
    return explained(path, e);
  }
}

constexpr const char* summary_columns =
    "id,title,sheet,stock,axis,method,parts,started,ended,status,moves_planned,moves_done,planned_minutes,minutes,"
    "planned_sigma_mm,planned_worst_mm,measured_rms_mm,measured_worst_mm,faults,note";

RunSummary summary_of(SQLite::Statement& q) {
  RunSummary s;
  s.id = q.getColumn(0).getInt64();
  s.title = q.getColumn(1).getString();
  s.sheet = q.getColumn(2).getString();
  s.stock = q.getColumn(3).getString();
  s.axis = q.getColumn(4).getString();
  s.method = q.getColumn(5).getString();
  s.parts = q.getColumn(6).getInt();
  s.started = q.getColumn(7).getString();
  s.ended = q.getColumn(8).getString();
  s.status = run_status_named(q.getColumn(9).getString());
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

std::int64_t insert_run(SQLite::Database& db, const RunDetail& run) {
  const RunSummary& s = run.summary;
  SQLite::Statement q(db, "INSERT INTO runs(title,sheet,stock,axis,method,parts,started,ended,status,moves_planned,"
                          "planned_minutes,planned_sigma_mm,planned_worst_mm,note,moves_done,minutes,faults) "
                          "VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)");
  q.bind(1, s.title);
  q.bind(2, s.sheet);
  q.bind(3, s.stock);
  q.bind(4, s.axis);
  q.bind(5, s.method);
  q.bind(6, s.parts);
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
  q.exec();
  const std::int64_t id = db.getLastInsertRowid();
  SQLite::Statement p(db, "INSERT INTO payloads(run,programme,plans) VALUES(?,?,?)");
  p.bind(1, id);
  p.bind(2, run.programme_json);
  p.bind(3, run.plans_json);
  p.exec();
  return id;
}

std::vector<RunEvent> events_of(const SQLite::Database& db, std::int64_t run) {
  std::vector<RunEvent> events;
  SQLite::Statement e(db, "SELECT kind,move,seconds,text,at FROM events WHERE run=? ORDER BY id");
  e.bind(1, run);
  while (e.executeStep()) {
    events.push_back({event_kind_named(e.getColumn(0).getString()), e.getColumn(1).getInt(), e.getColumn(2).getDouble(),
                      e.getColumn(3).getString(), e.getColumn(4).getString()});
  }
  return events;
}

void insert_event(SQLite::Database& db, std::int64_t run, const RunEvent& event) {
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
    const RunProgress progress = progress_of(events_of(db, run), planned);
    SQLite::Statement d(db, "UPDATE runs SET moves_done=? WHERE id=?");
    d.bind(1, progress.next_move - static_cast<int>(progress.skipped.size()));
    d.bind(2, run);
    d.exec();
  }
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

} // namespace

RunLog::RunLog(std::unique_ptr<SQLite::Database> database) : db_(std::move(database)), path_(db_->getFilename()) {}
RunLog::~RunLog() = default;
RunLog::RunLog(RunLog&&) noexcept = default;
RunLog& RunLog::operator=(RunLog&&) noexcept = default;

Result<RunLog> RunLog::open(const std::string& path) {
  return guarded(path, [&]() -> Result<RunLog> {
    auto db = std::make_unique<SQLite::Database>(path, SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, 2000);
    db->exec("PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON");
    const int version = db->execAndGet("PRAGMA user_version").getInt();
    if (version > schema_version) {
      return Error{
          fmt::format("{}: the log was written by a newer Under Crease; update the program to read it.", path)};
    }
    if (version == 0) {
      SQLite::Transaction all(*db, SQLite::TransactionBehavior::IMMEDIATE);
      if (!db->tableExists("runs")) db->exec(schema);
      db->exec(fmt::format("PRAGMA user_version={}", schema_version));
      all.commit();
    }
    return RunLog(std::move(db));
  });
}

Result<std::int64_t> RunLog::begin(const RunDetail& run) {
  return guarded(path_, [&]() -> Result<std::int64_t> {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    const std::int64_t id = insert_run(*db_, run);
    all.commit();
    return id;
  });
}

Status RunLog::add_event(std::int64_t run, const RunEvent& event) {
  return guarded(path_, [&]() -> Status {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    insert_event(*db_, run, event);
    all.commit();
    return Done{};
  });
}

Status RunLog::set_measured(std::int64_t run, const std::vector<MeasuredLine>& measured) {
  return guarded(path_, [&]() -> Status {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    insert_measured(*db_, run, measured);
    all.commit();
    return Done{};
  });
}

Status RunLog::set_note(std::int64_t run, const std::string& note) {
  return guarded(path_, [&]() -> Status {
    SQLite::Statement q(*db_, "UPDATE runs SET note=? WHERE id=?");
    q.bind(1, note);
    q.bind(2, run);
    q.exec();
    return Done{};
  });
}

Status RunLog::add_photo(std::int64_t run, const std::string& path) {
  return guarded(path_, [&]() -> Status {
    SQLite::Statement q(*db_, "INSERT INTO photos(run,path) VALUES(?,?)");
    q.bind(1, run);
    q.bind(2, path);
    q.exec();
    return Done{};
  });
}

Status RunLog::remove_photo(std::int64_t run, const std::string& path) {
  return guarded(path_, [&]() -> Status {
    SQLite::Statement q(*db_, "DELETE FROM photos WHERE rowid=(SELECT max(rowid) FROM photos WHERE run=? AND path=?)");
    q.bind(1, run);
    q.bind(2, path);
    q.exec();
    return Done{};
  });
}

Status RunLog::end(std::int64_t run, RunStatus status, const std::string& at) {
  return guarded(path_, [&]() -> Status {
    SQLite::Statement q(*db_, "UPDATE runs SET status=?, ended=? WHERE id=?");
    q.bind(1, name_of(status));
    q.bind(2, at);
    q.bind(3, run);
    q.exec();
    return Done{};
  });
}

Result<std::int64_t> RunLog::add_whole(const RunDetail& run) {
  return guarded(path_, [&]() -> Result<std::int64_t> {
    SQLite::Transaction all(*db_, SQLite::TransactionBehavior::IMMEDIATE);
    RunDetail bare = run;
    bare.summary.moves_done = 0;
    bare.summary.minutes = 0;
    bare.summary.faults = 0;
    const std::int64_t id = insert_run(*db_, bare);
    for (const RunEvent& e : run.events) insert_event(*db_, id, e);
    insert_measured(*db_, id, run.measured);
    for (const std::string& photo : run.photos) {
      SQLite::Statement q(*db_, "INSERT INTO photos(run,path) VALUES(?,?)");
      q.bind(1, id);
      q.bind(2, photo);
      q.exec();
    }
    all.commit();
    return id;
  });
}

Status RunLog::remove(std::int64_t run) {
  return guarded(path_, [&]() -> Status {
    SQLite::Statement q(*db_, "DELETE FROM runs WHERE id=?");
    q.bind(1, run);
    q.exec();
    return Done{};
  });
}

Result<std::vector<RunSummary>> RunLog::list(const RunQuery& query) const {
  return guarded(path_, [&]() -> Result<std::vector<RunSummary>> {
    constexpr const char* orders[] = {"started", "title COLLATE NOCASE", "parts", "minutes", "measured_rms_mm"};
    std::string sql = fmt::format("SELECT {} FROM runs WHERE 1", summary_columns);
    if (query.status) sql += " AND status=:status";
    if (!query.text.empty()) {
      sql += " AND (instr(lower(title||' '||stock||' '||sheet||' '||method||' '||axis||' '||note||' '||parts||"
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
  return guarded(path_, [&]() -> Result<RunDetail> {
    RunDetail detail;
    SQLite::Statement q(*db_, fmt::format("SELECT {} FROM runs WHERE id=?", summary_columns));
    q.bind(1, run);
    if (!q.executeStep())
      return Error{fmt::format("There is no run {} in the log; list the runs to see their numbers.", run)};
    detail.summary = summary_of(q);
    SQLite::Statement p(*db_, "SELECT programme,plans FROM payloads WHERE run=?");
    p.bind(1, run);
    if (p.executeStep()) {
      detail.programme_json = p.getColumn(0).getString();
      detail.plans_json = p.getColumn(1).getString();
    }
    detail.events = events_of(*db_, run);
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
    return detail;
  });
}

Result<std::optional<std::int64_t>> RunLog::active_run() const {
  return guarded(path_, [&]() -> Result<std::optional<std::int64_t>> {
    SQLite::Statement q(*db_, "SELECT id FROM runs WHERE status='active' ORDER BY id DESC LIMIT 1");
    std::optional<std::int64_t> id;
    if (q.executeStep()) id = q.getColumn(0).getInt64();
    return id;
  });
}

Result<std::string> RunLog::set_aside(const std::string& path) {
  for (int n = 1; n < 1000; ++n) {
    const std::string name = fmt::format("{}.damaged-{}", path, n);
    if (std::filesystem::exists(name)) continue;
    std::error_code ec;
    std::filesystem::rename(path, name, ec);
    if (ec) return Error{fmt::format("{}: the log cannot be renamed ({}); move it away by hand.", path, ec.message())};
    for (const char* suffix : {"-wal", "-shm"}) {
      if (std::filesystem::exists(path + suffix)) std::filesystem::rename(path + suffix, name + suffix, ec);
    }
    return name;
  }
  return Error{fmt::format("{}: too many damaged logs lie beside it; move them away.", path)};
}

} // namespace uc
