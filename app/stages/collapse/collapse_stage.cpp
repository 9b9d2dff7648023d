#include "stages/collapse/collapse_stage.h"

#include "base/theme.h"
#include "widgets/folded_scene.h"
#include "widgets/spatial_saving.h"

#include "collapse/settling.h"
#include "io/strain_tint.h"
#include "pattern/pattern_figure.h"
#include "programme/line_look.h"
#include "project/piece.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSlider>
#include <QSpinBox>
#include <QStyle>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace uc::app {
namespace {

constexpr int usual_percent = 60; // where a sheet is seen best

} // namespace

CollapseStage::CollapseStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("How does it close?"))), centre_(new QWidget),
      bench_(new SpatialBench), pushing_([this](PushedOver pushed) { pushed_has_come(std::move(pushed)); }),
      resting_([this](LetGo rested) {
        waiting_->end();
        rested_ = std::move(rested);
        if (!rested_.state) return hold(tr("Hold it again"), [](HeldState& held) { held.let_go = false; }); // stopped
        show_state();
      }),
      costing_([this](OrderCosts costs) {
        waiting_->end();
        costs_ = std::move(costs.closing);
        locking_orders_ = costs.locking;
        show_costs();
      }),
      working_([this](ClosingFrames frames) { finished(std::move(frames)); }) {
  delay_.setSingleShot(true);
  delay_.setInterval(150);
  connect(&delay_, &QTimer::timeout, this, &CollapseStage::begin);
  playing_.setInterval(40);
  connect(&playing_, &QTimer::timeout, this, [this] {
    if (scrubber_->value() >= reached()) return play();
    set_percent(scrubber_->value() + 100 / closing_frames);
  });
  watching_.setInterval(33);
  connect(&watching_, &QTimer::timeout, this, [this] {
    auto latest = so_far_->take();
    if (!latest) return;
    live_ = std::move(latest);
    show_sheet();
  });
  push_frames_.setInterval(40);
  connect(&push_frames_, &QTimer::timeout, this, [this] {
    if (++push_frame_ >= pushed_.pushed->way.size()) push_frames_.stop();
    show_state();
  });
  build_choices();
  build_centre();
  connect(&workspace_.document, &Document::changed, this, &CollapseStage::load);
  load();
}

void CollapseStage::build_centre() {
  auto* column = new QVBoxLayout(centre_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(bench_, 1);
  plot_ = new WayPlot;
  plot_->setObjectName("order-costs");
  plot_->setAccessibleName(tr("Peak strain of each order"));
  plot_->set_axes(
      tr("stages"), [](double n) { return QString::number(n, 'f', 0); }, tr("peak strain"), strain_text);
  plot_->setMinimumHeight(210);
  plot_->hide();
  connect(plot_, &WayPlot::chosen_changed, this, &CollapseStage::take_order);
  column->addWidget(plot_);
  timeline_ = new StageTimeline;
  connect(timeline_, &StageTimeline::stages_changed, this, [this](const std::vector<StageSpan>& stages) {
    change_plan(tr("Move a stage"), [&](ClosingPlan& plan) { plan.spans = stages; });
  });
  connect(timeline_, &StageTimeline::clips_changed, this, [this](const std::vector<ClipPlace>& clips) {
    change_plan(tr("Move a clip in time"), [&](ClosingPlan& plan) { plan.clips = clips; });
  });
  column->addWidget(timeline_);
  waiting_ = new WaitingStrip(tr("Closing the sheet"), "cancel-collapse");
  column->addWidget(waiting_);
  auto* foot = new QWidget;
  auto* row = new QHBoxLayout(foot);
  row->setContentsMargins(16, 8, 16, 8);
  play_ = new QPushButton(tr("&Play"));
  play_->setObjectName("play");
  connect(play_, &QPushButton::clicked, this, &CollapseStage::play);
  row->addWidget(play_);
  scrubber_ = new QSlider(Qt::Horizontal);
  scrubber_->setObjectName("scrubber");
  scrubber_->setAccessibleName(tr("From flat to closed, in percent"));
  scrubber_->setRange(0, 100);
  scrubber_->setSingleStep(2);
  scrubber_->setValue(usual_percent);
  connect(scrubber_, &QSlider::valueChanged, this, [this] {
    if (reached() < scrubber_->value()) return scrubber_->setValue(reached());
    chosen_part_ = true;
    // What was pushed or let go of was another state.
    if (workspace_.document.project().closing.held)
      return change_plan(tr("Go along the way"), [](ClosingPlan& plan) { plan.held.reset(); });
    asked_.reset();
    follow_held();
    show_state();
  });
  row->addWidget(scrubber_, 1);
  percent_ = new QLabel;
  percent_->setObjectName("percent");
  percent_->setMinimumWidth(56);
  percent_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  row->addWidget(percent_);
  fold_ = new QPushButton;
  fold_->setObjectName("collapse-fold");
  fold_->setToolTip(tr("The stages follow the creases in the project's moves, each with the state to reach."));
  connect(fold_, &QPushButton::clicked, this, &CollapseStage::fold_this);
  row->addWidget(fold_);
  column->addWidget(foot);
}

std::optional<HeldState> CollapseStage::end_on_show() const {
  const auto& held = workspace_.document.project().closing.held;
  if (held) return held;
  return chosen_part_ ? std::optional(HeldState{scrubber_->value() / 100.0, {}, false}) : std::nullopt;
}

bool CollapseStage::in_moves() const {
  const Project& p = workspace_.document.project();
  const auto end = end_on_show();
  return folded_work(p) == FoldedWork::closed && (!end || end == p.closing.end);
}

void CollapseStage::fold_this() {
  const FoldedWork before = folded_work(workspace_.document.project());
  const bool on = !in_moves();
  workspace_.document.change(on ? tr("Fold the stages of the collapse") : tr("Leave the collapse out of the moves"),
                             [on, end = end_on_show()](Project& p) {
                               p.folded = on ? FoldedWork::closed : FoldedWork::creases;
                               if (on) p.closing.end = end;
                             });
  if (!on) return;
  workspace_.show_stage("fold");
  workspace_.say(tr("The programme puts the pattern's creases on the paper, then closes them.") + in_place_of(before));
}

bool CollapseStage::current() const {
  const Project& p = workspace_.document.project();
  return !workspace_.document.drawing() && frames_.drawn && frames_.drawn == workspace_.document.pattern() &&
         frames_.plan == way_of(p.closing);
}

void CollapseStage::entered() {
  seen_ = true;
  load();
}

void CollapseStage::begin_anew() {
  forget_so_far();
  working_.give_up();
  costing_.give_up();
  drop_held();
  clip_->clear();
  set_shown(Shown::paper);
  const QSignalBlocker still(scrubber_);
  scrubber_->setValue(usual_percent);
  chosen_part_ = false;
  frames_ = {};
  costs_.clear();
  show_costs();
}

void CollapseStage::load() {
  const Project& p = workspace_.document.project();
  const QSignalBlocker quiet_order(order_);
  const QSignalBlocker quiet_groups(groups_);
  order_->setCurrentIndex(static_cast<int>(p.closing.order));
  groups_->setValue(p.closing.groups);
  other_way_->setChecked(p.closing.other_way);
  apart_->setChecked(p.closing.apart);
  const QSignalBlocker quiet_finer(finer_);
  finer_->setValue(p.closing.finer);
  school_->show_school(p.pre_crease.school);
  const int row = clips_->currentRow();
  clips_->clear();
  for (const ClipPlace& clip : p.closing.clips) clips_->addItem(QString::fromStdString(clip_text(clip)));
  clips_->setCurrentRow(std::min(row, clips_->count() - 1));
  clips_->setVisible(clips_->count() > 0);
  remove_clip_->setVisible(clips_->count() > 0);
  groups_field_->setVisible(counts_groups(p.closing.order));
  bench_->set_unit(p.unit);
  bench_->set_paper(QColor(QString::fromStdString(p.stock.face)), QColor(QString::fromStdString(p.stock.underside)));
  if (!current()) {
    forget_so_far();
    drop_held();
    if (frames_.drawn != workspace_.document.pattern()) { // what orders cost is known of the pattern before
      costing_.give_up();
      costs_.clear();
    }
    if (seen_) delay_.start();
  }
  follow_held();
  show_costs();
  show_state();
}

void CollapseStage::begin() {
  if (workspace_.document.drawing() || current()) return; // what is drawn comes back here when it is
  const Project& p = workspace_.document.project();
  so_far_ = std::make_shared<ClosingSoFar>();
  watching_.start();
  working_.begin([plan = way_of(p.closing), drawn = workspace_.document.pattern(),
                  so_far = so_far_](Progress& progress) { return closed_by(plan, drawn, progress, *so_far); },
                 waiting_->begin());
  emit stale();
}

void CollapseStage::forget_so_far() {
  watching_.stop();
  live_.reset();
}

std::optional<double> CollapseStage::closing_at() const {
  return live_ ? std::optional(live_->state.part) : std::nullopt;
}

void CollapseStage::finished(ClosingFrames frames) {
  waiting_->end();
  forget_so_far();
  frames_ = std::move(frames);
  if (!current()) delay_.start(); // it has changed meanwhile
  // Slider, ribbon and ledger show one state, that which was reached.
  if (reached() < scrubber_->value()) scrubber_->setValue(reached());
  follow_held();
  show_state();
}

int CollapseStage::reached() const {
  if (!current() || frames_.whole() || frames_.states.empty()) return 100;
  return static_cast<int>(frames_.states.size() - 1) * 100 / closing_frames;
}

void CollapseStage::compare_orders() {
  if (!current() || !frames_.mesh) return;
  costing_.begin([mesh = frames_.mesh](Progress& progress) { return costs_of_orders(*mesh, progress); },
                 waiting_->begin());
}

void CollapseStage::show_costs() {
  std::stable_sort(costs_.begin(), costs_.end(),
                   [](const OrderCost& a, const OrderCost& b) { return a.peak_strain < b.peak_strain; });
  const QSignalBlocker quiet(plot_);
  plot_->setVisible(!costs_.empty());
  std::vector<PlottedWay> ways;
  int now = -1;
  const ClosingPlan& plan = workspace_.document.project().closing;
  for (const OrderCost& c : costs_) {
    if (frames_.mesh && same_stages(*frames_.mesh, c.plan, plan)) now = static_cast<int>(ways.size());
    ways.push_back({static_cast<double>(c.plan.groups), std::max(c.peak_strain, 1e-7), 0.4, false,
                    tr("%1, stages: %2, peak strain %3")
                        .arg(order_words(c.plan.order))
                        .arg(c.plan.groups)
                        .arg(strain_text(c.peak_strain))});
  }
  plot_->show_ways(std::move(ways));
  if (now >= 0) plot_->choose(now);
  emit stale();
}

void CollapseStage::take_order(int row) {
  if (row < 0 || row >= static_cast<int>(costs_.size())) return;
  const ClosingPlan plan = costs_[static_cast<std::size_t>(row)].plan;
  workspace_.document.change(tr("Choose the order of the collapse"), [plan](Project& p) {
    p.closing.order = plan.order;
    p.closing.groups = plan.groups;
    p.closing.spans.clear();
  });
}

void CollapseStage::play() {
  if (reached() < 100) { // it was stopped
    frames_ = {};
    begin();
    return show_state();
  }
  if (playing_.isActive()) {
    playing_.stop();
  } else {
    if (scrubber_->value() >= 100) set_percent(0);
    playing_.start();
  }
  show_play();
}

void CollapseStage::show_play() {
  play_->setText(reached() < 100 ? tr("C&lose it again") : playing_.isActive() ? tr("&Pause") : tr("&Play"));
  play_->setMinimumWidth(play_->fontMetrics().horizontalAdvance(tr("C&lose it again")) + 28); // so that nothing moves
}

void CollapseStage::set_percent(int percent) { scrubber_->setValue(percent); }

void CollapseStage::show_timeline() {
  const ClosingPlan& plan = workspace_.document.project().closing;
  const bool several = frames_.mesh && stages_of(*frames_.mesh, plan).size() > 1;
  timeline_->setVisible(current() && frames_.mesh && (several || !plan.clips.empty()));
  if (!timeline_->isVisibleTo(centre_)) return;
  std::vector<StageSpan> spans;
  for (const DriveStage& s : stages_of(*frames_.mesh, plan)) spans.push_back({s.from, s.to, s.percent});
  std::vector<double> strain;
  for (const CollapseState& s : frames_.states) strain.push_back(s.max_strain);
  timeline_->show_plan(std::move(spans), plan.clips, std::move(strain));
}

void CollapseStage::set_shown(Shown shown) {
  shown_->setCurrentIndex(static_cast<int>(shown));
  for (QWidget* w : lamp_fields_) w->setVisible(shown == Shown::lamp);
  show_state();
}

const CollapseState* CollapseStage::state() const { return rested() ? &*rested_.state : before_let_go(); }

const CollapseState* CollapseStage::before_let_go() const {
  const CollapseState* on_way = on_the_way();
  const Pushed* pushed = pushed_over();
  if (!on_way || !pushed) return on_way;
  return push_frame_ < pushed->way.size() ? &pushed->way[push_frame_] : &pushed->after;
}

bool CollapseStage::rested() const {
  const CollapseState* on_way = on_the_way();
  return let_go_->isChecked() && on_way && rested_.state && rested_.mesh == frames_.mesh &&
         rested_.part == on_way->part && rested_.pushes == pushes_;
}

const CollapseState* CollapseStage::on_the_way() const {
  if (!current() || frames_.states.empty()) return nullptr;
  const auto i = static_cast<std::size_t>(scrubber_->value() * closing_frames / 100);
  return &frames_.states[std::min(i, frames_.states.size() - 1)];
}

SpatialScene CollapseStage::scene() const {
  const CollapseState* s = live_ ? &live_->state : state();
  if (!s) return {};
  const FoldMesh& mesh = live_ ? *live_->mesh : *frames_.mesh;
  const CreasePattern& pattern = live_ ? *live_->pattern : *frames_.pattern;
  const Project& p = workspace_.document.project();
  SpatialScene out = scene_of(mesh, s->vertices, QColor(QString::fromStdString(p.stock.face)),
                              QColor(QString::fromStdString(p.stock.underside)));
  const bool strain = shown_->currentIndex() == static_cast<int>(Shown::strain);
  if (strain) {
    const std::vector<int> tints = strain_tints(mesh, s->vertices);
    for (std::size_t i = 0; i < tints.size(); ++i)
      out.triangles[i].face = out.triangles[i].underside =
          QColor(strain_colours.at(static_cast<std::size_t>(tints[i])));
  }
  if (shown_->currentIndex() != static_cast<int>(Shown::lamp)) {
    for (const PatternEdge& e : pattern.edges) {
      if (p.closing.finer > 0 && e.kind == EdgeKind::unfolded) continue; // what the division has drawn
      out.lines.push_back({e.from, e.to, QColor(look_of(style_of(e.kind)).colour)});
    }
  }
  return out;
}

void CollapseStage::show_state() {
  percent_->setText(tr("%1 %").arg(scrubber_->value()));
  show_play();
  show_timeline();
  timeline_->set_now(scrubber_->value() / 100.0);
  let_go_->setEnabled(on_the_way() != nullptr);
  list_corners();
  show_sheet();
  save_->setEnabled(state() != nullptr);
  const auto end = end_on_show();
  fold_->setText(in_moves()      ? tr("Leave it out of the &moves")
                 : !end          ? tr("Fol&d this")
                 : end->part < 1 ? tr("Fol&d this, %1 % closed").arg(std::lround(100 * end->part))
                                 : tr("Fol&d this, closed"));
  fold_->setEnabled(in_moves() || state() != nullptr);
  sweep_->setEnabled(state() != nullptr);
  emit stale();
}

/// What is on the bench: the state that is shown or, while the sheet closes, what it has come to.
void CollapseStage::show_sheet() {
  const Project& p = workspace_.document.project();
  const bool any = workspace_.document.pattern()->healed.pattern.edges.size() > 4;
  const QString otherwise = !any                     ? tr("Draw a pattern first; here it closes.")
                            : !frames_.error.empty() ? QString::fromStdString(frames_.error)
                                                     : tr("Closing ...");
  Lamp lamp;
  lamp.azimuth_deg = azimuth_->value();
  lamp.height_deg = height_->value();
  if (shown_->currentIndex() == static_cast<int>(Shown::lamp)) {
    lamp.spread_deg = spread_->value() == spread_->maximum() ? 0 : spread_->value();
    lamp.ambient = 0.35;
    lamp.shadows = true;
  } else {
    lamp.height_deg = 55;
    lamp.azimuth_deg = 120;
    // A tint has to be read off: little shading.
    if (shown_->currentIndex() == static_cast<int>(Shown::strain)) lamp.ambient = 0.85;
  }
  bench_->set_lamp(lamp);
  QStringList legend;
  if (shown_->currentIndex() == static_cast<int>(Shown::strain))
    legend = {QString("%1\t").arg(strain_colours[0]) + tr("below 0.01 %"),
              QString("%1\t").arg(strain_colours[1]) + tr("0.01 to 0.1 %"),
              QString("%1\t").arg(strain_colours[2]) + tr("0.1 to 1 %"),
              QString("%1\t").arg(strain_colours[3]) + tr("above 1 %: it tears or creases")};
  if (const auto part = closing_at()) legend.prepend(tr("Closing: %1 % so far").arg(std::lround(100 * *part)));
  bench_->set_legend(legend);
  const Point size = bounding_box(drawn_sheet(p).outline()).size();
  double reach = size.norm();
  if (const FoldMesh* mesh = live_ ? live_->mesh.get() : frames_.mesh.get())
    reach = bounding_box(mesh->flat).size().norm();
  bench_->show_scene(scene(), reach, otherwise);
}

QString CollapseStage::save(const QString& path) {
  const CollapseState* s = state();
  if (!s) return tr("There is nothing to save yet; wait until the sheet has closed.");
  return save_space(path, *bench_, [&] {
    const Project& p = workspace_.document.project();
    SpatialModel model = model_of(*frames_.mesh, s->vertices, p.title, p.stock.face, p.stock.underside);
    for (const CollapseState& before : frames_.states) {
      if (before.part >= s->part) break;
      model.film.push_back(before.vertices);
    }
    return model;
  });
}

QString CollapseStage::save_sweep(const QString& path) {
  if (!state()) return tr("There is nothing to save yet; wait until the sheet has closed.");
  constexpr int across = 4;
  constexpr int rows = 3;
  constexpr int size = 600;
  QImage sheet(across * size, rows * size, QImage::Format_ARGB32_Premultiplied);
  sheet.fill(Qt::white);
  QPainter p(&sheet);
  p.setFont(text_font(14));
  const Lamp before = bench_->lamp();
  for (int i = 0; i < across * rows; ++i) {
    Lamp lamp = before;
    lamp.azimuth_deg = i * 360.0 / (across * rows);
    lamp.shadows = true;
    bench_->set_lamp(lamp);
    const QPoint at(i % across * size, i / across * size);
    p.drawImage(at, bench_->still({size, size}));
    p.drawText(QRect(at, QSize(size, 40)), Qt::AlignCenter,
               tr("lamp from %1°, %2° high").arg(lamp.azimuth_deg, 0, 'f', 0).arg(lamp.height_deg, 0, 'f', 0));
  }
  bench_->set_lamp(before);
  p.end();
  return save_picture(path, sheet);
}

QString CollapseStage::fact() const {
  if (working_.busy()) return tr("closing");
  return state() ? tr("%1 %").arg(scrubber_->value()) : tr("nothing yet");
}

QList<QPair<QString, QString>> CollapseStage::keys() const {
  return {{tr("Arrows"), tr("spin the sheet")}, {tr("Shift and drag"), tr("moves it")}};
}

} // namespace uc::app
