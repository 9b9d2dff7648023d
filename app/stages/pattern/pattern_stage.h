// Pattern: a family with its parameters, creases drawn by rule on a grid, or a file that was read. Parameters and rules
// stay live; the paper shows what they draw.
#pragma once

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
class QVBoxLayout;

namespace uc::app {

class PatternStage : public Stage {
  Q_OBJECT
public:
  explicit PatternStage(Workspace& workspace, QObject* parent = nullptr);
  [[nodiscard]] QString key() const override { return "pattern"; }
  [[nodiscard]] QString verb() const override { return tr("Pattern"); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return paper_; }
  [[nodiscard]] PaperView* paper() const { return paper_; }
  [[nodiscard]] std::vector<BenchView*> views() const override { return {paper_}; }
  void write_ledger(Ledger& ledger) override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

  /// Adds a rule below the others; the sentence says what is wrong with it.
  QString add_rule(const QString& text);
  /// Reads a pattern file in place of the sheet; asks for kinds where the drawing does not tell them.
  QString read_file_named(const QString& path);
  QString write_file_named(const QString& path);

private:
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
  void turn_into_rules();
  void load_family();
  void load_rules();
  void pick(const Point& at, double reach_mm);
  QString change(const QString& label, const std::function<void(PatternDesign&)>& edit);

  ChoicesColumn* choices_;
  PaperView* paper_;
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
};

} // namespace uc::app
