#include "stages/collapse/collapse_stage.h"

#include "base/theme.h"
#include "widgets/ask_file.h"
#include "widgets/spatial_saving.h"

#include "collapse/closing_programme.h"
#include "pattern/pattern_figure.h"
#include "programme/line_look.h"
#include "project/piece.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
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

QString order_words(CollapseOrder order) {
  switch (order) {
  case CollapseOrder::all_at_once:
    return QObject::tr("All at once");
  case CollapseOrder::outside_in:
    return QObject::tr("Outside in");
  case CollapseOrder::inside_out:
    return QObject::tr("Inside out");
  case CollapseOrder::one_side_first:
    break;
  }
  return QObject::tr("One side first");
}

/// From pale to strong: nothing, a tenth of a percent, one percent.
constexpr double strain_steps[] = {0.0001, 0.001, 0.01};
constexpr const char* strain_colours[] = {"#F4EFE2", "#F0D59A", "#E09A4F", "#B3261E"};
QColor strain_colour(double strain) {
  std::size_t i = 0;
  while (i < 3 && std::abs(strain) >= strain_steps[i]) ++i;
  return {strain_colours[i]};
}

/// A strain as it is told; what no paper would notice is not told in digits.
QString percent_of(double strain) {
  return strain < 1e-5 ? QObject::tr("below 0.001 %") : QObject::tr("%1 %").arg(100 * strain, 0, 'g', 2);
}

} // namespace

CollapseStage::CollapseStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("How does it close?"))), centre_(new QWidget),
      bench_(new SpatialBench), costing_([this](std::vector<OrderCost> costs) {
        waiting_->end();
        costs_ = std::move(costs);
        show_costs();
      }),
      working_([this](ClosingFrames frames) { finished(std::move(frames)); }) {
  delay_.setSingleShot(true);
  delay_.setInterval(150);
  connect(&delay_, &QTimer::timeout, this, &CollapseStage::begin);
  playing_.setInterval(40);
  connect(&playing_, &QTimer::timeout, this, [this] {
    if (scrubber_->value() >= 100) return play();
    set_percent(scrubber_->value() + 100 / closing_frames);
  });
  build_choices();
  build_centre();
  connect(&workspace_.document, &Document::changed, this, &CollapseStage::load);
  load();
}

void CollapseStage::build_choices() {
  order_ = new QComboBox;
  order_->setObjectName("collapse-order");
  for (const auto& [order, name] : enum_words<CollapseOrder>) order_->addItem(order_words(order));
  connect(order_, &QComboBox::activated, this, [this](int i) {
    workspace_.document.change(tr("Choose the order of the collapse"),
                               [i](Project& p) { p.closing.order = static_cast<CollapseOrder>(i); });
  });
  choices_->add(new Field(tr("&Order of the creases"), order_));
  groups_ = new QSpinBox;
  groups_->setObjectName("collapse-groups");
  groups_->setRange(1, most_closing_groups);
  connect(groups_, &QSpinBox::valueChanged, this, [this](int n) {
    workspace_.document.change(
        tr("Change the stages of the collapse"), [n](Project& p) { p.closing.groups = n; }, 0x434C);
  });
  choices_->add(new Field(tr("In so many s&tages"), groups_));
  other_way_ = new QCheckBox(tr("The other corners &up"));
  other_way_->setObjectName("collapse-other-way");
  other_way_->setToolTip(tr("Where a sheet can go two ways, such as a pleated saddle, it goes the other one."));
  connect(other_way_, &QCheckBox::clicked, this, [this](bool on) {
    workspace_.document.change(tr("Push the sheet through"), [on](Project& p) { p.closing.other_way = on; });
  });
  choices_->add(other_way_);
  auto* compare = new QPushButton(tr("&Compare orders"));
  compare->setObjectName("compare-orders");
  compare->setToolTip(tr("Closes the sheet by each order in turn and tells the peak strain of each."));
  connect(compare, &QPushButton::clicked, this, &CollapseStage::compare_orders);
  choices_->add(compare);
  choices_->add_section(tr("WHAT IS SHOWN"));
  shown_ = new QComboBox;
  shown_->setObjectName("collapse-shown");
  shown_->addItems({tr("Paper and creases"), tr("Strain in the paper"), tr("Under a lamp")});
  connect(shown_, &QComboBox::activated, this, [this](int i) { set_shown(static_cast<Shown>(i)); });
  choices_->add(new Field(tr("&Show"), shown_));
  const auto slider = [this](const char* name, int least, int most, int value) {
    auto* s = new QSlider(Qt::Horizontal);
    s->setObjectName(name);
    s->setRange(least, most);
    s->setValue(value);
    connect(s, &QSlider::valueChanged, this, [this] { show_state(); });
    return s;
  };
  azimuth_ = slider("lamp-azimuth", 0, 359, 120);
  height_ = slider("lamp-height", 3, 90, 35);
  for (auto* field : {new Field(tr("Lamp stands &round"), azimuth_), new Field(tr("Lamp stands &high"), height_)}) {
    choices_->add(field);
    lamp_fields_.push_back(field);
    field->hide();
  }
  auto* sweep = new QPushButton(tr("Save a s&weep of the lamp ..."));
  sweep->setObjectName("lamp-sweep");
  sweep->setToolTip(tr("Twelve pictures in one, the lamp once round the sheet."));
  connect(sweep, &QPushButton::clicked, this, [this] {
    const QString path =
        ask_where_to_write(choices_, tr("Save a sweep of the lamp"), {}, filters_for(FileUse::write_still));
    if (path.isEmpty()) return;
    if (const QString wrong = save_sweep(path); !wrong.isEmpty()) workspace_.say(wrong);
  });
  choices_->add(sweep);
  lamp_fields_.push_back(sweep);
  sweep->hide();
  save_ = new QPushButton(tr("Sa&ve ..."));
  save_->setObjectName("save-collapse");
  save_->setToolTip(tr("The sheet as it stands: a model (.obj, .stl, .glb) or a picture with a clear ground (.png)."));
  connect(save_, &QPushButton::clicked, this, [this] {
    const QString path = ask_where_to_save_space(choices_, tr("Save the sheet in space"));
    if (path.isEmpty()) return;
    if (const QString wrong = save(path); !wrong.isEmpty()) workspace_.say(wrong);
  });
  choices_->add(save_);
  choices_->finish();
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
      tr("stages"), [](double n) { return QString::number(n, 'f', 0); }, tr("peak strain"),
      [](double strain) { return tr("%1 %").arg(100 * strain, 0, 'g', 2); });
  plot_->setMinimumHeight(210);
  plot_->hide();
  connect(plot_, &WayPlot::chosen_changed, this, &CollapseStage::take_order);
  column->addWidget(plot_);
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
  scrubber_->setValue(60);
  connect(scrubber_, &QSlider::valueChanged, this, [this] { show_state(); });
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

void CollapseStage::fold_this() {
  const bool on = !workspace_.document.project().closing.folded;
  workspace_.document.change(on ? tr("Fold the stages of the collapse") : tr("Leave the collapse out of the moves"),
                             [on](Project& p) { p.closing.folded = on; });
  if (on) workspace_.show_stage("fold");
}

bool CollapseStage::current() const {
  const Project& p = workspace_.document.project();
  return !workspace_.document.drawing() && frames_.drawn && frames_.drawn == workspace_.document.pattern() &&
         frames_.plan.order == p.closing.order && frames_.plan.groups == p.closing.groups &&
         frames_.plan.other_way == p.closing.other_way;
}

void CollapseStage::entered() {
  seen_ = true;
  load();
}

void CollapseStage::begin_anew() {
  working_.give_up();
  costing_.give_up();
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
  groups_->setEnabled(p.closing.order != CollapseOrder::all_at_once);
  bench_->set_unit(p.unit);
  bench_->set_paper(QColor(QString::fromStdString(p.stock.face)), QColor(QString::fromStdString(p.stock.underside)));
  if (!current()) {
    if (frames_.drawn != workspace_.document.pattern()) { // what orders cost is known of the pattern before
      costing_.give_up();
      costs_.clear();
    }
    if (seen_) delay_.start();
  }
  show_costs();
  show_state();
}

void CollapseStage::begin() {
  if (workspace_.document.drawing() || current()) return; // what is drawn comes back here when it is
  const Project& p = workspace_.document.project();
  working_.begin([plan = p.closing, drawn = workspace_.document.pattern()](
                     Progress& progress) { return closed_by(plan, drawn, progress); },
                 waiting_->begin());
  emit stale();
}

void CollapseStage::finished(ClosingFrames frames) {
  waiting_->end();
  frames_ = std::move(frames);
  if (!current()) delay_.start(); // it has changed meanwhile
  show_state();
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
    const bool same =
        c.plan.order == plan.order && (plan.order == CollapseOrder::all_at_once || c.plan.groups == plan.groups);
    if (same) now = static_cast<int>(ways.size());
    ways.push_back({static_cast<double>(c.plan.groups), std::max(c.peak_strain, 1e-7), 0.4, false,
                    tr("%1, stages: %2, peak strain %3 %")
                        .arg(order_words(c.plan.order))
                        .arg(c.plan.groups)
                        .arg(100 * c.peak_strain, 0, 'g', 2)});
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
  });
}

void CollapseStage::play() {
  if (playing_.isActive()) {
    playing_.stop();
  } else {
    if (scrubber_->value() >= 100) set_percent(0);
    playing_.start();
  }
  play_->setText(playing_.isActive() ? tr("&Pause") : tr("&Play"));
}

void CollapseStage::set_percent(int percent) { scrubber_->setValue(percent); }

void CollapseStage::set_shown(Shown shown) {
  shown_->setCurrentIndex(static_cast<int>(shown));
  for (QWidget* w : lamp_fields_) w->setVisible(shown == Shown::lamp);
  show_state();
}

const CollapseState* CollapseStage::state() const {
  if (!current() || frames_.states.empty()) return nullptr;
  const auto i = static_cast<std::size_t>(scrubber_->value() * closing_frames / 100);
  return &frames_.states[std::min(i, frames_.states.size() - 1)];
}

SpatialScene CollapseStage::scene() const {
  SpatialScene out;
  const CollapseState* s = state();
  if (!s) return out;
  const FoldMesh& mesh = *frames_.mesh;
  for (const auto& v : s->vertices)
    out.vertices.emplace_back(static_cast<float>(v.x()), static_cast<float>(v.y()), static_cast<float>(v.z()));
  const Project& p = workspace_.document.project();
  const QColor face(QString::fromStdString(p.stock.face));
  const QColor underside(QString::fromStdString(p.stock.underside));
  const bool strain = shown_->currentIndex() == static_cast<int>(Shown::strain);
  std::vector<double> worst(mesh.flat.size(), 0); // of the bars at each vertex
  if (strain) {
    for (const auto& b : mesh.bars) {
      const double e = std::abs(
          (s->vertices[static_cast<std::size_t>(b.a)] - s->vertices[static_cast<std::size_t>(b.b)]).norm() / b.rest_mm -
          1);
      for (const int v : {b.a, b.b})
        worst[static_cast<std::size_t>(v)] = std::max(worst[static_cast<std::size_t>(v)], e);
    }
  }
  for (const auto& t : mesh.triangles) {
    SpatialScene::Triangle tri{t, face, underside};
    if (strain) {
      double e = 1e300;
      for (const int v : t) e = std::min(e, worst[static_cast<std::size_t>(v)]);
      tri.face = tri.underside = strain_colour(e);
    }
    out.triangles.push_back(tri);
  }
  if (shown_->currentIndex() != static_cast<int>(Shown::lamp)) {
    const auto& edges = frames_.drawn->healed.pattern.edges;
    for (const PatternEdge& e : edges) out.lines.push_back({e.from, e.to, QColor(look_of(style_of(e.kind)).colour)});
  }
  return out;
}

void CollapseStage::show_state() {
  const Project& p = workspace_.document.project();
  percent_->setText(tr("%1 %").arg(scrubber_->value()));
  const bool any = workspace_.document.pattern()->healed.pattern.edges.size() > 4;
  const QString otherwise = !any                     ? tr("Draw a pattern first; here it closes.")
                            : !frames_.error.empty() ? QString::fromStdString(frames_.error)
                                                     : tr("Closing ...");
  Lamp lamp;
  lamp.azimuth_deg = azimuth_->value();
  lamp.height_deg = height_->value();
  if (shown_->currentIndex() == static_cast<int>(Shown::lamp)) {
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
  bench_->set_legend(legend);
  const Point size = bounding_box(drawn_sheet(p).outline()).size();
  double reach = size.norm();
  if (frames_.mesh) reach = bounding_box(frames_.mesh->flat).size().norm();
  bench_->show_scene(scene(), reach, otherwise);
  save_->setEnabled(state() != nullptr);
  fold_->setText(p.closing.folded ? tr("Leave it out of the &moves") : tr("Fol&d this"));
  fold_->setEnabled(p.closing.folded || state() != nullptr);
  emit stale();
}

QString CollapseStage::save(const QString& path) {
  const CollapseState* s = state();
  if (!s) return tr("There is nothing to save yet; wait until the sheet has closed.");
  return save_space(path, *bench_, [&] {
    const Project& p = workspace_.document.project();
    SpatialModel model = model_of(*frames_.mesh, s->vertices, p.title, p.stock.face, p.stock.underside);
    for (const CollapseState& before : frames_.states) {
      if (&before == s) break;
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

void CollapseStage::write_ledger(Ledger& ledger) {
  ledger.begin(tr("The collapse"));
  const CollapseState* s = state();
  if (!s) {
    ledger.note(!frames_.error.empty() && current() ? tr("%1.").arg(QString::fromStdString(frames_.error))
                                                    : tr("The pattern closes here as soon as it is worked out."));
    ledger.finish();
    return;
  }
  const auto length = [this](double mm) { return workspace_.length(mm); };
  double peak = 0;
  double peak_at = 0;
  for (const CollapseState& each : frames_.states) {
    if (each.max_strain <= peak) continue;
    peak = each.max_strain;
    peak_at = each.part;
  }
  ledger.section(tr("Now"));
  ledger.line(tr("closed"), tr("%1 %").arg(100 * s->part, 0, 'f', 0),
              tr("Each crease is driven to this part of its full angle."));
  Eigen::Vector3d low = s->vertices[0];
  Eigen::Vector3d high = low;
  for (const auto& v : s->vertices) {
    low = low.cwiseMin(v);
    high = high.cwiseMax(v);
  }
  const Eigen::Vector3d size = high - low;
  ledger.line(tr("size in space"), tr("%1 x %2 x %3").arg(length(size.x()), length(size.y()), length(size.z())));
  const auto& bar = frames_.mesh->bars[static_cast<std::size_t>(s->strained_bar)];
  const Point at =
      (frames_.mesh->flat[static_cast<std::size_t>(bar.a)] + frames_.mesh->flat[static_cast<std::size_t>(bar.b)]) / 2;
  ledger.line(
      tr("peak strain"), percent_of(s->max_strain),
      tr("Where the paper is stretched or squeezed most: at %1 from the left and %2 from the bottom of the flat sheet.")
          .arg(length(at.x()), length(at.y())));
  ledger.line(tr("creases off target"), tr("%1°").arg(s->rms_error_deg, 0, 'f', 1),
              tr("Root mean square over mountains and valleys: what the paper withstands."));
  if (s->max_bend_deg > 0.5)
    ledger.line(tr("facets bend by"), tr("%1°").arg(s->max_bend_deg, 0, 'f', 1),
                tr("Facets that cannot stay flat on the way."));
  ledger.section(tr("On the whole way"));
  ledger.line(tr("peak strain"), percent_of(peak), tr("At %1 %.").arg(100 * peak_at, 0, 'f', 0));
  if (frames_.facets_bend) ledger.note(tr("With flat facets this sheet does not close; they bend where they must."));
  if (peak > 0.01)
    ledger.caution(tr("More than 1 % of strain: the paper fights back there. Another order, more stages or diagonals "
                      "in the facets help."));
  if (!frames_.whole()) ledger.note(tr("The work was stopped; the rest of the way is missing."));
  if (!costs_.empty()) {
    const auto now = std::find_if(costs_.begin(), costs_.end(), [&](const OrderCost& c) {
      return c.plan.order == frames_.plan.order &&
             (c.plan.order == CollapseOrder::all_at_once || c.plan.groups == frames_.plan.groups);
    });
    if (now != costs_.end() && now->peak_strain > 1.05 * costs_.front().peak_strain)
      ledger.note(tr("%1 in %2 stages strains the paper least: %3 % in place of %4 %.")
                      .arg(order_words(costs_.front().plan.order))
                      .arg(costs_.front().plan.groups)
                      .arg(100 * costs_.front().peak_strain, 0, 'g', 2)
                      .arg(100 * now->peak_strain, 0, 'g', 2));
  }
  const auto setting = setting_moves(workspace_.document.project().stock);
  if (!setting.empty()) {
    ledger.section(tr("So that it keeps its shape"));
    Programme last;
    last.moves = setting;
    const ProgrammeTeller teller(last, workspace_.text_style());
    for (std::size_t i = 0; i < setting.size(); ++i) {
      ledger.note(QString::fromStdString(teller.text(i)));
      if (setting[i].caution != Caution::none)
        ledger.caution(QString::fromStdString(caution_text(setting[i].caution, workspace_.text_style())));
    }
    ledger.note(tr("A rule of the house for this stock; the moves end with it."));
  }
  if (const Stock& stock = workspace_.document.project().stock;
      stock.stiffness == Stiffness::crisp || stock.stiffness == Stiffness::stiff)
    ledger.note(tr("Stiff paper: work the creases both ways before you close them (Prove, school of the creases)."));
  ledger.note(tr("Layers may pass through each other in the last quarter: the simulation does not stop them yet."));
  ledger.finish();
}

QList<QPair<QString, QString>> CollapseStage::keys() const {
  return {{tr("Arrows"), tr("spin the sheet")}, {tr("Shift and drag"), tr("moves it")}};
}

} // namespace uc::app
