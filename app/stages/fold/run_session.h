// One run at the table: which move is next, how long the hands have worked, and every event written to the log before
// it counts. The session knows no widgets.
#pragma once

#include "base/background.h"
#include "base/held_file.h"
#include "base/workspace.h"
#include "record/run_log.h"

#include <QElapsedTimer>
#include <QObject>

namespace uc::app {

class RunSession : public QObject {
  Q_OBJECT
public:
  explicit RunSession(Workspace& workspace, QObject* parent = nullptr);

  [[nodiscard]] bool active() const { return id_ != 0; }
  /// A run found in the log is being read, its steps folded off the interface thread; it comes up by itself.
  [[nodiscard]] bool reading() const { return reading_.busy(); }
  [[nodiscard]] bool paused() const { return progress_.paused; }
  [[nodiscard]] std::int64_t id() const { return id_; }
  /// The programme being folded: the run's own while active, else the document's.
  [[nodiscard]] const Programme& programme() const;
  [[nodiscard]] const RunProgress& progress() const { return progress_; }
  [[nodiscard]] int next_move() const { return progress_.next_move; }
  [[nodiscard]] bool all_done() const { return active() && next_move() >= static_cast<int>(programme().moves.size()); }
  /// Worked seconds so far, the running move included.
  [[nodiscard]] double worked_seconds() const;
  [[nodiscard]] double seconds_on_move() const;

  /// The run is held by another window: this one shows how it goes on and changes nothing.
  [[nodiscard]] bool looking_on() const { return active() && !hold_; }
  /// Why no run can be begun or gone on with: one is under way that cannot be read. Empty when there is none.
  [[nodiscard]] QString blocked() const { return blocked_; }
  /// Ends the run that cannot be read as abandoned, so that another can begin. It stays in the log.
  QString close_unreadable();
  /// Looks for what another window has done, or takes the run over when that window is gone.
  void look_again();
  /// After the log was begun anew: writes the run under way into it, whole. Returns a sentence when that fails.
  QString keep_in_new_log();
  /// The document's plan is no longer the one that is being folded.
  [[nodiscard]] bool plan_has_changed() const;

  // Each returns an empty text or the sentence to show; on failure nothing has changed.
  QString start();
  QString resume_stored();
  /// Puts the run under way aside, so that another can be begun; it waits in the log under its project.
  QString put_aside();
  /// Goes on with a run that waits.
  QString take_up_waiting(std::int64_t id);
  /// Takes up the latest run that waits for this project's file, if any.
  QString take_up_of_project();
  QString done();
  QString skip(const QString& reason);
  QString back();
  QString note(const QString& text);
  QString fault(const QString& text);
  QString pause();
  QString take_up();
  /// Puts the work down because nothing happened for a while: the idle time is not counted as work.
  QString declare_idle(double idle_seconds);
  QString end(RunStatus status);

  /// Stored plans of the run, for measuring; empty when none is active.
  [[nodiscard]] const RunDetail& detail() const { return detail_; }
  QString set_measured(const std::vector<MeasuredLine>& measured);

signals:
  void changed();
  /// A run found in the log has come up, or cannot (then with the sentence).
  void found(const QString& wrong);

private:
  QString add(EventKind kind, double seconds, const QString& text = {});
  void restart_clock(bool running);

  Workspace& workspace_;
  void load(RunDetail detail, Programme programme);
  [[nodiscard]] QString hold_file() const;
  void show_in_strip();
  void leave();
  QString read_stored(std::int64_t id, bool waiting);
  void take(std::int64_t id, RunDetail detail, Result<Programme> programme, bool waiting);

  std::int64_t id_ = 0;
  HeldFile hold_; // of the run under way, for one window at a time
  QString blocked_;
  std::int64_t unreadable_ = 0;
  RunDetail detail_;
  Programme programme_;
  RunProgress progress_;
  QElapsedTimer clock_;
  bool of_document_ = false; // it is folded for the project that is open
  struct Read {
    std::int64_t id = 0;
    RunDetail detail;
    Result<Programme> programme;
    bool waiting = false;
  };
  Background<Read> reading_; // the last member: it goes first
};

/// Now, as ISO 8601 in UTC.
std::string now_utc();

} // namespace uc::app
