// Measure now: positions of creases as read off a ruler, against their budget, and what to do about the worst.
#pragma once

#include "record/hand_fit.h"
#include "stages/fold/run_session.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QTableWidget;
class QLineEdit;

namespace uc::app {

class MeasurePanel : public QWidget {
  Q_OBJECT
public:
  MeasurePanel(Workspace& workspace, RunSession& session, QWidget* parent = nullptr);
  /// Fills the table from the run under way.
  void load();
  [[nodiscard]] QTableWidget* table() const { return table_; }
  [[nodiscard]] QString verdict() const;

signals:
  void closed();

private:
  void judge();
  [[nodiscard]] std::vector<MeasuredLine> read(QString& wrong) const;

  Workspace& workspace_;
  RunSession& session_;
  QTableWidget* table_;
  QLabel* verdict_;
  QLineEdit* ruler_;
  std::vector<StoredPlan> plans_;
  struct Row {
    std::size_t plan;
    int line;
  };
  std::vector<Row> rows_;
};

} // namespace uc::app
