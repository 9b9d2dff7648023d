// Mark: any mark, line, angle, polygon or proportion by folding. What is wanted is typed or picked on the paper; the
// ways to it are plotted below, effort against what they miss by; one action sends a way into the programme.
#pragma once

#include "base/background.h"
#include "stages/mark/mark_search.h"
#include "stages/mark/ways_bench.h"
#include "stages/stage.h"
#include "widgets/paper_view.h"
#include "widgets/waiting_strip.h"
#include "widgets/way_plot.h"

#include <QPointer>
#include <QTimer>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPlainTextEdit;
class QPushButton;
class QSpinBox;

namespace uc::app {

class MarkStage : public Stage {
  Q_OBJECT
public:
  explicit MarkStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "mark"; }
  static QString verb_of() { return tr("Mark"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return centre_; }
  [[nodiscard]] PaperView* paper() const { return bench_->paper(); }
  [[nodiscard]] std::vector<BenchView*> views() const override { return bench_->views(); }
  void write_ledger(Ledger& ledger) override;
  void entered() override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

  [[nodiscard]] bool busy() const { return searching_.busy() || delay_.isActive(); }
  [[nodiscard]] const Findings& findings() const { return found_; }
  [[nodiscard]] int chosen() const { return plot_->chosen(); }
  void set_wish(Wish wish);
  void set_target(const QString& text);
  void set_sides(int sides);
  [[nodiscard]] WayPlot* plot() const { return plot_; }
  [[nodiscard]] WaysBench* bench() const { return bench_; }

  void begin_anew() override;

public slots:
  /// Puts the chosen way into the programme.
  void send();

private:
  void build_choices();
  void build_wishes();
  void build_limits();
  void build_planned();
  void build_centre();
  [[nodiscard]] QWidget* build_plot_choices();
  void plot_ways();
  void narrow();
  void pick_best(const std::function<double(const Finding&)>& figure);
  void load();
  void search_soon();
  void search();
  void show_findings();
  void show_chosen();
  void pick(const Point& at, double reach_mm);
  void remove_planned();
  [[nodiscard]] MarkRequest request() const;
  [[nodiscard]] QString words_of(const Finding& finding) const;
  [[nodiscard]] WaysBench::Shown shown_of(const Finding& finding) const;
  [[nodiscard]] QString title_of(const Finding& finding) const;
  [[nodiscard]] const Finding* current() const;
  void write_route(Ledger& ledger, const Route& route) const;
  void write_polygon(Ledger& ledger, const PolygonMethod& polygon) const;
  void write_trim(Ledger& ledger, const Trim& trim) const;
  void write_strips(Ledger& ledger) const;

  ChoicesColumn* choices_;
  QWidget* centre_;
  WaysBench* bench_;
  WayPlot* plot_;
  QWidget* plot_choices_ = nullptr;
  QComboBox* effort_ = nullptr;
  QCheckBox* exact_only_ = nullptr;
  QLabel* message_;
  QPointer<WaitingStrip> waiting_; // goes with the window
  QComboBox* wish_;
  QLineEdit* target_;
  Field* target_field_;
  QComboBox* sides_;
  Field* sides_field_;
  QLineEdit* ratio_;
  Field* ratio_field_;
  QLineEdit* strips_;
  Field* strips_field_;
  QPlainTextEdit* recipe_;
  Field* recipe_field_;
  QSpinBox* creases_;
  QLineEdit* areas_;
  Field* areas_field_;
  QListWidget* planned_;
  QPushButton* remove_;
  QCheckBox* follows_;

  Findings found_;
  int searched_creases_ = 4;    // at most, by the last search
  std::optional<Point> picked_; // the place that was clicked last
  std::string sheet_;           // the code of the sheet that `found_` is for
  double hand_mm_ = 0;
  QTimer delay_;
  bool seen_ = false;
  Background<Findings> searching_; // the last member: it goes first
};

} // namespace uc::app
