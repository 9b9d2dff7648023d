// Log: every run, searched, sorted and compared; charts of error and time; the hand fitted from what was measured.
#pragma once

#include "measure/hand_fit.h"
#include "record/run_log.h"
#include "stages/stage.h"

#include <QAbstractTableModel>

class QTableView;
class QLineEdit;
class QComboBox;
class QPushButton;
class QChartView;
class QPlainTextEdit;
class QLabel;

namespace uc::app {

/// What was folded in a run, in a few words.
QString work_words(const RunSummary& run);

class RunModel : public QAbstractTableModel {
  Q_OBJECT
public:
  explicit RunModel(Workspace& workspace, QObject* parent = nullptr)
      : QAbstractTableModel(parent), workspace_(workspace) {}
  void show_runs(std::vector<RunSummary> runs);
  [[nodiscard]] const RunSummary* run(int row) const;
  [[nodiscard]] int row_of(std::int64_t id) const;
  [[nodiscard]] const std::vector<RunSummary>& runs() const { return runs_; }
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  void sort(int column, Qt::SortOrder order) override;

private:
  Workspace& workspace_;
  std::vector<RunSummary> runs_;
  int column_ = 0;
  Qt::SortOrder order_ = Qt::DescendingOrder;
};

class LogStage : public Stage {
  Q_OBJECT
public:
  explicit LogStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "log"; }
  static QString verb_of() { return tr("Log"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return centre_; }
  void write_ledger(Ledger& ledger) override;
  void entered() override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;
  [[nodiscard]] RunModel& runs() { return model_; }

  QString export_to(const QString& path);
  /// Fits the hand from the selected runs, or from all measured ones; empty on success.
  QString fit();
  QString use_fit();
  /// Attaches a picture by its path; empty on success.
  QString attach(std::int64_t run, const QString& path);

private:
  void build_choices();
  void build_centre();
  void reload();
  void choose(std::int64_t run);
  void draw_charts();
  [[nodiscard]] std::vector<std::int64_t> selected() const;
  void write_run(Ledger& ledger, const RunDetail& run);
  void write_comparison(Ledger& ledger, const RunDetail& a, const RunDetail& b);
  void store_note();
  void show_run();
  void show_correction(const RunSummary& run);
  void store_correction();
  void remove_run();
  void add_photo();
  QString in_log(const std::function<Status(RunLog&)>& deed);

  RunModel model_;
  ChoicesColumn* choices_;
  QWidget* centre_;
  QTableView* table_;
  QLabel* empty_;
  QLineEdit* search_;
  QComboBox* status_;
  QChartView* error_chart_;
  QChartView* time_chart_;
  QLineEdit* title_;
  Field* title_field_;
  QLineEdit* paper_;
  QComboBox* ended_;
  QPushButton* take_up_;
  std::int64_t shown_id_ = 0; // of the run whose title and paper are shown
  RunCorrection shown_;
  QPlainTextEdit* note_;
  QLabel* fit_text_;
  Field* note_field_;
  std::pair<std::int64_t, std::string> shown_note_{-1, {}};
  std::optional<HandFit> fitted_;
  int fitted_runs_ = 0;
  int total_ = 0;
};

} // namespace uc::app
