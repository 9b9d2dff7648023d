// Whether a file is a log of ours, and in what state: told from its bytes alone, before any database touches it, so
// that what is not ours stays as it is. Also how a log is looked at without writing to it, and how a new one is begun.
#pragma once

#include "base/file_stamp.h"
#include "base/result.h"

#include <memory>
#include <string>

namespace SQLite {
class Database;
}

namespace uc {

enum class LogTrouble {
  none,
  missing,
  locked,    // in use by another program
  newer,     // written by a later version
  damaged,   // ours, but it cannot be read
  foreign,   // no log of ours
  empty,     // holds nothing, though a log always holds its tables
  full,      // the disk is
  unwritable // the folder or disk cannot be written to
};

/// Whether the file may be renamed so that a new log can be begun: it cannot be used and never will be.
constexpr bool may_set_aside(LogTrouble t) {
  return t == LogTrouble::damaged || t == LogTrouble::foreign || t == LogTrouble::empty;
}

/// What went wrong with a log, with the sentence for the folder.
struct LogFailure {
  LogTrouble trouble = LogTrouble::none;
  std::string message;
};

constexpr int log_schema_version = 3;
/// In the header of every log from now on (SQLite's application id); logs made before carry none.
constexpr int log_application_id = 0x55434C67;

using LogDatabase = std::unique_ptr<SQLite::Database>;

/// Opens a log that exists, to write to it; one of an earlier version is brought up to this one.
Result<LogDatabase> open_log_to_write(const std::string& path, LogFailure& failure);
/// Opens a log without writing anything to its folder, which may be read-only. What another program is about to write
/// is seen as far as it had come.
Result<LogDatabase> open_log_to_read(const std::string& path, LogFailure& failure);
/// Makes a log where there is no file: whole or not at all.
Status make_log(const std::string& path, LogFailure& failure);

/// The failure behind an SQLite error code, and its sentence.
LogFailure log_failure(const std::string& path, int sqlite_code, const std::string& what);

/// Renames a log that cannot be used so that a new one can be begun; returns the new name. Nothing is deleted.
Result<std::string> set_log_aside(const std::string& path);

} // namespace uc
