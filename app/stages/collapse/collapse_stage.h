// Collapse: the sheet closing in space before it is touched, from flat to closed, with the strain in the paper and
// under a lamp; in which order its creases are driven, and what each order costs.
#pragma once

#include "base/background.h"
#include "stages/collapse/closing_work.h"
#include "stages/stage.h"
#include "widgets/spatial_bench.h"
#include "widgets/waiting_strip.h"
#include "widgets/way_plot.h"

#include <QPointer>
#include <QTimer>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QSlider;
class QSpinBox;

namespace uc::app {

class CollapseStage : public Stage {
  Q_OBJECT
public:
  enum class Shown { paper, strain, lamp };
  explicit CollapseStage(Workspace& workspace, QObject* parent = nullptr);
  [[nodiscard]] QString key() const override { return "collapse"; }
  [[nodiscard]] QString verb() const override { return tr("Collapse"); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return centre_; }
  [[nodiscard]] std::vector<BenchView*> views() const override { return {bench_}; }
  void write_ledger(Ledger& ledger) override;
  void entered() override;
  void begin_anew() override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

  [[nodiscard]] bool busy() const { return working_.busy() || costing_.busy() || delay_.isActive(); }
  [[nodiscard]] const ClosingFrames& frames() const { return frames_; }
  [[nodiscard]] SpatialBench* bench() const { return bench_; }
  [[nodiscard]] const std::vector<OrderCost>& costs() const { return costs_; }
  /// 0 flat to 100 closed, as far as it has been worked out.
  void set_percent(int percent);
  void set_shown(Shown shown);
  /// Writes the state that is shown, by the ending of the name: .obj, .stl, .glb or .png. The sentence says what is
  /// wrong.
  QString save(const QString& path);
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
  void play();
  void show_costs();
  void take_order(int row);
  void fold_this();
  [[nodiscard]] const CollapseState* state() const;
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
  QCheckBox* other_way_;
  WayPlot* plot_;
  QComboBox* shown_;
  QSlider* azimuth_;
  QSlider* height_;
  std::vector<QWidget*> lamp_fields_;
  QPushButton* save_;
  QPushButton* fold_;

  ClosingFrames frames_;
  std::vector<OrderCost> costs_;
  QTimer delay_;
  QTimer playing_;
  bool seen_ = false;
  Background<std::vector<OrderCost>> costing_;
  Background<ClosingFrames> working_; // the last members: they go first
};

} // namespace uc::app
