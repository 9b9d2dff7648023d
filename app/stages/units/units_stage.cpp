#include "stages/units/units_stage.h"

#include "base/file_name.h"
#include "base/theme.h"
#include "widgets/spatial_saving.h"

#include "base/index.h"
#include "io/unit_page.h"
#include "programme/unit_figure.h"
#include "unit/paper_colours.h"
#include "unit/unit_handout.h"
#include "unit/unit_programme.h"
#include "unit/unit_steps.h"

#include <QColorDialog>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QSlider>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace uc::app {
namespace {

bool inside(const Polygon& outline, const Point& p) {
  bool in = false;
  for (std::size_t i = 0, k = outline.size() - 1; i < outline.size(); k = i++) {
    const Point& a = outline[i];
    const Point& b = outline[k];
    if ((a.y() > p.y()) != (b.y() > p.y()) && p.x() < (b.x() - a.x()) * (p.y() - a.y()) / (b.y() - a.y()) + a.x())
      in = !in;
  }
  return in;
}

QIcon swatch(const QString& css) {
  QPixmap picture(16, 16);
  picture.fill(QColor(css));
  return {picture};
}

} // namespace

UnitsStage::UnitsStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("What is it made of?"))), centre_(new QWidget),
      pages_(new QStackedWidget), bench_(new SpatialBench), map_(new PaperView), cuts_(new PaperView),
      unit_(new PageView), plot_(new WayPlot), refused_(new QLabel),
      working_([this](UnitsAnswer answer) { finished(std::move(answer)); }) {
  delay_.setSingleShot(true);
  delay_.setInterval(120);
  connect(&delay_, &QTimer::timeout, this, &UnitsStage::begin);
  build_choices();
  build_colours();
  build_outlook();
  build_centre();
  connect(&workspace_.document, &Document::changed, this, &UnitsStage::load);
  connect(&workspace_, &Workspace::log_changed, this, [this] { learned_for_.clear(); });
  load();
}

void UnitsStage::edit(const QString& label, const std::function<void(UnitJob&)>& change, int merge) {
  const UnitJob before = workspace_.document.project().units;
  UnitJob after = before;
  change(after);
  // Other units have other numbers: what was put by hand means nothing there.
  if (after.solid != before.solid || after.family != before.family || after.colours != before.colours)
    after.by_hand.clear();
  if (after == before) return;
  workspace_.document.change(
      label, [&](Project& p) { p.units = after; }, merge);
}

void UnitsStage::build_centre() {
  auto* column = new QVBoxLayout(centre_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  bench_->set_lamp_at_eye(true);
  bench_->set_note([] { return QString(); });
  bench_->setAccessibleName(tr("The solid in space"));
  pages_->addWidget(bench_);
  map_->setObjectName("units-map");
  map_->setAccessibleName(tr("The solid laid flat"));
  connect(map_, &PaperView::paper_clicked, this, [this](const Point& at, double) { paint_unit(at); });
  pages_->addWidget(map_);
  cuts_->setObjectName("units-cuts");
  cuts_->setAccessibleName(tr("The sheets and their cuts"));
  pages_->addWidget(cuts_);
  unit_->setObjectName("units-unit");
  unit_->setAccessibleName(tr("How one unit is folded"));
  unit_page_ = new QScrollArea;
  unit_page_->setWidgetResizable(true);
  unit_page_->setFrameShape(QFrame::NoFrame);
  unit_page_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  unit_page_->setWidget(unit_);
  pages_->addWidget(unit_page_);
  auto* families = new QWidget;
  auto* rows = new QVBoxLayout(families);
  rows->setContentsMargins(24, 24, 24, 24);
  plot_->setObjectName("units-ways");
  plot_->set_axes(
      tr("paper for the same size"), [](double cm2) { return tr("%1 cm²").arg(cm2, 0, 'f', 0); },
      tr("the last ring gapes"), [this](double mm) { return workspace_.error(mm); });
  connect(plot_, &WayPlot::chosen_changed, this, &UnitsStage::take_family);
  rows->addWidget(plot_, 1);
  refused_->setWordWrap(true);
  refused_->setObjectName("units-refused");
  rows->addWidget(refused_);
  pages_->addWidget(families);
  column->addWidget(pages_, 1);
  waiting_ = new WaitingStrip(tr("Planning the units"), "cancel-units");
  column->addWidget(waiting_);
  column->addWidget(joining_row());
}

QWidget* UnitsStage::joining_row() {
  auto* foot = new QWidget;
  auto* row = new QHBoxLayout(foot);
  row->setContentsMargins(16, 8, 16, 8);
  shown_ = new QComboBox;
  shown_->setObjectName("units-shown");
  shown_->setAccessibleName(tr("What is shown"));
  shown_->addItems({tr("The solid, joint by joint"), tr("The flat map"), tr("The cuts"), tr("One unit, step by step"),
                    tr("Other units for it")});
  connect(shown_, &QComboBox::activated, this, [this](int i) { set_shown(static_cast<Shown>(i)); });
  row->addWidget(shown_);
  joined_text_ = new QLabel;
  joined_text_->setObjectName("units-joined-text");
  joined_ = new QSlider(Qt::Horizontal);
  joined_->setObjectName("units-joined");
  joined_->setAccessibleName(tr("How many units are joined"));
  connect(joined_, &QSlider::valueChanged, this, [this] {
    look_at_next();
    show_state();
  });
  row->addWidget(joined_, 1);
  row->addWidget(joined_text_);
  fold_ = new QPushButton(tr("Fol&d this"));
  fold_->setObjectName("units-fold");
  fold_->setToolTip(tr("Cutting, folding and joining become the moves of the project."));
  connect(fold_, &QPushButton::clicked, this, &UnitsStage::fold_this);
  row->addWidget(fold_);
  return foot;
}

std::vector<BenchView*> UnitsStage::views() const {
  if (pages_->currentWidget() == map_) return {map_};
  if (pages_->currentWidget() == cuts_) return {cuts_};
  if (pages_->currentWidget() == unit_page_) return {unit_};
  return {bench_};
}

bool UnitsStage::current() const { return answer_.key == units_key(workspace_.document.project()); }

void UnitsStage::entered() {
  seen_ = true;
  learned_for_.clear(); // a run may have been folded since
  load();
}

void UnitsStage::begin_anew() {
  working_.give_up();
  answer_ = {};
}

void UnitsStage::load() {
  load_fields();
  load_papers();
  if (seen_ && !current()) delay_.start();
  show_state();
}

std::vector<UnitMap::Colour> UnitsStage::palette() const {
  const UnitJob& job = workspace_.document.project().units;
  std::vector<UnitMap::Colour> out;
  for (std::size_t c = 0; c < static_cast<std::size_t>(job.colours); ++c)
    out.push_back(c < job.palette.size() ? job.palette[c] : usual_palette()[c]);
  return out;
}

void UnitsStage::load_papers() {
  const QSignalBlocker quiet(papers_);
  const auto all = palette();
  while (papers_->count() > static_cast<int>(all.size())) delete papers_->takeItem(papers_->count() - 1);
  for (int i = 0; i < static_cast<int>(all.size()); ++i) {
    if (i == papers_->count()) {
      papers_->addItem(new QListWidgetItem);
      papers_->item(i)->setFlags(papers_->item(i)->flags() | Qt::ItemIsEditable);
    }
    papers_->item(i)->setText(shown(all[static_cast<std::size_t>(i)].name));
    papers_->item(i)->setIcon(swatch(QString::fromStdString(all[static_cast<std::size_t>(i)].css)));
  }
}

void UnitsStage::rename_paper(int row) {
  const std::string name = papers_->item(row)->text().trimmed().toStdString();
  auto all = palette();
  if (name.empty()) return load_papers();
  all[static_cast<std::size_t>(row)].name = name;
  edit(tr("Name a paper"), [&](UnitJob& j) { j.palette = all; });
}

void UnitsStage::colour_paper(int row) {
  auto all = palette();
  UnitMap::Colour& paper = all[static_cast<std::size_t>(row)];
  const QColor colour = QColorDialog::getColor(QColor(QString::fromStdString(paper.css)), choices_,
                                               tr("The colour of %1").arg(shown(paper.name)));
  if (!colour.isValid()) return;
  paper.css = colour.name().toUpper().toStdString();
  edit(tr("Choose the colour of a paper"), [&](UnitJob& j) { j.palette = all; });
}

void UnitsStage::papers_from_shelf() {
  std::vector<UnitMap::Colour> all;
  for (const Stock& s : workspace_.shelf) {
    const QColor colour(QString::fromStdString(s.face));
    if (s.sheets > 0 && colour.isValid()) all.push_back({s.name, colour.name().toUpper().toStdString()});
  }
  // Those that anybody can tell apart.
  all = told_apart_best(all, workspace_.document.project().units.colours);
  if (all.empty()) return workspace_.say(tr("No paper on the shelf has sheets left; count them on the shelf first."));
  edit(tr("Take papers from the shelf"), [&](UnitJob& j) { j.palette = all; });
}

void UnitsStage::begin() {
  if (current()) return;
  working_.begin([project = workspace_.document.project()](Progress& progress) { return units_for(project, progress); },
                 waiting_->begin());
  emit stale();
}

void UnitsStage::finished(UnitsAnswer answer) {
  waiting_->end();
  const bool other = !answer_.plan || !answer.plan || answer_.key.job.solid != answer.key.job.solid ||
                     answer_.key.job.family != answer.key.job.family;
  answer_ = std::move(answer);
  if (!current()) delay_.start(); // it has changed meanwhile
  const int units = answer_.plan ? static_cast<int>(answer_.plan->graph.units.size()) : 0;
  const QSignalBlocker quiet(joined_);
  joined_->setRange(0, units);
  if (other) joined_->setValue(units);
  show_ways();
  load_fields();
  show_state();
}

void UnitsStage::set_shown(Shown shown) {
  shown_->setCurrentIndex(static_cast<int>(shown));
  pages_->setCurrentIndex(static_cast<int>(shown));
  show_state();
}

void UnitsStage::show_unit(bool there) {
  if (!there) {
    unit_shown_ = {};
    return unit_->show_page(std::nullopt, tr("Plan the units first; then one of them is shown step by step."));
  }
  const UnitPlan& plan = *answer_.plan;
  std::pair<std::string, Point> wanted{plan.family->name, unit_piece(plan)};
  for (const std::string& sentence : plan.family->how) wanted.first += "\n" + sentence;
  if (wanted == unit_shown_) return;
  unit_shown_ = std::move(wanted);
  unit_->show_page(unit_page(plan, workspace_.text_style(), {load_fonts().toStdString()}));
}

void UnitsStage::set_joined(int units) { joined_->setValue(units); }

void UnitsStage::look_at_next() {
  if (!answer_.plan) return;
  const auto& order = answer_.plan->assembly;
  const int next = std::min(joined_->value(), static_cast<int>(order.size()) - 1);
  if (next < 0) return;
  const Point3 way = unit_direction(*answer_.plan, order[at(next)].add);
  bench_->look_along({static_cast<float>(way.x()), static_cast<float>(way.y()), static_cast<float>(way.z())});
}

SpatialScene UnitsStage::scene() const {
  SpatialScene out;
  if (!current() || !answer_.plan) return out;
  const UnitPlan& plan = *answer_.plan;
  const UnitShape& shape = *answer_.shape;
  std::vector<char> state(plan.graph.units.size(), 0); // 0 open, 1 joined, 2 next
  const int joined = joined_->value();
  for (int i = 0; i < static_cast<int>(plan.assembly.size()) && i <= joined; ++i)
    state[at(plan.assembly[at(i)].add)] = i < joined ? 1 : 2;
  const auto papers = palette();
  for (const Point3& v : shape.vertices)
    out.vertices.emplace_back(static_cast<float>(v.x()), static_cast<float>(v.y()), static_cast<float>(v.z()));
  for (const UnitShape::Facet& f : shape.facets) {
    if (state[at(f.unit)] == 0) continue;
    const QColor colour(QString::fromStdString(papers[at(plan.colours.colour[at(f.unit)])].css));
    out.triangles.push_back({f.corners, colour, colour.darker(125)});
  }
  const Theme& theme = current_theme();
  for (const UnitShape::Rim& r : shape.rims) {
    const char s = state[at(r.unit)];
    QColor ink = s == 0 ? theme.unfolded : s == 2 ? theme.caution : theme.ink;
    out.lines.push_back({r.ends[0], r.ends[1], ink});
  }
  return out;
}

const Programme& UnitsStage::moves() {
  const auto colours = palette_of(*answer_.plan, palette());
  if (coloured_of_ != answer_.moves || colours != moves_.units->colours) {
    moves_ = *answer_.moves;
    UnitMap map = *moves_.units;
    map.colours = colours;
    moves_.units = std::make_shared<const UnitMap>(std::move(map));
    coloured_of_ = answer_.moves;
  }
  return moves_;
}

Figure UnitsStage::map_figure() {
  const Programme& all = moves();
  const int units = static_cast<int>(answer_.plan->graph.units.size());
  return unit_figure(all, static_cast<int>(all.moves.size()) - units + std::min(joined_->value(), units));
}

void UnitsStage::paint_unit(const Point& place) {
  if (!current() || !answer_.plan) return;
  const UnitMap& map = *answer_.moves->units;
  int hit = -1;
  double least = 1e300; // the smallest lies on top
  for (int u = 0; u < static_cast<int>(map.units.size()); ++u) {
    const Polygon& outline = map.units[at(u)].outline;
    const double area = std::abs(signed_area(outline));
    if (area < least && inside(outline, place)) hit = u, least = area;
  }
  if (hit < 0) return;
  paper_on(hit);
}

void UnitsStage::paper_on(int unit) {
  if (!current() || !answer_.plan || papers_->currentRow() < 0) {
    if (answer_.plan) workspace_.say(tr("Choose a paper in the list first."));
    return;
  }
  edit(tr("Give a unit another paper"), [&](UnitJob& j) {
    j.by_hand.resize(answer_.plan->graph.units.size(), -1);
    j.by_hand[at(unit)] = papers_->currentRow();
  });
}

void UnitsStage::fold_this() {
  const bool on = folded_work(workspace_.document.project()) != FoldedWork::units;
  workspace_.document.change(on ? tr("Fold the units") : tr("Fold the grid"),
                             [on](Project& p) { p.folded = on ? FoldedWork::units : FoldedWork::grid; });
  if (on) workspace_.show_stage("fold");
}

void UnitsStage::show_state() {
  const bool there = current() && answer_.plan;
  const QString otherwise =
      !answer_.error.empty() && current() ? tr("%1.").arg(shown(answer_.error)) : tr("Planning ...");
  Lamp lamp;
  lamp.ambient = 0.55;
  bench_->set_lamp(lamp);
  bench_->show_scene(scene(), there ? 1.25 * answer_.plan->diameter_mm : 100, otherwise);
  const int units = there ? static_cast<int>(answer_.plan->graph.units.size()) : 0;
  joined_->setEnabled(there);
  joined_text_->setText(joined_->value() >= units ? tr("all %1 joined").arg(units)
                                                  : tr("%1 of %2 joined").arg(joined_->value()).arg(units));
  if (there && pages_->currentWidget() == map_) map_->show_figure(map_figure());
  if (there && pages_->currentWidget() == cuts_) cuts_->show_figure(cut_figure(*answer_.plan, palette()));
  if (pages_->currentWidget() == unit_page_) show_unit(there);
  solid_field_->set_error(current() && !answer_.error.empty() ? tr("%1.").arg(shown(answer_.error)) : QString());
  const bool folded = folded_work(workspace_.document.project()) == FoldedWork::units;
  fold_->setText(folded ? tr("Fol&d the grid instead") : tr("Fol&d this"));
  fold_->setEnabled(there || folded);
  save_->setEnabled(there);
  emit stale();
}

QString UnitsStage::save(const QString& path) {
  if (!current() || !answer_.plan) return tr("There is nothing to save yet; wait until the units are planned.");
  return save_space(path, *bench_, [this] { return model_of(*answer_.plan, answer_.key.job.solid, palette()); });
}

QString UnitsStage::fact() const {
  if (working_.busy()) return tr("planning");
  return current() && answer_.plan ? tr("%1 pieces").arg(answer_.plan->graph.units.size())
         : current()               ? tr("not so")
                                   : tr("not planned");
}

QList<QPair<QString, QString>> UnitsStage::keys() const {
  return {{tr("Arrows"), tr("spin the solid, or join the next unit on the slider")},
          {tr("Enter"), tr("choose the colour of a paper in the list")},
          {tr("F2"), tr("name a paper in the list")}};
}

} // namespace uc::app
