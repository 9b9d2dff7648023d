// What all stages share: the document, the shelf, the log, and how the sheet is looked at.
#pragma once

#include "programme/text.h"
#include "record/run_log.h"
#include "reference/sheet_index.h"
#include "shell/document.h"

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
  void open_log();
  /// Renames a damaged log and begins a new one; returns the old file's new name.
  QString set_log_aside();

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

  [[nodiscard]] TextStyle text_style() const;
  [[nodiscard]] QString length(double mm) const;
  [[nodiscard]] QString error(double mm) const;

  void announce_log_change() { emit log_changed(); }
  /// Asks the window to show a stage by its key ("fold").
  void show_stage(const QString& key) { emit stage_wanted(key); }
  void say(const QString& text) { emit said(text); }

signals:
  void view_changed();
  void log_changed();
  void shelf_changed();
  void stage_wanted(const QString& key);
  void said(const QString& text);
  void current_move_changed(int move);

private:
  QString write_shelf(const std::vector<Stock>& stocks);
  QString folder_;
  std::optional<RunLog> log_;
  QString log_error_;
  QString shelf_error_;
  bool underside_ = false;
  int quarter_turns_ = 0;
};

/// The sign of a family of lines: x, y, ↗, ↘, 0°, 60°, 120°.
QString direction_sign(const std::string& family);

/// A core phrase in the reader's language.
QString translated(std::string_view phrase);

} // namespace uc::app
