// Fold: the programme one move at a time, at arm's length. Type large enough to read with paper in both hands; Space or
// Page Down goes on, Page Up goes back.
#pragma once

#include "stages/fold/measure_panel.h"
#include "stages/fold/move_card.h"
#include "stages/stage.h"
#include "widgets/paper_view.h"

#include <QStackedWidget>
#include <QTimer>

class QLabel;
class QPushButton;

class QLineEdit;

namespace uc {
struct PieceForm;
}

namespace uc::app {

class FoldStage : public Stage {
  Q_OBJECT
public:
  explicit FoldStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "fold"; }
  static QString verb_of() { return tr("Fold"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return pages_; }
  [[nodiscard]] PaperView* paper() const { return paper_; }
  [[nodiscard]] std::vector<BenchView*> views() const override { return {paper_}; }
  void write_ledger(Ledger& ledger) override;
  void entered() override;
  void begin_anew() override;
  void move_chosen(int move) override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

  [[nodiscard]] RunSession& session() { return session_; }
  [[nodiscard]] MeasurePanel* measure_panel() { return measure_; }
  /// The sentence now shown.
  [[nodiscard]] QString sentence() const;

private:
  void build_choices();
  void build_centre();
  /// Space: begins the run, then goes on.
  void go_on();
  void next();
  void back();
  void show_move();
  void show_measure(bool on);
  void write_unit(Ledger& ledger) const;
  void write_layers(Ledger& ledger, const uc::PieceForm& form) const;
  void tick();
  void report(const QString& wrong);
  void resume();
  void run_found(const QString& wrong);
  void leave_waiting();
  void fold_on(qint64 run); // a run that waits
  void ask_about_plan();
  void withdraw_question();
  void run_ended(); // what was said of it is no longer so
  /// Asks once before a run ends that is not all done.
  bool confirmed(RunStatus status);
  void end_run(RunStatus status);
  void touched() { idle_.start(); }

  RunSession session_;
  ChoicesColumn* choices_;
  QStackedWidget* pages_;
  PaperView* paper_;
  MoveCard* card_;
  MeasurePanel* measure_;
  QPushButton* next_;
  QPushButton* back_;
  QPushButton* start_;
  QPushButton* pause_;
  QPushButton* skip_;
  QPushButton* fault_;
  QPushButton* note_;
  QPushButton* finish_;
  QPushButton* wait_;
  QPushButton* abandon_;
  QPushButton* measure_button_;
  QLineEdit* words_;
  Field* words_field_;
  QWidget* move_section_;
  QWidget* run_section_;
  QLabel* timer_;
  QLabel* move_timer_;
  QTimer second_;
  QElapsedTimer idle_;
  bool asked_about_plan_ = false;
  int preview_ = 0; // the move looked at while no run is under way
};

} // namespace uc::app
