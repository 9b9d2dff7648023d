// Measure now: positions of creases as read off a ruler, against their budget, and what to do about the worst.
#pragma once

#include "base/background.h"
#include "device/scan_reader.h"
#include "io/json_codec.h"
#include "measure/judgement.h"
#include "stages/fold/measure_table.h"
#include "stages/fold/ruler_guide.h"
#include "stages/fold/run_session.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;

namespace uc::app {

class MeasurePanel : public QWidget {
  Q_OBJECT
public:
  MeasurePanel(Workspace& workspace, RunSession& session, QWidget* parent = nullptr);
  /// Fills the table from the run under way.
  void load();
  [[nodiscard]] MeasureTable* table() const { return table_; }
  [[nodiscard]] RulerGuide* guide() const { return guide_; }
  /// Gives the keyboard to the first figure to be typed.
  void begin_typing() { table_->begin_typing(); }
  [[nodiscard]] QString verdict() const;
  /// Measures the creases in a scan, off the interface thread, and fills in what is sure.
  void read_scan_file(const QString& path);
  [[nodiscard]] bool reading_scan() const { return scan_.busy(); }

signals:
  void closed();

private:
  struct Row {
    std::size_t plan;
    int line;
  };
  void choose_scan();
  void take_scan(const Result<ScanReading>& reading);
  void add_row(std::size_t plan, int line);
  void judge();
  /// What is typed in a row; nothing when it is empty, a sentence in `wrong` when it cannot be used.
  [[nodiscard]] std::optional<MeasuredLine> read(std::size_t row, double ruler_mm, QString& wrong) const;
  /// One direction's verdicts and sentences.
  QStringList judge_direction(std::size_t plan, const std::vector<MeasuredLine>& lines);
  /// `misread` where the ruler is more likely to blame than the fold.
  void write_verdict(std::size_t plan, const LineVerdict& verdict, bool misread);
  [[nodiscard]] QStringList repair_sentences(const Judgement& judged) const;
  [[nodiscard]] QString place_sentence(const Judgement& judged) const;
  [[nodiscard]] QString cause_sentence(std::size_t plan, const Cause& cause, int line) const;
  void show_start();
  [[nodiscard]] QString figure(double mm) const;
  [[nodiscard]] double planned_mm(const Row& row) const;

  Workspace& workspace_;
  RunSession& session_;
  MeasureTable* table_;
  RulerGuide* guide_;
  QLabel* verdict_;
  QLineEdit* ruler_;
  QPushButton* scan_button_;
  std::vector<StoredPlan> plans_;           // as planned
  std::vector<std::vector<GridStep>> done_; // per plan: the steps that are done
  std::vector<std::vector<int>> move_of_;   // per plan: the move of each step that is done
  std::vector<Row> rows_;
  Background<Result<ScanReading>> scan_;
};

} // namespace uc::app
