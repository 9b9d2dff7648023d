// What all stages share: the document, the shelf, the log, and how the sheet is looked at.
#pragma once

#include "base/document.h"
#include "base/held_file.h"
#include "base/notice.h"
#include "programme/text.h"
#include "record/run_log.h"
#include "reference/sheet_index.h"

#include <QObject>

#include <memory>
#include <optional>

namespace uc::app {

class Workspace : public QObject {
  Q_OBJECT
public:
  /// `folder` holds log, shelf and recovery copies.
  explicit Workspace(const QString& folder, QObject* parent = nullptr);

  Document document;
  IndexStore indexes; // of what can be folded on the sheets last used
  std::vector<Stock> shelf;

  [[nodiscard]] RunLog* log() { return log_ ? &*log_ : nullptr; }
  [[nodiscard]] QString log_error() const { return log_error_; }
  [[nodiscard]] QString log_path() const { return folder_ + "/log.sqlite"; }
  [[nodiscard]] QString folder() const { return folder_; }
  /// A log that is not there is begun, unless one vanished while it was open and `begin` does not ask for a new one.
  void open_log(bool begin = false);
  /// What stands in the way of the log; none while it works.
  [[nodiscard]] LogTrouble log_trouble() const { return log_trouble_; }
  /// Renames a log that cannot be used and begins a new one; returns the old file's new name, or in `wrong` why not.
  QString set_log_aside(QString& wrong);
  /// Looks whether the log's last failure means that it cannot be used any more, and announces it.
  void heed_log();

  QString store_shelf(const std::vector<Stock>& stocks);
  /// Does something outside the project at once and puts it on the undo stack; `opposite` takes it back. Both return a
  /// sentence when they fail. Nothing is remembered when the deed fails now.
  QString do_undoably(const QString& label, const std::function<QString()>& deed,
                      const std::function<QString()>& opposite);
  [[nodiscard]] QString shelf_error() const { return shelf_error_; }

  [[nodiscard]] bool underside() const { return underside_; }
  [[nodiscard]] int quarter_turns() const { return quarter_turns_; }
  void turn_over();
  void rotate_view(int quarters);
  /// Face up, as the sheet was begun.
  void reset_view();

  [[nodiscard]] TextStyle text_style() const;
  [[nodiscard]] QString length(double mm) const;
  [[nodiscard]] QString error(double mm) const;

  /// Whether several windows share the folder, and whether it can be written to.
  enum class Folder { own, shared, unwritable };
  [[nodiscard]] Folder folder_state() const { return folder_state_; }
  [[nodiscard]] QString folder_sentence() const;
  [[nodiscard]] QString cannot_write_sentence() const;

  void announce_log_change() { emit log_changed(); }
  /// Asks the window to show a stage by its key ("fold").
  void show_stage(const QString& key) { emit stage_wanted(key); }
  /// Asks the log to choose a run, or the stage that folds to go on with one that waits.
  void choose_run(std::int64_t run) { emit run_chosen(run); }
  void want_run(std::int64_t run) { emit run_wanted(run); }
  void say(const QString& text) { emit said(text); }
  /// Says that a file was written, and where, or what went wrong.
  void say_written(const QString& path, const QString& wrong);
  /// Says something that waits for an answer; the same key takes the place of an earlier one.
  void ask(const QString& text, const QList<NoticeAction>& actions, const QString& key) {
    emit asked(text, actions, key);
  }
  /// Shows these moves in the strip in place of the project's, as while they are folded; null ends it.
  void show_run(std::shared_ptr<const Programme> run);
  [[nodiscard]] std::shared_ptr<const Programme> run_shown() const { return run_; }
  /// The moves the strip shows.
  [[nodiscard]] const Programme& strip_programme() const {
    static const Programme none;
    return run_ ? *run_ : document.planning() ? none : document.project().programme;
  }

signals:
  void view_changed();
  void log_changed();
  void shelf_changed();
  void stage_wanted(const QString& key);
  void run_chosen(qint64 run);
  void run_wanted(qint64 run);
  void said(const QString& text);
  void asked(const QString& text, const QList<NoticeAction>& actions, const QString& key);
  void current_move_changed(int move);
  void strip_changed();
  /// The log cannot be used; the window says so and offers what helps.
  void log_failed();

private:
  QString write_shelf(const std::vector<Stock>& stocks);
  QString folder_;
  std::optional<RunLog> log_;
  QString log_error_;
  LogTrouble log_trouble_ = LogTrouble::none;
  HeldFile instance_;
  Folder folder_state_ = Folder::own;
  std::shared_ptr<const Programme> run_;
  QString shelf_error_;
  bool underside_ = false;
  int quarter_turns_ = 0;
};

/// The sign of a family of lines: x, y, ↗, ↘, 0°, 60°, 120°.
QString direction_sign(const std::string& family);

/// To be said after something of the plan was put into the programme: what is not folded any more because of it.
QString in_place_of(FoldedWork before);

/// A core phrase in the reader's language.
QString translated(std::string_view phrase);

} // namespace uc::app
