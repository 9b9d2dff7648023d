// Pattern: a family with its parameters, creases drawn by rule on a grid, or a file that was read. Parameters and rules
// stay live; the paper shows what they draw.
#pragma once

#include "base/background.h"
#include "pattern/handles.h"
#include "stages/stage.h"
#include "widgets/paper_view.h"
#include "widgets/parameter_panel.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QSpinBox;
class QStackedWidget;
class QVBoxLayout;

namespace uc::app {

class SizeWish;
class ValueTrials;

class PatternStage : public Stage {
  Q_OBJECT
public:
  explicit PatternStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "pattern"; }
  static QString verb_of() { return tr("Pattern"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return centre_; }
  [[nodiscard]] PaperView* paper() const { return paper_; }
  [[nodiscard]] ValueTrials* trials() const { return trials_; }
  [[nodiscard]] std::vector<BenchView*> views() const override;
  /// The pattern on the sheet, or what a value changes.
  void show_trials(bool trials);
  void begin_anew() override;
  void write_ledger(Ledger& ledger) override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

  /// Adds a rule below the others; the sentence says what is wrong with it.
  QString add_rule(const QString& text);
  /// Reads a pattern file in place of the sheet; asks for kinds where the drawing does not tell them.
  QString read_file_named(const QString& path);
  QString write_file_named(const QString& path);

private:
  void build_centre();
  void build_choices();
  void build_rules(QVBoxLayout* box);
  void build_files();
  void load();
  void change_rule();
  void remove_rule();
  void move_rule(int by);
  void choose_family(int index);
  void browse_families();
  void write_figures(Ledger& ledger, const DrawnPattern& drawn);
  void set_parameter(const QString& name, double value);
  /// All values and the sheet at once.
  void take_settings(const SizedFamily& settings);
  void find_handles();
  void show_handles(std::vector<FamilyHandle> found);
  void drag_handle(int handle, const Point& at);
  void write_sheet(Ledger& ledger, const DrawnPattern& drawn);
  void write_closing(Ledger& ledger, const DrawnPattern& drawn);
  void turn_into_rules();
  void load_family();
  void load_rules();
  void pick(const Point& at, double reach_mm);
  QString change(const QString& label, const std::function<void(PatternDesign&)>& edit);

  ChoicesColumn* choices_;
  QWidget* centre_;
  QStackedWidget* pages_;
  QComboBox* shown_;
  PaperView* paper_;
  ValueTrials* trials_;
  SizeWish* wish_;
  QComboBox* grid_;
  QSpinBox* count_;
  QListWidget* rules_;
  QLineEdit* rule_;
  Field* rule_field_;
  QComboBox* form_;
  QComboBox* family_;
  ParameterPanel* parameters_;
  QPushButton* into_rules_;
  QWidget* by_rule_; // what is shown when no family draws
  QComboBox* click_;
  QPushButton* change_;
  QPushButton* remove_;
  QPushButton* up_;
  std::optional<Point> first_pick_;
  std::vector<FamilyHandle> handles_;
  Background<std::vector<FamilyHandle>> finding_handles_; // the last member: it goes first
};

} // namespace uc::app
