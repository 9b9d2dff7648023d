#include "stages/mark/mark_stage.h"

#include "base/file_name.h"
#include "divide/typed.h"
#include "project/piece.h"
#include "stages/mark/mark_pick.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QShortcut>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QVBoxLayout>

#include <cmath>

namespace uc::app {
namespace {

constexpr int sides_on_offer[] = {3, 4, 5, 6, 7, 8, 9, 10, 12};
constexpr double crease_worth_mm = 0.02; // of error, by which a way with a crease more must be better to come first
constexpr double exact_bonus_mm = 0.03;  // an exact way comes first when it is hardly worse
constexpr int ways_sought = 30;
constexpr int creases_at_first = 4;
constexpr int most_recipe_creases = 99;

QString polygon_name(int sides) {
  static const std::pair<int, const char*> names[] = {{3, QT_TRANSLATE_NOOP("MarkStage", "Triangle, 3 sides")},
                                                      {4, QT_TRANSLATE_NOOP("MarkStage", "Square, 4 sides")},
                                                      {5, QT_TRANSLATE_NOOP("MarkStage", "Pentagon, 5 sides")},
                                                      {6, QT_TRANSLATE_NOOP("MarkStage", "Hexagon, 6 sides")},
                                                      {7, QT_TRANSLATE_NOOP("MarkStage", "Heptagon, 7 sides")},
                                                      {8, QT_TRANSLATE_NOOP("MarkStage", "Octagon, 8 sides")},
                                                      {9, QT_TRANSLATE_NOOP("MarkStage", "Enneagon, 9 sides")},
                                                      {10, QT_TRANSLATE_NOOP("MarkStage", "Decagon, 10 sides")},
                                                      {12, QT_TRANSLATE_NOOP("MarkStage", "Dodecagon, 12 sides")}};
  for (const auto& [n, name] : names) {
    if (n == sides) return QCoreApplication::translate("MarkStage", name);
  }
  return QString::number(sides);
}

const QString first_target = QStringLiteral("bottom:1/3");
const QString first_ratio = QStringLiteral("sqrt2");
const QString first_recipe = QStringLiteral("c1 = crease left onto right\np1 = cross c1 top\nc2 = crease br onto p1\n"
                                            "t = where bottom lands on left, folding c2\nresult t");

QString crease_count(int n) { return n == 1 ? MarkStage::tr("1 crease") : MarkStage::tr("%1 creases").arg(n); }

} // namespace

MarkStage::MarkStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("What you want"))), centre_(new QWidget),
      bench_(new WaysBench), plot_(new WayPlot), searching_([this](Findings found) {
        waiting_->end();
        found_ = std::move(found);
        if (waiting_->cancelled())
          found_ = {}, found_.error = tr("Stopped. Press Enter in the field above to search again.").toStdString();
        show_findings();
      }) {
  delay_.setSingleShot(true);
  delay_.setInterval(120);
  connect(&delay_, &QTimer::timeout, this, &MarkStage::search);
  build_choices();
  build_centre();
  connect(&workspace_.document, &Document::changed, this, &MarkStage::load);
  load();
}

void MarkStage::build_choices() {
  wish_ = new QComboBox;
  wish_->setObjectName("wish");
  wish_->addItems({tr("A mark, a line or an angle"), tr("A regular polygon"), tr("Another proportion"),
                   tr("My own recipe, judged")});
  connect(wish_, &QComboBox::activated, this, [this](int i) { set_wish(static_cast<Wish>(i)); });
  choices_->add(new Field(tr("&Fold"), wish_));
  build_wishes();
  build_limits();
  build_planned();
  choices_->finish();
}

void MarkStage::build_wishes() {
  target_ = new QLineEdit(first_target);
  target_->setObjectName("target");
  target_->setToolTip(tr("bottom:1/7   a mark on an edge, from its left or lower end\n"
                         "120,80   a point\n"
                         "line 0,0 240,120   a line through two points\n"
                         "angle 36   a direction;  angle 36 at bl   from a corner or a point\n"
                         "1/3 of 0,120 240,120   a mark on an old crease\n"
                         "diagonal, half, middle, 1/3 of the long side, 15 cm from the left"));
  target_field_ = new Field(tr("&Target: type it, or click the paper"), target_);
  connect(target_, &QLineEdit::editingFinished, this, &MarkStage::search_soon);
  connect(target_, &QLineEdit::returnPressed, this, &MarkStage::search_soon);
  choices_->add(target_field_);
  sides_ = new QComboBox;
  sides_->setObjectName("sides");
  for (const int n : sides_on_offer) sides_->addItem(polygon_name(n), n);
  sides_->setCurrentIndex(2);
  sides_field_ = new Field(tr("P&olygon"), sides_);
  connect(sides_, &QComboBox::activated, this, &MarkStage::search_soon);
  choices_->add(sides_field_);
  ratio_ = new QLineEdit(first_ratio);
  ratio_->setObjectName("ratio");
  ratio_->setToolTip(tr("Long side over short side: sqrt2, golden, 4/3, 2"));
  ratio_field_ = new Field(tr("&Ratio of the sides"), ratio_);
  connect(ratio_, &QLineEdit::editingFinished, this, &MarkStage::search_soon);
  choices_->add(ratio_field_);
  strips_ = new QLineEdit;
  strips_->setObjectName("strips");
  strips_->setPlaceholderText(tr("width of a strip"));
  strips_field_ = new Field(tr("&Strips cut from the sheet"), strips_);
  connect(strips_, &QLineEdit::editingFinished, this, [this] { emit stale(); });
  choices_->add(strips_field_);
  recipe_ = new QPlainTextEdit(first_recipe);
  recipe_->setObjectName("recipe");
  recipe_->setFixedHeight(150);
  recipe_->setTabChangesFocus(true);
  recipe_->setFont(mono_font(8.5));
  recipe_->setToolTip(tr("One step a line:\n"
                         "c1 = crease left onto right        c2 = crease br onto p1        c3 = crease through bl tr\n"
                         "c4 = crease br onto left through p1        ... way 2   the second crease that fits\n"
                         "p1 = cross c1 top        t = where bottom lands on left, folding c2        result t"));
  recipe_field_ = new Field(tr("Recip&e, a step a line"), recipe_);
  connect(recipe_, &QPlainTextEdit::textChanged, this, &MarkStage::search_soon);
  choices_->add(recipe_field_);
  areas_ = new QLineEdit;
  areas_->setObjectName("areas");
  areas_->setPlaceholderText(tr("as in Divide; left,bottom,right,top"));
  areas_field_ = new Field(tr("Areas to &keep clean"), areas_);
  connect(areas_, &QLineEdit::editingFinished, this, &MarkStage::search_soon);
  choices_->add(areas_field_);
}

/// What narrows the search and the plot.
void MarkStage::build_limits() {
  exact_only_ = new QCheckBox(tr("E&xact only"));
  exact_only_->setObjectName("exact-only");
  connect(exact_only_, &QCheckBox::toggled, this, &MarkStage::narrow);
  creases_ = new QSpinBox;
  creases_->setObjectName("creases");
  creases_->setRange(1, most_route_creases);
  creases_->setValue(creases_at_first);
  connect(creases_, &QSpinBox::valueChanged, this, [this](int most) {
    const auto wish = static_cast<Wish>(wish_->currentIndex());
    if (wish != Wish::reference || most <= searched_creases_)
      narrow();
    else
      search_soon();
  });
  choices_->add(new Field(tr("&Creases at most"), creases_));
  choices_->add(exact_only_);
}

void MarkStage::build_planned() {
  choices_->add_section(tr("IN THE PROGRAMME"));
  planned_ = new QListWidget;
  planned_->setObjectName("planned");
  planned_->setAccessibleName(tr("References in the programme"));
  planned_->setFixedHeight(64);
  planned_->setWordWrap(true);
  choices_->add(planned_);
  remove_ = new QPushButton(tr("Take it out a&gain"));
  remove_->setObjectName("remove-planned");
  connect(remove_, &QPushButton::clicked, this, &MarkStage::remove_planned);
  choices_->add(remove_);
  auto* del = new QShortcut(QKeySequence(Qt::Key_Delete), planned_);
  del->setContext(Qt::WidgetShortcut);
  connect(del, &QShortcut::activated, this, &MarkStage::remove_planned);
  follows_ = new QCheckBox(tr("Then fold the gri&d"));
  follows_->setObjectName("grid-follows");
  connect(follows_, &QCheckBox::clicked, this, [this](bool on) {
    const QString wrong = workspace_.document.change(tr("Choose whether the grid follows"), [on](Project& p) {
      p.folded = on ? FoldedWork::grid : FoldedWork::references;
    });
    if (!wrong.isEmpty()) workspace_.say(wrong);
  });
  choices_->add(follows_);
}

void MarkStage::build_centre() {
  auto* column = new QVBoxLayout(centre_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(bench_, 1);
  message_ = new QLabel;
  message_->setObjectName("message");
  message_->setWordWrap(true);
  message_->setAlignment(Qt::AlignCenter);
  message_->setContentsMargins(40, 8, 40, 8);
  message_->hide();
  column->addWidget(message_);
  waiting_ = new WaitingStrip(tr("Learning what can be folded on this shape of sheet; once only."), "cancel-search");
  column->addWidget(waiting_);
  plot_choices_ = build_plot_choices();
  column->addWidget(plot_choices_);
  plot_->setFixedHeight(172);
  column->addWidget(plot_);
  connect(plot_, &WayPlot::chosen_changed, this, [this] { emit stale(); });
  connect(plot_, &WayPlot::compared_changed, this, &MarkStage::show_chosen);
  connect(bench_->paper(), &PaperView::paper_clicked, this, &MarkStage::pick);
}

/// What picks on the plot, and how it is drawn.
QWidget* MarkStage::build_plot_choices() {
  auto* bar = new QWidget;
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(16, 4, 16, 0);
  row->setSpacing(8);
  const auto button = [&](const QString& label, const QString& name, std::function<double(const Finding&)> figure) {
    auto* b = new QPushButton(label);
    b->setObjectName(name);
    connect(b, &QPushButton::clicked, this, [this, figure = std::move(figure)] { pick_best(figure); });
    row->addWidget(b);
  };
  const auto hand = [this] { return workspace_.document.project().hand.sigma_mm; };
  button(tr("Lea&st miss"), "least-miss", [hand](const Finding& f) { return f.miss_mm(hand()); });
  button(tr("Fe&west creases"), "fewest-creases",
         [hand](const Finding& f) { return f.creases() + 1e-6 * f.miss_mm(hand()); });
  button(tr("&Least scar"), "least-scar", [hand](const Finding& f) { return f.scar_mm() + 1e-6 * f.miss_mm(hand()); });
  row->addStretch(1);
  effort_ = new QComboBox;
  effort_->setObjectName("effort");
  effort_->setAccessibleName(tr("What the plot counts as effort"));
  effort_->addItems({tr("in creases"), tr("in minutes")});
  connect(effort_, &QComboBox::activated, this, &MarkStage::plot_ways);
  row->addWidget(effort_);
  return bar;
}

void MarkStage::pick_best(const std::function<double(const Finding&)>& figure) {
  int best = -1;
  for (int i = 0; i < plot_->count(); ++i) {
    if (!plot_->admitted(i)) continue;
    if (best < 0 ||
        figure(found_.list[static_cast<std::size_t>(i)]) < figure(found_.list[static_cast<std::size_t>(best)]))
      best = i;
  }
  if (best >= 0) plot_->choose(best);
}

/// Which ways the choices above the plot admit.
void MarkStage::narrow() {
  std::vector<char> admitted;
  for (const Finding& f : found_.list)
    admitted.push_back(static_cast<char>((!exact_only_->isChecked() || f.exact()) && f.creases() <= creases_->value()));
  const bool none = !admitted.empty() && std::find(admitted.begin(), admitted.end(), 1) == admitted.end();
  plot_->admit(std::move(admitted));
  if (found_.error.empty()) {
    message_->setText(tr("No way is as you ask: allow more creases, or ways that are not exact."));
    message_->setVisible(none);
  }
}

void MarkStage::set_wish(Wish wish) {
  wish_->setCurrentIndex(static_cast<int>(wish));
  target_field_->setVisible(wish == Wish::reference || wish == Wish::recipe);
  sides_field_->setVisible(wish == Wish::polygon);
  ratio_field_->setVisible(wish == Wish::proportion);
  strips_field_->setVisible(wish == Wish::proportion);
  recipe_field_->setVisible(wish == Wish::recipe);
  // Only references are searched for within so many creases; recipes and cuts have as many as they have.
  creases_->setMaximum(wish == Wish::reference ? most_route_creases : most_recipe_creases);
  creases_->setValue(wish == Wish::reference ? creases_at_first : most_recipe_creases);
  areas_field_->setVisible(wish == Wish::reference);
  search_soon();
}

void MarkStage::set_target(const QString& text) {
  target_->setText(text);
  search_soon();
}

void MarkStage::set_sides(int sides) {
  sides_->setCurrentIndex(sides_->findData(sides));
  search_soon();
}

void MarkStage::entered() {
  if (seen_) return;
  seen_ = true;
  set_wish(static_cast<Wish>(wish_->currentIndex()));
}

void MarkStage::load() {
  const Project& p = workspace_.document.project();
  const QSignalBlocker quiet(planned_);
  planned_->clear();
  const auto left_out = left_out_references(p);
  for (const PlannedReference& r : p.references) {
    const bool out = std::find(left_out.begin(), left_out.end(), r.title) != left_out.end();
    planned_->addItem(out ? tr("%1 (does not fit)").arg(shown(r.title)) : shown(r.title));
  }
  if (p.references.empty()) {
    auto* none = new QListWidgetItem(tr("Nothing yet: choose a way below and send it here."));
    none->setFlags(Qt::NoItemFlags);
    planned_->addItem(none);
  }
  follows_->setChecked(folded_work(p) != FoldedWork::references);
  follows_->setEnabled(!p.references.empty() && !folds_creases(folded_work(p)));
  remove_->setEnabled(!p.references.empty());
  for (int i = 0; i < WaysBench::most; ++i) {
    bench_->paper(i)->set_unit(p.unit);
    bench_->paper(i)->set_paper(QColor(QString::fromStdString(p.stock.face)),
                                QColor(QString::fromStdString(p.stock.underside)));
  }
  if (worked_sheet(p).code() != sheet_ || p.hand.sigma_mm != hand_mm_) {
    sheet_ = worked_sheet(p).code();
    hand_mm_ = p.hand.sigma_mm;
    found_ = {};
    plot_ways();
    if (seen_) search_soon();
  } else {
    show_chosen();
  }
}

void MarkStage::begin_anew() {
  target_->setText(first_target);
  ratio_->setText(first_ratio);
  for (QLineEdit* edit : {strips_, areas_}) edit->clear();
  recipe_->setPlainText(first_recipe);
  delay_.stop();
  found_ = {};
  picked_.reset();
  message_->clear();
  // What it opens with, looked for again when the stage comes up.
  seen_ = false;
  wish_->setCurrentIndex(0);
  plot_ways();
  emit stale();
}

MarkRequest MarkStage::request() const {
  const Project& p = workspace_.document.project();
  MarkRequest r;
  r.wish = static_cast<Wish>(wish_->currentIndex());
  r.sheet = worked_sheet(p).outline();
  r.hand = p.hand;
  r.unit = p.unit;
  r.target = target_->text().trimmed().toStdString();
  r.sides = sides_->currentData().toInt();
  r.ratio = ratio_->text().trimmed().toStdString();
  r.recipe = recipe_->toPlainText().toStdString();
  r.options.max_creases = r.wish == Wish::reference ? std::max(creases_->value(), creases_at_first) : creases_at_first;
  r.options.top = ways_sought;
  r.options.sigma_mm = p.hand.sigma_mm;
  r.options.weights.effort_mm = crease_worth_mm;
  r.options.weights.exact_mm = exact_bonus_mm;
  r.options.keep_clean = p.grid.keep_clean;
  if (const auto areas = parse_areas(areas_->text().toStdString(), p.unit); areas && !areas->empty())
    r.options.keep_clean = *areas;
  return r;
}

void MarkStage::search_soon() {
  const Project& p = workspace_.document.project();
  const auto areas = parse_areas(areas_->text().toStdString(), p.unit);
  areas_field_->set_error(areas ? QString() : QString::fromStdString(areas.error()));
  if (!areas) return;
  delay_.start();
}

void MarkStage::search() {
  searched_creases_ = request().options.max_creases;
  searching_.begin([request = request(),
                    &indexes = workspace_.indexes](Progress& progress) { return find(request, indexes, progress); },
                   waiting_->begin());
}

void MarkStage::show_findings() {
  const auto wish = static_cast<Wish>(wish_->currentIndex());
  Field* fields[] = {target_field_, sides_field_, ratio_field_, recipe_field_};
  for (Field* f : fields) f->set_error({});
  const QString wrong = QString::fromStdString(found_.error);
  // What is wrong stands next to the field it concerns.
  Field* field = fields[static_cast<int>(wish)];
  if (wish == Wish::recipe && !wrong.startsWith("Line ")) field = target_field_;
  field->set_error(wrong);
  message_->setText(tr("Nothing to show. See what the field on the left says."));
  message_->setVisible(!wrong.isEmpty());
  for (QWidget* w : {static_cast<QWidget*>(plot_), plot_choices_}) w->setVisible(wrong.isEmpty());
  plot_ways();
}

void MarkStage::plot_ways() {
  const double hand = workspace_.document.project().hand.sigma_mm;
  const bool minutes = effort_->currentIndex() == 1;
  double longest = 1e-9;
  for (const Finding& f : found_.list) longest = std::max(longest, f.scar_mm());
  std::vector<PlottedWay> ways;
  for (const Finding& f : found_.list)
    ways.push_back({minutes ? f.programme.planned_seconds() / 60 : f.creases(), f.miss_mm(hand), f.scar_mm() / longest,
                    f.exact(), words_of(f)});
  const auto length = [unit = workspace_.document.project().unit](double mm) {
    return QString::fromStdString(format_number(mm / mm_per(unit), 4)) + " " + QString::fromStdString(symbol(unit));
  };
  plot_->set_axes(
      minutes ? tr("minutes of work") : tr("creases"), [](double v) { return QString::number(v, 'g', 3); },
      tr("expected miss"), length);
  plot_->show_ways(std::move(ways));
  narrow();
}

const Finding* MarkStage::current() const {
  const int chosen = plot_->chosen();
  return chosen >= 0 && chosen < static_cast<int>(found_.list.size()) ? &found_.list[static_cast<std::size_t>(chosen)]
                                                                      : nullptr;
}

QString MarkStage::words_of(const Finding& f) const {
  const QString miss = workspace_.error(f.miss_mm(workspace_.document.project().hand.sigma_mm));
  QString words = tr("%1, %2").arg(crease_count(f.creases()), f.exact() ? tr("%1, exact").arg(miss) : miss);
  const QString idea = f.route     ? translated(f.route->idea)
                       : f.polygon ? translated(f.polygon->name)
                       : f.trim    ? translated(f.trim->route.idea)
                                   : tr("own recipe");
  return idea.isEmpty() ? words : tr("%1 (%2)").arg(words, idea);
}

QString MarkStage::title_of(const Finding& f) const {
  const Project& p = workspace_.document.project();
  if (f.polygon)
    return tr("%1, %2").arg(polygon_name(static_cast<int>(f.polygon->vertices.size())), translated(f.polygon->name));
  if (f.trim) return tr("Cut to 1 : %1").arg(f.trim->ratio, 0, 'f', 4);
  // A fraction is known by the way it was typed.
  if (f.route && f.route->target.edge >= 0 && !found_.asked.empty()) return QString::fromStdString(found_.asked);
  if (f.route) return QString::fromStdString(describe(f.route->target, worked_sheet(p).outline(), p.unit));
  return tr("Own recipe");
}

WaysBench::Shown MarkStage::shown_of(const Finding& f) const {
  WaysBench::Shown shown;
  // Names of many creases would hide the drawing; the moves name them one by one when they are folded.
  shown.finished = f.creases() <= 6 ? labelled_figure(f.programme) : crease_figure(f.programme);
  if (f.creases() > 6) {
    for (const int r : f.results()) shown.finished.dots.push_back(shown.finished.view * f.construction()[r].point);
  }
  if (found_.target && (found_.target->kind == Target::Kind::mark || found_.target->kind == Target::Kind::point))
    shown.marks.push_back({found_.target->point, true, Eigen::Matrix2d::Zero()});
  const ConstructionErrors errors(f.construction(), workspace_.document.project().hand.sigma_mm);
  for (const int r : f.results()) {
    if (!f.construction()[r].is_line()) shown.marks.push_back({f.construction()[r].point, false, errors.covariance(r)});
  }
  shown.programme = f.programme;
  return shown;
}

void MarkStage::show_chosen() {
  std::vector<WaysBench::Shown> shown;
  for (const int way : plot_->compared()) {
    if (way >= static_cast<int>(found_.list.size())) continue;
    shown.push_back(shown_of(found_.list[static_cast<std::size_t>(way)]));
    shown.back().caption = tr("%1: %2").arg(way + 1).arg(words_of(found_.list[static_cast<std::size_t>(way)]));
  }
  const bool bare = shown.empty();
  bench_->show_ways(std::move(shown), workspace_.text_style());
  if (bare) {
    Programme sheet;
    sheet.sheet = worked_sheet(workspace_.document.project()).outline();
    paper()->show_figure(crease_figure(sheet));
    paper()->set_marks({});
  }
  for (BenchView* view : bench_->views()) {
    static_cast<PaperView*>(view)->set_clean_areas(request().options.keep_clean);
    view->turn(workspace_.underside(), workspace_.quarter_turns());
  }
  emit stale();
}

void MarkStage::pick(const Point& at, double reach_mm) {
  const Project& p = workspace_.document.project();
  const bool line = picked_ && QGuiApplication::keyboardModifiers().testFlag(Qt::ShiftModifier);
  const QString target = picked_target(p, at, reach_mm, line ? picked_ : std::nullopt);
  if (!line) picked_ = snapped(p, at, reach_mm);
  if (target.isEmpty()) {
    workspace_.say(line ? tr("These two places are one; click another.")
                        : tr("A corner is there already. Shift and a click elsewhere asks for the line through both."));
    return;
  }
  wish_->setCurrentIndex(0);
  set_wish(Wish::reference);
  set_target(target);
}

void MarkStage::send() {
  const Finding* f = current();
  if (!f) return;
  const QString title = title_of(*f); // a change of the project may bring other ways in place of this one
  PlannedReference r;
  r.title = title.toStdString();
  r.recipe = recipe_text(f->construction(), f->results());
  if (f->route) {
    const Target& target = f->route->target;
    const bool as_typed = target.edge >= 0 && r.title.find(':') != std::string::npos; // words have units and edges
    r.target = as_typed ? r.title : describe(target, worked_sheet(workspace_.document.project()).outline());
  }
  if (f->trim) {
    std::vector<int> corners;
    const Construction cut = with_corners(*f->trim, corners);
    r.recipe = recipe_text(cut, corners);
    r.target = "1:" + format_number(f->trim->ratio, 9);
  }
  r.cut = f->polygon || f->trim;
  r.of_piece = true;
  // What follows a cut is planned on the piece, where it can be.
  Project with = workspace_.document.project();
  with.references.push_back(r);
  const bool followed = !r.cut || (!piece_of(with).whole && divide(worked_sheet(with), with.grid, with.hand).ok());
  const FoldedWork before = folded_work(with);
  const QString wrong = workspace_.document.change(tr("Send %1 to the programme").arg(title), [&](Project& p) {
    if (!folds_plan(p.folded)) p.folded = FoldedWork::grid;
    p.references.push_back(r);
    if (!followed && !folds_creases(p.folded)) p.folded = FoldedWork::references;
  });
  if (!wrong.isEmpty()) {
    workspace_.say(wrong);
    return;
  }
  workspace_.say(
      (!r.cut     ? tr("%1 is in the programme, before the grid.").arg(title)
       : followed ? tr("%1 is in the programme. All that follows is planned on the piece that is cut out.").arg(title)
                  : tr("%1 is in the programme, and the grid is not: it does not fit on the piece.").arg(title)) +
      in_place_of(before));
}

void MarkStage::remove_planned() {
  const int row = planned_->currentRow();
  const auto& references = workspace_.document.project().references;
  if (row < 0 || row >= static_cast<int>(references.size())) {
    workspace_.say(tr("Choose a reference in the list first."));
    return;
  }
  const QString wrong = workspace_.document.change(tr("Take a reference out"), [row](Project& p) {
    p.references.erase(p.references.begin() + row);
    if (p.references.empty() && p.folded == FoldedWork::references) p.folded = FoldedWork::grid;
  });
  if (!wrong.isEmpty()) workspace_.say(wrong);
}

QString MarkStage::fact() const {
  const Finding* f = current();
  if (!f) return tr("any point");
  const auto wish = static_cast<Wish>(wish_->currentIndex());
  if (wish == Wish::polygon) return tr("%1 sides").arg(sides_->currentData().toInt());
  return f->exact() ? tr("%1, exact").arg(crease_count(f->creases())) : crease_count(f->creases());
}

QList<QPair<QString, QString>> MarkStage::keys() const {
  return {{tr("Alt+T"), tr("type the target")},
          {tr("Left, Right"), tr("go through the ways on the plot")},
          {tr("Up, Down"), tr("go along the best frontier")},
          {tr("1, 2, 3 ..."), tr("choose a way by its number, when the plot has the focus")},
          {tr("C, Ctrl+Click"), tr("keep a way beside the next, or set it beside")},
          {tr("Click"), tr("pick a mark or a point on the paper")},
          {tr("Shift+Click"), tr("the line through this place and the one picked before")},
          {tr("Ctrl+Return"), tr("send the way to the programme")}};
}

} // namespace uc::app
