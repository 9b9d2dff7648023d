// The log of all runs: one SQLite file in the data folder, open to any other program. Each event is committed before
// the call returns; what was acknowledged is found again whatever happens to the process.
#pragma once

#include "base/result.h"
#include "record/log_file.h"
#include "record/run.h"

#include <memory>

namespace uc {

enum class RunOrder { newest, title, size, minutes, error };

struct RunQuery {
  std::string text; // matched in title, stock, sheet, kind, way, size and note
  std::optional<RunStatus> status;
  RunOrder order = RunOrder::newest;
  bool descending = false;
  int limit = -1;
};

struct RunCorrection {
  std::string title;
  std::string stock;
  RunStatus status = RunStatus::finished;
  bool operator==(const RunCorrection&) const = default;
};

class RunLog {
public:
  /// Opens the log to write to it, or makes it where there is none. A file that is no log of ours, that is empty,
  /// damaged or newer is left as it is; `failure` says which.
  static Result<RunLog> open(const std::string& path, LogFailure* failure = nullptr);
  /// Opens a log that exists, without writing anything to its folder.
  static Result<RunLog> open_to_read(const std::string& path, LogFailure* failure = nullptr);
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
  /// Puts the active run aside, or takes one up that waits; fails when another is active.
  Status put_aside(std::int64_t run);
  Status take_up(std::int64_t run);
  /// The file of the project a run belongs to; as it is saved under another name, that one.
  Status set_project(std::int64_t run, const std::string& path);
  /// Closes a run as finished or abandoned and stores its totals.
  Status end(std::int64_t run, RunStatus status, const std::string& at);
  /// Stores a finished run whole, as from an import.
  Result<std::int64_t> add_whole(const RunDetail& run);
  /// Corrects what a run is called, what it was folded from, and how it ended; nothing else of it changes.
  Status correct(std::int64_t run, const RunCorrection& correction);
  Status remove(std::int64_t run);
  /// Puts a run that was removed back as it was, under its own number. Fails when that number is taken.
  Status restore(const RunDetail& run);

  [[nodiscard]] Result<std::vector<RunSummary>> list(const RunQuery& query = {}) const;
  [[nodiscard]] Result<RunDetail> load(std::int64_t run) const;
  [[nodiscard]] Result<std::optional<std::int64_t>> active_run() const;
  /// The latest run of a project that waits.
  [[nodiscard]] Result<std::optional<std::int64_t>> waiting_run(const std::string& project) const;

  /// What the last call that failed ran into.
  [[nodiscard]] const LogFailure& failure() const { return failure_; }
  /// Fails when the file was removed or replaced since it was opened.
  [[nodiscard]] Status in_place() const;
  [[nodiscard]] const std::string& path() const { return path_; }

private:
  RunLog(LogDatabase database, std::string path, bool writable);
  template <class Work> auto guarded(Work&& work) const -> decltype(work());
  template <class Work> auto written(Work&& work) -> decltype(work());

  LogDatabase db_;
  std::string path_;
  bool writable_ = false;
  std::optional<FileStamp> opened_;
  mutable LogFailure failure_;
};

} // namespace uc
