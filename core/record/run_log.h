// The log of all runs: one SQLite file in the data folder, open to any other program. Each event is committed before
// the call returns; what was acknowledged is found again whatever happens to the process.
#pragma once

#include "base/result.h"
#include "record/run.h"

#include <memory>

namespace SQLite {
class Database;
class Statement;
} // namespace SQLite

namespace uc {

enum class RunOrder { newest, title, parts, minutes, error };

struct RunQuery {
  std::string text; // matched in title, stock, sheet, method and note
  std::optional<RunStatus> status;
  RunOrder order = RunOrder::newest;
  bool descending = false;
  int limit = -1;
};

class RunLog {
public:
  /// Opens or makes the log. Fails with a sentence when the file is locked, damaged or from a newer version.
  static Result<RunLog> open(const std::string& path);
  ~RunLog();
  RunLog(RunLog&&) noexcept;
  RunLog& operator=(RunLog&&) noexcept;

  /// Begins a run; returns its id.
  Result<std::int64_t> begin(const RunDetail& run);
  Status add_event(std::int64_t run, const RunEvent& event);
  /// Replaces the measured lines of a run.
  Status set_measured(std::int64_t run, const std::vector<MeasuredLine>& measured);
  Status set_note(std::int64_t run, const std::string& note);
  Status add_photo(std::int64_t run, const std::string& path);
  /// Forgets a photo; the picture itself stays where it is.
  Status remove_photo(std::int64_t run, const std::string& path);
  /// Closes a run as finished or abandoned and stores its totals.
  Status end(std::int64_t run, RunStatus status, const std::string& at);
  /// Stores a finished run whole, as from an import.
  Result<std::int64_t> add_whole(const RunDetail& run);
  Status remove(std::int64_t run);

  [[nodiscard]] Result<std::vector<RunSummary>> list(const RunQuery& query = {}) const;
  [[nodiscard]] Result<RunDetail> load(std::int64_t run) const;
  [[nodiscard]] Result<std::optional<std::int64_t>> active_run() const;

  /// Renames a damaged log so that a new one can be begun; returns the new name. Nothing is deleted.
  static Result<std::string> set_aside(const std::string& path);

private:
  explicit RunLog(std::unique_ptr<SQLite::Database> database);
  std::unique_ptr<SQLite::Database> db_;
  std::string path_;
};

} // namespace uc
