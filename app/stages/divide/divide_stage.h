// Divide: how many parts, in which directions, by which method, with which creases; all methods side by side.
#pragma once

#include "base/background.h"
#include "divide/starts.h"
#include "stages/divide/error_plot.h"
#include "stages/stage.h"
#include "widgets/paper_view.h"

class QSpinBox;
class QComboBox;
class QLineEdit;
class QCheckBox;
class QTableWidget;

namespace uc::app {

class DivideStage : public Stage {
  Q_OBJECT
public:
  explicit DivideStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "divide"; }
  static QString verb_of() { return tr("Divide"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return centre_; }
  [[nodiscard]] PaperView* paper() const { return paper_; }
  [[nodiscard]] std::vector<BenchView*> views() const override { return {paper_}; }
  void write_ledger(Ledger& ledger) override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;
  /// Whether the comparison of all methods and starts is still being computed.
  [[nodiscard]] bool busy() const { return waiting_; }

  bool eventFilter(QObject* watched, QEvent* event) override;

private:
  void build_choices();
  void build_extents();
  void build_hand();
  void build_centre();
  void load();
  void compare();
  void compare_starts();
  void fill_table();
  void choose_row(int row);
  void edit(Field* field, const QString& label, const std::function<void(Project&)>& change, int merge = -1);
  void lines_typed();
  void areas_typed();
  void start_typed();
  void hand_typed();
  [[nodiscard]] QString describe(int element) const;

  ChoicesColumn* choices_;
  QWidget* centre_;
  PaperView* paper_;
  QTableWidget* table_;
  ErrorPlot* plot_;
  QSpinBox* parts_;
  Field* parts_field_;
  QComboBox* axis_;
  QComboBox* direction_;
  QComboBox* extent_;
  QSpinBox* inset_;
  Field* inset_field_;
  QLineEdit* left_out_;
  Field* left_out_field_;
  QLineEdit* areas_;
  Field* areas_field_;
  QCheckBox* pinches_;
  QLineEdit* start_;
  Field* start_field_;
  QLineEdit* sigma_;
  QLineEdit* guess_;
  QCheckBox* either_side_;
  Field* hand_field_;
  std::vector<Division> compared_;
  std::vector<StartedDivision> starts_;
  bool waiting_ = false;
  Background<std::vector<Division>> comparing_; // the last members: they go first
  Background<std::vector<StartedDivision>> starting_;
};

} // namespace uc::app
