// Prove: whether the pattern folds flat, before paper is touched. Pattern and folded form side by side, the same face
// lit in both; what is broken, and what would mend it.
#pragma once

#include "base/background.h"
#include "stages/prove/precrease_choice.h"
#include "stages/prove/prove_work.h"
#include "stages/stage.h"
#include "widgets/folded_paper.h"
#include "widgets/paper_view.h"
#include "widgets/waiting_strip.h"

#include <QPointer>
#include <QTimer>

class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace uc::app {

class ProveStage : public Stage {
  Q_OBJECT
public:
  explicit ProveStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "prove"; }
  static QString verb_of() { return tr("Prove"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return centre_; }
  [[nodiscard]] PaperView* paper() const { return paper_; }
  [[nodiscard]] std::vector<BenchView*> views() const override { return {paper_, folded_}; }
  void write_ledger(Ledger& ledger) override;
  void entered() override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

  [[nodiscard]] bool busy() const { return working_.busy() || delay_.isActive(); }
  [[nodiscard]] const ProofFindings& findings() const { return found_; }
  [[nodiscard]] FoldedPaper* folded() const { return folded_; }
  [[nodiscard]] PrecreaseChoice* precreasing() const { return precreasing_; }
  void begin_anew() override;
  void set_look(FoldedPaper::Look look);
  /// Writes the folded form by the ending of the name; the sentence says what is wrong.
  QString save_folded(const QString& path);

public slots:
  void find_directions() { work(ProofTask::direct); }
  void count_states() { work(ProofTask::count); }
  void mend();

private:
  void build_choices();
  void build_centre();
  void load();
  void prove_soon();
  void work(ProofTask task);
  void finished(ProofFindings found);
  void show_findings();
  void show_paper();
  void show_violation(int index);
  void light(int face);
  void take_directions(const Directed& directed);
  [[nodiscard]] QString verdict() const;
  /// Whether what was proved stands in space in the end.
  [[nodiscard]] bool in_space() const;
  [[nodiscard]] QString space_verdict() const;
  void write_space(Ledger& ledger);
  [[nodiscard]] bool current() const {
    return !workspace_.document.drawing() && found_.drawn == workspace_.document.pattern();
  }
  [[nodiscard]] QString sentence(const LocalViolation& violation) const;
  [[nodiscard]] QString sentence(const VertexRepair& repair) const;

  ChoicesColumn* choices_;
  QWidget* centre_;
  PaperView* paper_;
  FoldedPaper* folded_;
  QLabel* verdict_;
  QPointer<WaitingStrip> waiting_; // goes with the window
  QComboBox* look_;
  QListWidget* violations_;
  std::vector<QWidget*> mending_; // shown while something is broken
  PrecreaseChoice* precreasing_;  // offered when nothing is
  QListWidget* repairs_;
  QPushButton* mend_;
  QPushButton* save_;
  QPushButton* preview_;
  QComboBox* wish_;
  QPushButton* directions_;
  QPushButton* count_;

  ProofFindings found_;
  PatternChange change_; // since the proof before
  ProofTask task_ = ProofTask::prove;
  std::shared_ptr<const DrawnPattern> asked_; // the document's pattern when the task began
  LayerCache cache_;                          // only the one worker uses it
  QTimer delay_;
  QString said_;
  int layers_here_ = 0;
  bool seen_ = false;
  Background<ProofFindings> working_; // the last member: it goes first
};

} // namespace uc::app
