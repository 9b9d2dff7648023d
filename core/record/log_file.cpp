#include "record/log_file.h"

#include "base/atomic_file.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <sqlite3.h>

#include <cstring>
#include <filesystem>
#include <unistd.h>

namespace uc {
namespace {

namespace fs = std::filesystem;

constexpr const char* schema = R"sql(
CREATE TABLE runs (
  id INTEGER PRIMARY KEY, title TEXT NOT NULL, sheet TEXT NOT NULL, stock TEXT NOT NULL, kind TEXT NOT NULL,
  way TEXT NOT NULL, size INTEGER NOT NULL, started TEXT NOT NULL, ended TEXT NOT NULL DEFAULT '',
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
CREATE TABLE places (run INTEGER PRIMARY KEY REFERENCES runs(id) ON DELETE CASCADE, project TEXT NOT NULL);
CREATE INDEX events_of_run ON events(run);
CREATE INDEX measured_of_run ON measured(run);
CREATE INDEX photos_of_run ON photos(run);
CREATE INDEX runs_by_start ON runs(started);
CREATE INDEX runs_by_status ON runs(status);
)sql";

// Version 1 named the grid that was folded: its axis, method and number of parts. A pre-crease had the axis "pattern".
constexpr const char* kind_of_version_1 = "CASE axis WHEN 'pattern' THEN 'pre-crease' ELSE 'division' END";
constexpr const char* way_of_version_1 = "CASE axis WHEN 'pattern' THEN method ELSE axis||', '||method END";

// Versions 1 and 2 did not keep which project's file a run belongs to.
constexpr const char* places_of_version_3 =
    "CREATE TABLE IF NOT EXISTS places (run INTEGER PRIMARY KEY REFERENCES runs(id) ON DELETE CASCADE, "
    "project TEXT NOT NULL)";

constexpr const char* tables[] = {"runs", "payloads", "events", "measured", "photos"};

template <class T> Result<T> told(LogFailure& failure, LogFailure what) {
  failure = std::move(what);
  return Error{failure.message};
}

LogFailure failure_of(LogTrouble trouble, const std::string& path) {
  switch (trouble) {
  case LogTrouble::missing:
    return {trouble, fmt::format("{}: there is no log here; check the name.", path)};
  case LogTrouble::locked:
    return {trouble, fmt::format("{}: the log is in use by another program; close that program and try again.", path)};
  case LogTrouble::newer:
    return {trouble,
            fmt::format("{}: the log was written by a newer Under Crease; update the program to read it.", path)};
  case LogTrouble::damaged:
    return {trouble,
            fmt::format("{}: the log is damaged; set it aside to begin a new one, nothing will be deleted.", path)};
  case LogTrouble::foreign:
    return {trouble, fmt::format("{}: this is not a log of Under Crease; it was left as it is. Move it away, or set it "
                                 "aside to begin a new one.",
                                 path)};
  case LogTrouble::empty:
    return {trouble, fmt::format("{}: the log is empty, though a log was kept here; put a copy back if you have one, "
                                 "or set it aside to begin a new one.",
                                 path)};
  case LogTrouble::full:
    return {trouble, fmt::format("{}: the disk is full; free some space and try again.", path)};
  case LogTrouble::unwritable:
    return {trouble, fmt::format("{}: the log cannot be written; its folder is missing, read-only or not yours. "
                                 "Make it writable and try again.",
                                 path)};
  case LogTrouble::none:
    break;
  }
  return {};
}

/// What the first hundred bytes of a file say (SQLite file format, section 1.3).
struct Header {
  LogTrouble trouble = LogTrouble::none;
  std::uint32_t version = 0;
  std::uint32_t application = 0;
};

Header header_of(const std::string& path) {
  std::error_code ec;
  const auto status = fs::status(path, ec);
  if (ec || status.type() == fs::file_type::not_found) return {LogTrouble::missing, 0, 0};
  if (status.type() != fs::file_type::regular) return {LogTrouble::foreign, 0, 0};
  FILE* file = std::fopen(path.c_str(), "rbe");
  if (!file) return {LogTrouble::unwritable, 0, 0};
  unsigned char bytes[100] = {};
  const std::size_t n = std::fread(bytes, 1, sizeof bytes, file);
  std::fclose(file);
  if (n == 0) return {LogTrouble::empty, 0, 0};
  if (n < sizeof bytes || std::memcmp(bytes, "SQLite format 3", 16) != 0) return {LogTrouble::damaged, 0, 0};
  const auto big = [&](std::size_t at) {
    return std::uint32_t{bytes[at]} << 24 | std::uint32_t{bytes[at + 1]} << 16 | std::uint32_t{bytes[at + 2]} << 8 |
           std::uint32_t{bytes[at + 3]};
  };
  return {LogTrouble::none, big(60), big(68)};
}

/// A copy of a log with its journal in a folder of its own, gone when the copy is closed. Looking into a log that
/// another program has open would write to the files beside it.
LogDatabase copy_opened(const std::string& path, LogFailure& failure) {
  std::string folder = (fs::temp_directory_path() / "under-crease-log-XXXXXX").string();
  if (!::mkdtemp(folder.data())) {
    failure = {LogTrouble::unwritable, fmt::format("{}: no folder for a copy of the log could be made.", folder)};
    return nullptr;
  }
  const std::string copy = folder + "/log.sqlite";
  std::error_code ec;
  LogDatabase db;
  // Copied again when a program wrote to it meanwhile; a torn journal would only end earlier.
  for (int attempt = 0; attempt < 20; ++attempt) {
    const auto before = file_stamp(path);
    const auto journal = file_stamp(path + "-wal");
    fs::copy_file(path, copy, fs::copy_options::overwrite_existing, ec);
    if (!ec && journal) fs::copy_file(path + "-wal", copy + "-wal", fs::copy_options::overwrite_existing, ec);
    if (ec || (before == file_stamp(path) && journal == file_stamp(path + "-wal"))) break;
  }
  if (!ec) {
    try {
      db = std::make_unique<SQLite::Database>(copy, SQLite::OPEN_READWRITE, 2000);
      db->exec("PRAGMA journal_mode=DELETE"); // takes the journal in
    } catch (const SQLite::Exception& e) {
      db.reset();
      failure = log_failure(path, e.getErrorCode(), e.what());
    }
  } else {
    failure = {LogTrouble::full, fmt::format("{}: the log could not be copied to be read ({}).", path, ec.message())};
  }
  fs::remove_all(folder, ec); // stays readable while it is open
  return db;
}

/// Whether the runs are those of version 1, whatever the header says.
bool is_version_1(SQLite::Database& db) {
  return db.execAndGet("SELECT count(*) FROM pragma_table_info('runs') WHERE name='axis'").getInt() > 0;
}

/// Lays a view of this version over the runs of an earlier one, which may not be written to.
void read_as_this_version(SQLite::Database& db) {
  if (!is_version_1(db)) return;
  db.exec(fmt::format("PRAGMA temp_store=MEMORY; CREATE TEMP VIEW runs AS SELECT id,title,sheet,stock,{} AS kind,"
                      "{} AS way,parts AS size,started,ended,status,moves_planned,moves_done,planned_minutes,minutes,"
                      "planned_sigma_mm,planned_worst_mm,measured_rms_mm,measured_worst_mm,faults,note FROM main.runs",
                      kind_of_version_1, way_of_version_1));
}

/// Brings an earlier log up to this version: all of it or nothing.
void migrate(SQLite::Database& db) {
  SQLite::Transaction all(db, SQLite::TransactionBehavior::IMMEDIATE);
  if (is_version_1(db)) { // else another window was quicker
    db.exec(fmt::format("UPDATE runs SET axis={}, method={}", kind_of_version_1, way_of_version_1));
    db.exec("ALTER TABLE runs RENAME COLUMN axis TO kind; ALTER TABLE runs RENAME COLUMN method TO way;"
            "ALTER TABLE runs RENAME COLUMN parts TO size");
  }
  db.exec(places_of_version_3);
  db.exec(fmt::format("PRAGMA application_id={}; PRAGMA user_version={}", log_application_id, log_schema_version));
  all.commit();
}

/// Asks an open database whether it is a log of ours, and of which version.
LogTrouble recognised(SQLite::Database& db) {
  const int application = db.execAndGet("PRAGMA application_id").getInt();
  const int version = db.execAndGet("PRAGMA user_version").getInt();
  if (application != 0 && application != log_application_id) return LogTrouble::foreign;
  if (application == log_application_id && version > log_schema_version) return LogTrouble::newer;
  int present = 0;
  for (const char* table : tables) present += db.tableExists(table);
  if (present == static_cast<int>(std::size(tables)))
    return version > log_schema_version ? LogTrouble::newer : LogTrouble::none;
  if (application == log_application_id) return present == 0 ? LogTrouble::empty : LogTrouble::damaged;
  if (db.execAndGet("SELECT count(*) FROM sqlite_master").getInt() == 0) return LogTrouble::empty;
  return version >= 1 && present > 0 ? LogTrouble::damaged : LogTrouble::foreign;
}

} // namespace

LogFailure log_failure(const std::string& path, int sqlite_code, const std::string& what) {
  switch (sqlite_code & 0xff) {
  case SQLITE_BUSY:
  case SQLITE_LOCKED:
    return failure_of(LogTrouble::locked, path);
  case SQLITE_CORRUPT:
  case SQLITE_NOTADB:
  case SQLITE_SCHEMA:
    return failure_of(LogTrouble::damaged, path);
  case SQLITE_FULL:
    return failure_of(LogTrouble::full, path);
  case SQLITE_READONLY:
  case SQLITE_CANTOPEN:
  case SQLITE_PERM:
    return failure_of(LogTrouble::unwritable, path);
  default:
    // A column or table that is gone is reported as a plain error of the statement.
    if (what.find("no such table") != std::string::npos || what.find("no such column") != std::string::npos)
      return failure_of(LogTrouble::damaged, path);
    return {LogTrouble::none, fmt::format("{}: the log reports: {}; try again.", path, what)};
  }
}

Result<LogDatabase> open_log_to_read(const std::string& path, LogFailure& failure) {
  const Header header = header_of(path);
  if (header.trouble != LogTrouble::none) return told<LogDatabase>(failure, failure_of(header.trouble, path));
  LogDatabase db;
  try {
    std::error_code ec;
    const auto journal = fs::file_size(path + "-wal", ec);
    if (!ec && journal > 0) {
      db = copy_opened(path, failure);
      if (!db) return Error{failure.message};
    } else {
      // Without a journal everything is in the file, and nobody writes to it.
      std::string uri = "file:";
      for (const char c : fs::absolute(path).string()) {
        if (std::isalnum(static_cast<unsigned char>(c)) || std::strchr("/._-~", c))
          uri += c;
        else
          uri += fmt::format("%{:02X}", static_cast<unsigned char>(c));
      }
      db = std::make_unique<SQLite::Database>(uri + "?mode=ro&immutable=1", SQLite::OPEN_READONLY | SQLITE_OPEN_URI,
                                              2000);
    }
    if (const LogTrouble t = recognised(*db); t != LogTrouble::none)
      return told<LogDatabase>(failure, failure_of(t, path));
    read_as_this_version(*db);
    return db;
  } catch (const SQLite::Exception& e) {
    return told<LogDatabase>(failure, log_failure(path, e.getErrorCode(), e.what()));
  }
}

Result<LogDatabase> open_log_to_write(const std::string& path, LogFailure& failure) {
  // Whether it is ours is looked up without touching it.
  if (const auto look = open_log_to_read(path, failure); !look) return Error{look.error()};
  if (::access(path.c_str(), W_OK) != 0) return told<LogDatabase>(failure, failure_of(LogTrouble::unwritable, path));
  try {
    auto db = std::make_unique<SQLite::Database>(path, SQLite::OPEN_READWRITE, 2000);
    db->exec("PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON");
    if (db->execAndGet("PRAGMA application_id").getInt() != log_application_id ||
        db->execAndGet("PRAGMA user_version").getInt() < log_schema_version)
      migrate(*db);
    return db;
  } catch (const SQLite::Exception& e) {
    return told<LogDatabase>(failure, log_failure(path, e.getErrorCode(), e.what()));
  }
}

Status make_log(const std::string& path, LogFailure& failure) {
  try {
    // Made in memory and written as one file, so that no log is ever seen half made.
    SQLite::Database db(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    db.exec(schema);
    db.exec(fmt::format("PRAGMA application_id={}; PRAGMA user_version={}", log_application_id, log_schema_version));
    sqlite3_int64 size = 0;
    unsigned char* bytes = sqlite3_serialize(db.getHandle(), "main", &size, 0);
    if (!bytes) return told<Done>(failure, {LogTrouble::none, fmt::format("{}: no log could be made.", path)});
    const Status written = write_new(path, {reinterpret_cast<const char*>(bytes), static_cast<std::size_t>(size)});
    sqlite3_free(bytes);
    if (written || fs::exists(path)) return Done{}; // or another window was quicker
    const bool full = written.error().find("full") != std::string::npos;
    return told<Done>(failure, failure_of(full ? LogTrouble::full : LogTrouble::unwritable, path));
  } catch (const SQLite::Exception& e) {
    return told<Done>(failure, log_failure(path, e.getErrorCode(), e.what()));
  }
}

Result<std::string> set_log_aside(const std::string& path) {
  for (int n = 1; n < 1000; ++n) {
    const std::string name = fmt::format("{}.damaged-{}", path, n);
    std::error_code ec;
    if (fs::exists(fs::symlink_status(name, ec))) continue;
    fs::rename(path, name, ec);
    if (ec) return Error{fmt::format("{}: the log cannot be renamed ({}); move it away by hand.", path, ec.message())};
    for (const char* suffix : {"-wal", "-shm"}) {
      if (fs::exists(path + suffix, ec)) fs::rename(path + suffix, name + suffix, ec);
    }
    return name;
  }
  return Error{fmt::format("{}: too many damaged logs lie beside it; move them away.", path)};
}

} // namespace uc
