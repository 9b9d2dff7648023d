// The window: ribbon above, choices, paper and ledger side by side, the programme strip below, and every action in a
// menu with its key.
#pragma once

#include "shell/ledger.h"
#include "shell/pleat_ribbon.h"
#include "shell/programme_strip.h"
#include "shell/theme.h"
#include "stages/stage.h"

#include <QMainWindow>

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
  [[nodiscard]] Stage* stage(const QString& key) const;
  [[nodiscard]] int current_stage() const { return current_; }
  [[nodiscard]] int stage_count() const { return static_cast<int>(stages_.size()); }
  [[nodiscard]] Stage* stage_at(int index) const { return stages_[static_cast<std::size_t>(index)]; }
  [[nodiscard]] Ledger* ledger() const { return ledger_; }
  [[nodiscard]] ProgrammeStrip* strip() const { return strip_; }
  [[nodiscard]] PleatRibbon* ribbon() const { return ribbon_; }
  [[nodiscard]] QString notice() const;

  /// Opens a project; a failure becomes a notice.
  bool open_project(const QString& path);
  bool save_project_as(const QString& path);
  void set_theme(ThemeChoice choice);
  /// A sentence above the paper, with optional buttons.
  void notify(const QString& sentence, const QList<QPair<QString, std::function<void()>>>& buttons = {});
  void offer_recovery();

protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

private:
  void add_stage(Stage* stage);
  void make_menus();
  void make_file_menu();
  void make_edit_menu();
  void make_view_menu();
  void make_help_menu();
  void refresh();
  void update_title();
  void remember_recent(const QString& path);
  void fill_recent(QMenu* menu);
  void show_keys();
  [[nodiscard]] bool may_discard();
  void choose_open();
  bool choose_save(bool always_ask);
  void export_file();

  Workspace& workspace_;
  PleatRibbon* ribbon_;
  QStackedWidget* choices_;
  QStackedWidget* centre_;
  Ledger* ledger_;
  ProgrammeStrip* strip_;
  QWidget* notice_;
  QLabel* notice_text_;
  bool notice_asks_ = false; // it has buttons of its own and stays until it is answered
  QHBoxLayout* notice_buttons_;
  std::vector<Stage*> stages_;
  int current_ = 0;
};

} // namespace uc::app
