// The window: ribbon above, choices, paper and ledger side by side, the programme strip below, and every action in a
// menu with its key.
#pragma once

#include "base/project_presence.h"
#include "base/theme.h"
#include "shell/notice_list.h"
#include "shell/pleat_ribbon.h"
#include "shell/programme_strip.h"
#include "shell/stage_places.h"
#include "widgets/ledger.h"

#include <QMainWindow>
#include <QTimer>

class QStackedWidget;
class QLabel;
class QHBoxLayout;

namespace uc::app {

class MainWindow : public QMainWindow {
  Q_OBJECT
public:
  explicit MainWindow(Workspace& workspace);

  void show_stage(int index);
  void show_stage(const QString& key);
  /// Made when it is not there yet; null when there is none of that key.
  [[nodiscard]] Stage* stage(const QString& key) const;
  [[nodiscard]] int current_stage() const { return current_; }
  [[nodiscard]] int stage_count() const { return stages_->count(); }
  [[nodiscard]] Stage* stage_at(int index) const { return stages_->at(index); }
  /// As it is now: what waits to be written is written first.
  [[nodiscard]] Ledger* ledger();
  [[nodiscard]] ProgrammeStrip* strip() const { return strip_; }
  [[nodiscard]] PleatRibbon* ribbon() const { return ribbon_; }
  [[nodiscard]] QString notice() const;

  /// Opens a project; a failure becomes a notice.
  bool open_project(const QString& path);
  /// A new project that folds a steps file.
  bool open_steps(const QString& path);
  /// The same with the text itself; `name` is what it is called where it has no title.
  bool begin_steps(const std::string& text, const QString& name);
  bool save_project_as(const QString& path);
  void set_theme(ThemeChoice choice);
  /// A sentence in the list at the foot, with optional buttons; one of the same key takes the place of the earlier.
  void notify(const QString& sentence, const QList<NoticeAction>& actions = {}, const QString& key = {});
  [[nodiscard]] NoticeList* notices() const { return notices_; }
  /// One notice for every project that was not saved when a program ended.
  void offer_recovery();
  /// Says what stands in the way of the log, with what helps.
  void tell_of_log();

protected:
  void showEvent(QShowEvent* event) override;
  void closeEvent(QCloseEvent* event) override;
  void changeEvent(QEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

private:
  void turn_views(const Stage& stage) const;
  void make_menus();
  void make_file_menu();
  void make_edit_menu();
  void make_view_menu();
  void make_help_menu();
  void refresh();
  void take_size();
  void keep_size() const;
  void tell_what_is_left_out();
  void write_ledger();
  void update_title();
  void remember_recent(const QString& path);
  [[nodiscard]] static QStringList recent_projects();
  void fill_recent(QMenu* menu);
  void fill_library(QMenu* menu);
  void add_what_to_fold(QMenu& menu);
  void show_keys();
  [[nodiscard]] bool may_discard();
  void choose_open();
  bool choose_save(bool always_ask);
  /// Before the project's own file is replaced: asks when others have changed or removed it. Whether to go on.
  bool settle_file_change();
  void look_at_file();
  void restore(const Recoverable& found);
  /// Whether the project may be left for another: asks about unsaved work, then about a run under way, which is put
  /// aside.
  bool may_leave();
  enum class Leaving { project, quit };
  /// Whether a run under way may be left: says what becomes of it.
  bool may_leave_run(Leaving leaving);
  void export_file();
  void score_file();

  Workspace& workspace_;
  PleatRibbon* ribbon_;
  QStackedWidget* choices_;
  QStackedWidget* centre_;
  Ledger* ledger_;
  QTimer ledger_due_; // several changes in a row are written once
  ProgrammeStrip* strip_;
  NoticeList* notices_;
  ProjectPresence presence_;
  QStringList left_out_; // of the programme
  QString refusal_;      // of its steps
  StagePlaces* stages_;
  int current_ = 0;
};

} // namespace uc::app
