// Collapse: the sheet closing in space before it is touched, from flat to closed, with the strain in the paper and
// under a lamp; in which order its creases are driven, and what each order costs.
#pragma once

#include "base/background.h"
#include "stages/collapse/closing_work.h"
#include "stages/collapse/stage_timeline.h"
#include "stages/stage.h"
#include "widgets/school_box.h"
#include "widgets/spatial_bench.h"
#include "widgets/waiting_strip.h"
#include "widgets/way_plot.h"

#include <QPointer>
#include <QTimer>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QSlider;
class QSpinBox;

namespace uc::app {

/// An order as it is offered.
QString order_words(CollapseOrder order);

class CollapseStage : public Stage {
  Q_OBJECT
public:
  enum class Shown { paper, strain, lamp };
  explicit CollapseStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "collapse"; }
  static QString verb_of() { return tr("Collapse"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return centre_; }
  [[nodiscard]] std::vector<BenchView*> views() const override { return {bench_}; }
  void write_ledger(Ledger& ledger) override;
  void entered() override;
  void begin_anew() override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

  [[nodiscard]] bool busy() const {
    return working_.busy() || costing_.busy() || resting_.busy() || pushing_.busy() || push_frames_.isActive() ||
           delay_.isActive();
  }
  [[nodiscard]] const ClosingFrames& frames() const { return frames_; }
  [[nodiscard]] SpatialBench* bench() const { return bench_; }
  [[nodiscard]] const std::vector<OrderCost>& costs() const { return costs_; }
  [[nodiscard]] StageTimeline* timeline() const { return timeline_; }
  /// The state that is shown: of the way, or let go of.
  [[nodiscard]] const CollapseState* state() const;
  /// 0 flat to 100 closed, as far as it has been worked out.
  void set_percent(int percent);
  void set_shown(Shown shown);
  /// Writes the state that is shown, by the ending of the name: .obj, .stl, .glb or .png. The sentence says what is
  /// wrong.
  QString save(const QString& path);
  /// The part of the way up to which the sheet is shown while it is still being closed; none otherwise.
  [[nodiscard]] std::optional<double> closing_at() const;
  /// What has come of pushing a corner over; null when the state that is shown was not pushed.
  [[nodiscard]] const Pushed* pushed_over() const;
  /// Twelve pictures in one, the lamp once round.
  QString save_sweep(const QString& path);

public slots:
  void compare_orders();

private:
  void build_choices();
  void build_centre();
  void load();
  void begin();
  void finished(ClosingFrames frames);
  void show_state();
  void show_sheet();
  void forget_so_far();
  void play();
  void show_play();
  /// The percent up to which the way is known: less than 100 when it was stopped.
  [[nodiscard]] int reached() const;
  void show_costs();
  void take_order(int row);
  void fold_this();
  /// What the moves would come to if this were folded; none: as far as the family is usually closed.
  [[nodiscard]] std::optional<HeldState> end_on_show() const;
  /// Whether the programme closes the sheet as far as this.
  [[nodiscard]] bool in_moves() const;
  void build_order();
  void build_clips();
  void build_push();
  void build_looks();
  void list_corners();
  void push_corner();
  void begin_push(const Point& at_mm);
  void hold(const QString& label, const std::function<void(HeldState&)>& edit);
  void follow_held();
  void drop_held();
  void pushed_has_come(PushedOver pushed);
  void change_plan(const QString& label, const std::function<void(ClosingPlan&)>& edit, int merge = -1);
  void add_clip();
  void remove_clip();
  void show_timeline();
  void let_go_of_it(bool on);
  void write_now(Ledger& ledger, const CollapseState& state);
  void write_way(Ledger& ledger);
  void write_setting(Ledger& ledger);
  [[nodiscard]] const CollapseState* on_the_way() const;
  [[nodiscard]] const CollapseState* before_let_go() const;
  [[nodiscard]] bool rested() const;
  [[nodiscard]] bool current() const;
  [[nodiscard]] SpatialScene scene() const;

  ChoicesColumn* choices_;
  QWidget* centre_;
  SpatialBench* bench_;
  QPointer<WaitingStrip> waiting_;
  QSlider* scrubber_;
  QLabel* percent_;
  QPushButton* play_;
  QComboBox* order_;
  QSpinBox* groups_;
  Field* groups_field_;
  QCheckBox* other_way_;
  QCheckBox* apart_;
  QSpinBox* finer_;
  QListWidget* clips_;
  QLineEdit* clip_;
  Field* clip_field_;
  QPushButton* remove_clip_;
  QCheckBox* let_go_;
  QComboBox* corner_;
  Field* corner_field_;
  QPushButton* push_;
  StageTimeline* timeline_;
  WayPlot* plot_;
  QComboBox* shown_;
  QSlider* azimuth_;
  QSlider* height_;
  QSlider* spread_;
  std::vector<QWidget*> lamp_fields_;
  QPushButton* save_;
  QPushButton* sweep_;
  QPushButton* fold_;
  SchoolBox* school_;

  ClosingFrames frames_;
  std::shared_ptr<ClosingSoFar> so_far_; // of the collapse that is being worked out
  std::optional<ClosingSoFar::Sheet> live_;
  QTimer watching_;
  LetGo rested_;                                   // of the state shown, when it is let go of
  PushedOver pushed_;                              // the last of
  std::size_t pushes_ = 0;                         // that have been made here
  std::optional<std::pair<double, double>> asked_; // the push that is being tried, not one from the project
  std::size_t push_frame_ = 0;                     // of the way while it is held, then one more
  QTimer push_frames_;
  std::vector<OrderCost> costs_; // of the orders that close the sheet
  int locking_orders_ = 0;       // that do not
  QTimer delay_;
  QTimer playing_;
  bool seen_ = false;
  bool chosen_part_ = false; // somebody has gone along the way to what is shown
  Background<PushedOver> pushing_;
  Background<LetGo> resting_;
  Background<OrderCosts> costing_;
  Background<ClosingFrames> working_; // the last members: they go first
};

} // namespace uc::app
