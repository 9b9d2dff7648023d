#include "stages/prove/prove_stage.h"

#include "base/file_name.h"
#include "widgets/ask_file.h"

#include "base/atomic_file.h"
#include "base/theme.h"
#include "io/folded.h"
#include "output/printing.h"
#include "pattern/pattern_figure.h"
#include "project/piece.h"

#include <fmt/format.h>

#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStyle>
#include <QVBoxLayout>

namespace uc::app {
namespace {

constexpr double proof_seconds = 120;

} // namespace

ProveStage::ProveStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("Can it be folded?"))), centre_(new QWidget),
      paper_(new PaperView), folded_(new FoldedPaper),
      working_([this](ProofFindings found) { finished(std::move(found)); }) {
  delay_.setSingleShot(true);
  delay_.setInterval(120);
  connect(&delay_, &QTimer::timeout, this, [this] { work(ProofTask::prove); });
  build_choices();
  build_centre();
  connect(&workspace_.document, &Document::changed, this, &ProveStage::load);
  load();
}

void ProveStage::build_choices() {
  look_ = new QComboBox;
  look_->setObjectName("look");
  look_->addItems({tr("Opaque"), tr("See-through"), tr("Spread: layers fanned apart")});
  look_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  connect(look_, &QComboBox::activated, this, [this](int i) { folded_->set_look(static_cast<FoldedPaper::Look>(i)); });
  choices_->add(new Field(tr("&Folded form"), look_));
  auto* keep = new QWidget;
  auto* keep_row = new QHBoxLayout(keep);
  keep_row->setContentsMargins(0, 0, 0, 4);
  save_ = new QPushButton(tr("&Save ..."));
  save_->setObjectName("save-folded");
  save_->setToolTip(tr("The folded form as a drawing (.svg), as data (.json) or at true scale for print (.pdf)."));
  preview_ = new QPushButton(tr("&Preview ..."));
  preview_->setObjectName("preview-folded");
  preview_->setToolTip(tr("The folded form at true scale, as it will be printed."));
  keep_row->addWidget(save_);
  keep_row->addWidget(preview_);
  choices_->add(keep);
  connect(save_, &QPushButton::clicked, this, [this] {
    const QString path =
        ask_where_to_write(choices_, tr("Save the folded form"), {}, filters_for(FileUse::write_folded));
    if (path.isEmpty()) return;
    workspace_.say_written(path, save_folded(path));
  });
  connect(preview_, &QPushButton::clicked, this, [this] {
    if (!found_.proof || !found_.proof->folds_flat()) return;
    show_print_preview(workspace_, folded_figure(folded_view(*found_.proof, folded_->from_behind())), tr("Folded form"),
                       choices_);
  });
  mending_.push_back(choices_->add_section(tr("WHAT IS BROKEN")));
  violations_ = new QListWidget;
  violations_->setObjectName("violations");
  violations_->setAccessibleName(tr("What is broken"));
  violations_->setWordWrap(true);
  violations_->setMinimumHeight(120);
  connect(violations_, &QListWidget::currentRowChanged, this, &ProveStage::show_violation);
  choices_->add(violations_);
  mending_.push_back(violations_);
  mending_.push_back(choices_->add_section(tr("WHAT WOULD MEND IT")));
  repairs_ = new QListWidget;
  repairs_->setObjectName("repairs");
  repairs_->setAccessibleName(tr("What would mend it"));
  repairs_->setWordWrap(true);
  repairs_->setMinimumHeight(110);
  choices_->add(repairs_);
  mend_ = new QPushButton(tr("&Mend it this way"));
  mend_->setObjectName("mend");
  connect(mend_, &QPushButton::clicked, this, &ProveStage::mend);
  choices_->add(mend_);
  mending_.insert(mending_.end(), {repairs_, mend_});
  choices_->add_section(tr("DIRECTIONS"));
  wish_ = new QComboBox;
  wish_->setObjectName("direction-wish");
  wish_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  wish_->addItems({tr("any that fold"), tr("alternating from pleat to pleat"), tr("few changes along a line"),
                   tr("the same on both sides")});
  choices_->add(new Field(tr("Directions &wanted"), wish_));
  directions_ = new QPushButton(tr("Find &directions"));
  directions_->setObjectName("directions");
  directions_->setToolTip(tr("Gives every crease without a direction one, so that the whole folds flat."));
  connect(directions_, &QPushButton::clicked, this, &ProveStage::find_directions);
  choices_->add(directions_);
  count_ = new QPushButton(tr("&Count the ways to fold it"));
  count_->setObjectName("count");
  connect(count_, &QPushButton::clicked, this, &ProveStage::count_states);
  choices_->add(count_);
  precreasing_ = new PrecreaseChoice(workspace_, *choices_, this);
  precreasing_->offer(false);
  connect(precreasing_, &PrecreaseChoice::changed, this, [this] {
    show_paper();
    emit stale();
  });
  choices_->finish();
}

void ProveStage::build_centre() {
  auto* column = new QVBoxLayout(centre_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  verdict_ = new QLabel;
  verdict_->setObjectName("verdict");
  verdict_->setWordWrap(true);
  verdict_->setContentsMargins(16, 8, 16, 8);
  verdict_->setFont(text_font(13, QFont::DemiBold));
  column->addWidget(verdict_);
  auto* both = new QWidget;
  auto* row = new QHBoxLayout(both);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  row->addWidget(paper_, 1);
  row->addWidget(folded_, 1);
  column->addWidget(both, 1);
  waiting_ = new WaitingStrip(tr("Ordering the layers"), "cancel-proof");
  column->addWidget(waiting_);
  auto* planning = new WaitingStrip(tr("Planning the creases"), "cancel-planning");
  column->addWidget(planning);
  CreasePlanner& planner = workspace_.document.planner();
  connect(&planner, &CreasePlanner::began, planning, &WaitingStrip::watch);
  connect(&planner, &CreasePlanner::ended, planning, &WaitingStrip::end);
  connect(paper_, &PaperView::paper_hovered, this, [this](const Point& at) {
    if (!current() || !found_.proof || !found_.proof->violations.empty()) return;
    const auto& faces = found_.proof->graph->faces;
    int under = -1;
    for (std::size_t f = 0; f < faces.size() && under < 0; ++f) {
      if (contains(found_.proof->pattern.vertices, faces[f].cycle, at)) under = static_cast<int>(f);
    }
    light(under);
    folded_->light(under);
  });
  connect(folded_, &FoldedPaper::hovered, this, [this](int face, int layers) {
    light(face);
    if (layers == layers_here_) return;
    layers_here_ = layers;
    emit stale();
  });
}

void ProveStage::light(int face) {
  if (!found_.proof || !found_.proof->graph) return;
  std::vector<Polygon> lit;
  if (face >= 0)
    lit.push_back(outline_of(found_.proof->pattern, found_.proof->graph->faces[static_cast<std::size_t>(face)]));
  else if (found_.proof->status == LayerStatus::impossible) {
    for (const int f : found_.proof->clash)
      lit.push_back(outline_of(found_.proof->pattern, found_.proof->graph->faces[static_cast<std::size_t>(f)]));
  }
  paper_->set_lit(std::move(lit), face < 0);
}

void ProveStage::set_look(FoldedPaper::Look look) {
  look_->setCurrentIndex(static_cast<int>(look));
  folded_->set_look(look);
}

void ProveStage::entered() {
  if (seen_ && current()) return;
  seen_ = true;
  prove_soon();
}

void ProveStage::begin_anew() {
  found_ = {};
  change_ = {};
  said_.clear();
  layers_here_ = 0;
  show_findings();
  load();
}

void ProveStage::load() {
  const Project& p = workspace_.document.project();
  const QColor face(QString::fromStdString(p.stock.face));
  const QColor underside(QString::fromStdString(p.stock.underside));
  paper_->set_paper(face, underside);
  folded_->set_paper(face, underside);
  paper_->set_unit(p.unit);
  folded_->set_unit(p.unit);
  if (current()) {
    emit stale();
    return;
  }
  show_paper();
  paper_->set_marks({});
  paper_->set_lit({});
  folded_->show_proof(nullptr, tr("Proving ..."));
  verdict_->setText(tr("Proving ..."));
  if (seen_) prove_soon();
}

void ProveStage::show_paper() {
  const bool creases = current() && precreasing_->shown_on_paper();
  Figure figure = creases ? crease_figure(precreasing_->plan()->programme)
                          : pattern_figure(workspace_.document.pattern()->healed.pattern);
  if (figure.outline.empty()) figure.outline = drawn_sheet(workspace_.document.project()).outline();
  paper_->show_figure(std::move(figure));
}

void ProveStage::prove_soon() {
  said_.clear();
  delay_.start();
  emit stale();
}

void ProveStage::work(ProofTask task) {
  if (workspace_.document.drawing()) return; // what is drawn brings its own proof
  task_ = task;
  asked_ = workspace_.document.pattern();
  DrawnKey bare = drawn_key(workspace_.document.project());
  bare.pattern.directions.clear();
  working_.begin(
      [task, wish = static_cast<DirectionWish>(wish_->currentIndex()), drawn = asked_, bare,
       cache = &cache_](Progress& progress) {
        // Directions are found anew: those found before are taken out first.
        const auto what = task == ProofTask::direct ? std::make_shared<const DrawnPattern>(answer(bare)) : drawn;
        return find_proof(task, wish, what, proof_seconds, progress, *cache);
      },
      waiting_->begin());
}

void ProveStage::finished(ProofFindings found) {
  waiting_->end();
  if (asked_ != workspace_.document.pattern()) return; // it has changed meanwhile; that brings its own proof
  if (task_ == ProofTask::direct) {
    if (found.directed) take_directions(*found.directed);
    return;
  }
  if (found_.drawn && found_.drawn != found.drawn) change_ = change_between(*found_.drawn, *found.drawn);
  const std::string states = found.states;
  found_ = std::move(found);
  show_findings();
  if (task_ == ProofTask::count && !states.empty())
    workspace_.say(states == "1" ? tr("There is one way to fold it.")
                                 : tr("There are %1 ways to fold it.").arg(QString::fromStdString(states)));
}

void ProveStage::take_directions(const Directed& directed) {
  if (directed.pattern) {
    const Project& p = workspace_.document.project();
    PatternDesign bare = p.pattern;
    bare.directions.clear();
    const DrawnPattern drawn = drawn_pattern(bare, drawn_sheet(p).outline());
    const auto found =
        found_directions(drawn.design, drawn_sheet(p).outline(), drawn.healed.pattern, *directed.pattern);
    if (found.empty()) {
      workspace_.say(tr("Every crease has a direction already."));
      return;
    }
    workspace_.document.change(tr("Find directions"), [&](Project& project) { project.pattern.directions = found; });
    return;
  }
  if (!directed.contradiction.empty()) {
    QStringList edges;
    for (const CreaseId e : directed.contradiction) edges << QString::number(e);
    said_ =
        tr("The directions of edges %1 do not go together; turn one of them or leave it open.").arg(edges.join(", "));
    if (directed.contradiction_smallest) said_ += " " + tr("No fewer contradict each other.");
  } else if (directed.no_symmetry) {
    said_ = tr("The creases have no mirror line for which the layers exist; want something else.");
  } else if (directed.out_of_time) {
    said_ = tr("No answer within two minutes.");
  } else {
    said_ = tr("No directions make this fold flat; mend what is broken first.");
  }
  workspace_.say(said_);
  emit stale();
}

void ProveStage::show_findings() {
  const QSignalBlocker quiet(violations_);
  violations_->clear();
  repairs_->clear();
  const bool any = found_.proof && !found_.proof->violations.empty();
  if (found_.proof) {
    for (const LocalViolation& v : found_.proof->violations) {
      if (violations_->count() == 200) break;
      violations_->addItem(sentence(v));
    }
  }
  if (!any) {
    auto* none = new QListWidgetItem(found_.proof && found_.proof->status == LayerStatus::impossible
                                         ? tr("No single vertex: faces %1 clash, hatched on the pattern.").arg([&] {
                                             QStringList l;
                                             for (const int f : found_.proof->clash) l << QString::number(f);
                                             return l.join(", ");
                                           }())
                                         : tr("Nothing."));
    none->setFlags(Qt::NoItemFlags);
    violations_->addItem(none);
  }
  const QString otherwise = in_space()              ? tr("It does not lie flat in the end: see it close in Collapse.")
                            : any                   ? tr("The folded form appears once every vertex can fold.")
                            : !found_.error.empty() ? QString::fromStdString(found_.error)
                            : found_.proof && found_.proof->status == LayerStatus::impossible
                                ? tr("No order of layers exists, so there is no folded form to show.")
                                : tr("No order of layers was found in time.");
  const bool shown = found_.proof && found_.proof->folds_flat();
  folded_->setVisible(!in_space()); // there is nothing flat to show
  folded_->show_proof(shown ? found_.proof : nullptr, otherwise);
  const bool clash = found_.proof && found_.proof->status == LayerStatus::impossible;
  for (QWidget* w : mending_) w->setVisible(any || clash);
  precreasing_->offer(found_.proof && !any && !clash && !workspace_.document.project().pattern.empty());
  directions_->setEnabled(found_.proof != nullptr && !in_space());
  count_->setEnabled(shown);
  save_->setEnabled(shown);
  preview_->setEnabled(shown);
  light(-1);
  show_violation(any ? 0 : -1);
  if (any) violations_->setCurrentRow(0);
  verdict_->setText(verdict());
  const bool stands = in_space() && (found_.drawn->usual_part == 0 || (found_.space && found_.space->can_be_made()));
  verdict_->setProperty("role", shown || stands ? "good" : "caution");
  verdict_->style()->unpolish(verdict_);
  verdict_->style()->polish(verdict_);
  verdict_->setFont(text_font(13, QFont::DemiBold));
  emit stale();
}

void ProveStage::show_violation(int index) {
  repairs_->clear();
  std::vector<PaperMark> marks;
  const auto i = static_cast<std::size_t>(index);
  if (index >= 0 && found_.proof && i < found_.proof->violations.size()) {
    marks.push_back({found_.proof->violations[i].at, true, Eigen::Matrix2d::Zero()});
    if (i < found_.repairs.size()) {
      for (const VertexRepair& r : found_.repairs[i]) repairs_->addItem(sentence(r));
    }
  }
  paper_->set_marks(std::move(marks));
  if (repairs_->count() > 0) {
    repairs_->setCurrentRow(0);
  } else {
    auto* none = new QListWidgetItem(index < 0 ? tr("Nothing to mend.")
                                               : tr("No single change mends this; look at the vertices beside it."));
    none->setFlags(Qt::NoItemFlags);
    repairs_->addItem(none);
  }
  mend_->setEnabled(index >= 0 && i < found_.repairs.size() && !found_.repairs[i].empty());
}

void ProveStage::mend() {
  const auto violation = static_cast<std::size_t>(std::max(0, violations_->currentRow()));
  const auto repair = static_cast<std::size_t>(std::max(0, repairs_->currentRow()));
  if (!current() || violation >= found_.repairs.size() || repair >= found_.repairs[violation].size()) return;
  const VertexRepair r = found_.repairs[violation][repair];
  const CreasePattern pattern = found_.proof->pattern;
  const Project& p = workspace_.document.project();
  if (r.kind == VertexRepair::Kind::redirect || r.kind == VertexRepair::Kind::leave_out) {
    const PatternDesign drawn = workspace_.document.pattern()->design;
    const GridFrame frame = grid_frame(drawn.grid, drawn.count, drawn_sheet(p).outline());
    const Point at = frame.index(pattern.segment(r.edge).middle());
    const EdgeKind kind = turned_over(pattern.edges[static_cast<std::size_t>(r.edge)].kind);
    const std::string place = fmt::format("{},{}", format_number(at.x(), 4), format_number(at.y(), 4));
    const std::string rule =
        r.kind == VertexRepair::Kind::redirect ? fmt::format("direct {} {}", place, name_of(kind)) : "remove " + place;
    workspace_.document.change(tr("Mend a vertex"), [&](Project& project) {
      if (project.pattern.family) project.pattern = drawn; // a family has no rules to add to
      project.pattern.rules.push_back(rule);
    });
    return;
  }
  // What no rule on the grid can say is kept as a pattern of its own.
  const auto base = std::make_shared<const CreasePattern>(repaired(pattern, r));
  workspace_.document.change(tr("Mend a vertex"), [&](Project& project) {
    project.pattern.family.reset();
    project.pattern.base = base;
    project.pattern.rules.clear();
    project.pattern.directions.clear();
  });
  workspace_.say(
      tr("The rules were turned into plain creases, since this change lies off the grid. Undo brings them back."));
}

QString ProveStage::save_folded(const QString& path) {
  if (!current() || !found_.proof || !found_.proof->folds_flat())
    return tr("There is no folded form to save; mend the pattern first.");
  const Project& p = workspace_.document.project();
  FoldedSvgOptions options;
  options.from_behind = folded_->from_behind();
  options.face = p.stock.face;
  options.underside = p.stock.underside;
  PrintOptions print;
  print.text = workspace_.text_style();
  const auto bytes = folded_bytes(*found_.proof, path.toStdString(), QFileInfo(path).completeBaseName().toStdString(),
                                  options, {(data_folder() + "/fonts").toStdString()}, print);
  if (!bytes) return QString::fromStdString(bytes.error());
  const auto ok = write_atomically(bytes_of(path), *bytes);
  return ok ? QString() : QString::fromStdString(ok.error());
}

} // namespace uc::app
