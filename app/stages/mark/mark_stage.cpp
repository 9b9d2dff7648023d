#include "stages/mark/mark_stage.h"

#include "base/file_name.h"
#include "divide/typed.h"
#include "stages/mark/mark_pick.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGuiApplication>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QShortcut>
#include <QSignalBlocker>
#include <QSlider>
#include <QSpinBox>
#include <QVBoxLayout>

#include <cmath>

namespace uc::app {
namespace {

constexpr int sides_on_offer[] = {3, 4, 5, 6, 7, 8, 9, 10, 12};
constexpr double effort_step_mm = 0.005; // of the slider, per crease
constexpr double exact_bonus_mm = 0.03;  // an exact way comes first when it is hardly worse
constexpr double scar_step = 0.00002;    // mm of error per mm of crease

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

QString crease_count(int n) { return n == 1 ? MarkStage::tr("1 crease") : MarkStage::tr("%1 creases").arg(n); }

} // namespace

MarkStage::MarkStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("What you want"))), centre_(new QWidget),
      paper_(new PaperView), cards_(new CardRow), searching_([this](Findings found) {
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
  build_weights();
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
                         "1/3 of 0,120 240,120   a mark on an old crease"));
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
  recipe_ = new QPlainTextEdit(QStringLiteral(
      "c1 = O3 left right\np1 = cross c1 top\nc2 = O2 br p1\nc3 = landing bottom c2\np2 = cross c3 left\n"
      "result p2"));
  recipe_->setObjectName("recipe");
  recipe_->setFixedHeight(150);
  recipe_->setTabChangesFocus(true);
  recipe_->setFont(mono_font(8.5));
  recipe_->setToolTip(tr("One step a line. O1 P Q, O2 P Q, O3 l m, O4 P l, O5 P Q l, O6 P Q l m, O7 P l m;\n"
                         "marks first, then lines; O5/2 is the second crease that fits.\n"
                         "cross l m makes a mark, landing l c the line where l lands when c is folded."));
  recipe_field_ = new Field(tr("Recip&e, a step a line"), recipe_);
  connect(recipe_, &QPlainTextEdit::textChanged, this, &MarkStage::search_soon);
  choices_->add(recipe_field_);
}

void MarkStage::build_weights() {
  creases_ = new QSpinBox;
  creases_->setObjectName("creases");
  creases_->setRange(1, most_route_creases);
  creases_->setValue(4);
  creases_field_ = new Field(tr("&Creases at most"), creases_);
  connect(creases_, &QSpinBox::valueChanged, this, &MarkStage::search_soon);
  choices_->add(creases_field_);
  weight_box_ = new QWidget;
  auto* box = new QVBoxLayout(weight_box_);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(2);
  const auto slider = [&](const QString& label, const QString& name, int value) {
    auto* s = new QSlider(Qt::Horizontal);
    s->setRange(0, 20);
    s->setValue(value);
    s->setObjectName(name);
    box->addWidget(new Field(label, s));
    connect(s, &QSlider::valueChanged, this, &MarkStage::search_soon);
    return s;
  };
  effort_ = slider(tr("Exact  <  what counts  >  few creases"), "effort", 4);
  scar_ = slider(tr("Exact  <  what counts  >  little scar"), "scar", 0);
  weights_ = new QLabel;
  weights_->setProperty("role", "hint");
  weights_->setWordWrap(true);
  box->addWidget(weights_);
  choices_->add(weight_box_);
  areas_ = new QLineEdit;
  areas_->setObjectName("areas");
  areas_->setPlaceholderText(tr("as in Divide; left,bottom,right,top"));
  areas_field_ = new Field(tr("Areas to &keep clean"), areas_);
  connect(areas_, &QLineEdit::editingFinished, this, &MarkStage::search_soon);
  choices_->add(areas_field_);
  over_ = new QComboBox;
  over_->setObjectName("over");
  over_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  over_field_ = new Field(tr("&Lay another way over it"), over_);
  connect(over_, &QComboBox::activated, this, [this] { show_chosen(); });
  choices_->add(over_field_);
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
    const QString wrong =
        workspace_.document.change(tr("Choose whether the grid follows"), [on](Project& p) { p.grid_follows = on; });
    if (!wrong.isEmpty()) workspace_.say(wrong);
  });
  choices_->add(follows_);
}

void MarkStage::build_centre() {
  auto* column = new QVBoxLayout(centre_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(paper_, 1);
  message_ = new QLabel;
  message_->setObjectName("message");
  message_->setWordWrap(true);
  message_->setAlignment(Qt::AlignCenter);
  message_->setContentsMargins(40, 8, 40, 8);
  message_->hide();
  column->addWidget(message_);
  waiting_ = new WaitingStrip(tr("Learning what can be folded on this shape of sheet; once only."), "cancel-search");
  column->addWidget(waiting_);
  column->addWidget(cards_);
  connect(cards_, &CardRow::chosen, this, [this](int i) {
    chosen_ = i;
    show_chosen();
  });
  connect(paper_, &PaperView::paper_clicked, this, &MarkStage::pick);
}

void MarkStage::set_wish(Wish wish) {
  wish_->setCurrentIndex(static_cast<int>(wish));
  target_field_->setVisible(wish == Wish::reference || wish == Wish::recipe);
  sides_field_->setVisible(wish == Wish::polygon);
  ratio_field_->setVisible(wish == Wish::proportion);
  strips_field_->setVisible(wish == Wish::proportion);
  recipe_field_->setVisible(wish == Wish::recipe);
  creases_field_->setVisible(wish == Wish::reference || wish == Wish::proportion);
  weight_box_->setVisible(wish == Wish::reference);
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
  for (const PlannedReference& r : p.references) planned_->addItem(shown(r.title));
  if (p.references.empty()) {
    auto* none = new QListWidgetItem(tr("Nothing yet: choose a way below and send it here."));
    none->setFlags(Qt::NoItemFlags);
    planned_->addItem(none);
  }
  follows_->setChecked(p.grid_follows);
  follows_->setEnabled(!p.references.empty());
  remove_->setEnabled(!p.references.empty());
  paper_->set_unit(p.unit);
  paper_->set_paper(QColor(QString::fromStdString(p.stock.face)), QColor(QString::fromStdString(p.stock.underside)));
  if (planned_sheet(p).code() != sheet_ || p.hand.sigma_mm != hand_mm_) {
    sheet_ = planned_sheet(p).code();
    hand_mm_ = p.hand.sigma_mm;
    found_ = {};
    chosen_ = -1;
    show_chosen();
    if (seen_) search_soon();
  } else {
    show_chosen();
  }
}

void MarkStage::begin_anew() {
  target_->setText(first_target);
  ratio_->setText(first_ratio);
  for (QLineEdit* edit : {strips_, areas_}) edit->clear();
  recipe_->clear();
  delay_.stop();
  found_ = {};
  chosen_ = -1;
  picked_.reset();
  paper_->set_marks({});
  message_->clear();
  // What it opens with, looked for again when the stage comes up.
  seen_ = false;
  wish_->setCurrentIndex(0);
  show_chosen();
  emit stale();
}

MarkRequest MarkStage::request() const {
  const Project& p = workspace_.document.project();
  MarkRequest r;
  r.wish = static_cast<Wish>(wish_->currentIndex());
  r.sheet = planned_sheet(p).outline();
  r.hand = p.hand;
  r.unit = p.unit;
  r.target = target_->text().trimmed().toStdString();
  r.sides = sides_->currentData().toInt();
  r.ratio = ratio_->text().trimmed().toStdString();
  r.recipe = recipe_->toPlainText().toStdString();
  r.options.max_creases = creases_->value();
  r.options.top = 16;
  r.options.sigma_mm = p.hand.sigma_mm;
  r.options.weights.effort_mm = effort_step_mm * effort_->value();
  r.options.weights.exact_mm = exact_bonus_mm;
  r.options.weights.scar = scar_step * scar_->value();
  r.options.keep_clean = p.grid.keep_clean;
  if (const auto areas = parse_areas(areas_->text().toStdString(), p.unit); areas && !areas->empty())
    r.options.keep_clean = *areas;
  return r;
}

void MarkStage::search_soon() {
  const Project& p = workspace_.document.project();
  weights_->setText(tr("A crease more counts as %1 of error, 100 mm of scar as %2.")
                        .arg(workspace_.error(effort_step_mm * effort_->value()),
                             workspace_.error(100 * scar_step * scar_->value())));
  const auto areas = parse_areas(areas_->text().toStdString(), p.unit);
  areas_field_->set_error(areas ? QString() : QString::fromStdString(areas.error()));
  if (!areas) return;
  delay_.start();
}

void MarkStage::search() {
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
  cards_->setVisible(wrong.isEmpty());
  chosen_ = found_.list.empty() ? -1 : 0;
  std::vector<RouteCard::Face> faces;
  QString last;
  const QSignalBlocker quiet(over_);
  over_->clear();
  over_->addItem(tr("none"));
  for (const Finding& f : found_.list) {
    RouteCard::Face face = face_of(f);
    over_->addItem(tr("%1: %2, %3").arg(faces.size() + 1).arg(face.title, face.exactness));
    if (face.group == last)
      face.group.clear();
    else
      last = face.group;
    faces.push_back(std::move(face));
  }
  over_field_->setVisible(found_.list.size() > 1);
  const Project& p = workspace_.document.project();
  cards_->show_cards(std::move(faces), QColor(QString::fromStdString(p.stock.face)), chosen_);
  show_chosen();
}

const Finding* MarkStage::current() const {
  return chosen_ >= 0 && chosen_ < static_cast<int>(found_.list.size())
             ? &found_.list[static_cast<std::size_t>(chosen_)]
             : nullptr;
}

RouteCard::Face MarkStage::face_of(const Finding& f) const {
  RouteCard::Face face;
  face.figure = crease_figure(f.programme);
  for (const int r : f.results()) {
    if (!f.construction()[r].is_line()) face.figure.dots.push_back(f.construction()[r].point);
  }
  face.exact = f.exact();
  face.exactness = f.exact() ? tr("exact") : tr("%1 off").arg(workspace_.error(f.error_mm()));
  face.hand = tr("hand %1").arg(workspace_.error(f.sigma_mm(workspace_.document.project().hand.sigma_mm)));
  const int pinches = static_cast<int>(std::count_if(f.programme.moves.begin(), f.programme.moves.end(),
                                                     [](const Move& m) { return m.extent == Extent::pinch; }));
  face.title = crease_count(f.creases());
  if (pinches > 0) face.title += ", " + tr("%1 pinched").arg(pinches);
  if (f.route) {
    face.group = translated(f.route->idea);
  } else if (f.polygon) {
    face.group = translated(f.polygon->name);
    face.cut = f.polygon->outline();
    if (!f.exact()) face.exactness = tr("angles off by %1°").arg(f.polygon->angle_error_deg, 0, 'g', 2);
    if (f.polygon->largest) face.hand += tr(" ◆ largest");
  } else if (f.trim) {
    face.group = translated(f.trim->route.idea);
    face.cut = f.trim->piece();
  } else {
    face.group = tr("own recipe");
    face.exactness = tr("no target given");
    face.exact = false;
  }
  return face;
}

QString MarkStage::title_of(const Finding& f) const {
  const Project& p = workspace_.document.project();
  if (f.polygon)
    return tr("%1, %2").arg(polygon_name(static_cast<int>(f.polygon->vertices.size())), translated(f.polygon->name));
  if (f.trim) return tr("Cut to 1 : %1").arg(f.trim->ratio, 0, 'f', 4);
  // A fraction is known by the way it was typed.
  if (f.route && f.route->target.edge >= 0 && !found_.asked.empty()) return QString::fromStdString(found_.asked);
  if (f.route) return QString::fromStdString(describe(f.route->target, planned_sheet(p).outline(), p.unit));
  return tr("Own recipe");
}

void MarkStage::show_chosen() {
  const Finding* f = current();
  std::vector<PaperMark> marks;
  std::vector<Segment> over;
  if (!f) {
    Programme bare;
    bare.sheet = planned_sheet(workspace_.document.project()).outline();
    paper_->show_figure(crease_figure(bare));
  } else {
    // Names of many creases would hide the drawing; the moves name them one by one when they are folded.
    Figure figure = f->creases() <= 6 ? labelled_figure(f->programme) : crease_figure(f->programme);
    if (f->creases() > 6) {
      for (const int r : f->results()) figure.dots.push_back(figure.view * f->construction()[r].point);
    }
    paper_->show_figure(std::move(figure));
    if (found_.target && (found_.target->kind == Target::Kind::mark || found_.target->kind == Target::Kind::point))
      marks.push_back({found_.target->point, true, Eigen::Matrix2d::Zero()});
    const ConstructionErrors errors(f->construction(), workspace_.document.project().hand.sigma_mm);
    for (const int r : f->results()) {
      if (!f->construction()[r].is_line()) marks.push_back({f->construction()[r].point, false, errors.covariance(r)});
    }
    const int other = over_->currentIndex() - 1;
    if (other >= 0 && other < static_cast<int>(found_.list.size()) && other != chosen_) {
      for (const Move& m : found_.list[static_cast<std::size_t>(other)].programme.moves)
        over.insert(over.end(), m.spans.begin(), m.spans.end());
    }
  }
  paper_->set_clean_areas(request().options.keep_clean);
  paper_->set_marks(std::move(marks));
  paper_->set_laid_over(std::move(over));
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
  PlannedReference r;
  r.title = title_of(*f).toStdString();
  r.recipe = recipe_text(f->construction(), f->results());
  if (f->route) {
    const Target& target = f->route->target;
    r.target = target.edge >= 0 ? r.title : describe(target, planned_sheet(workspace_.document.project()).outline());
  }
  if (f->trim) {
    std::vector<int> corners;
    const Construction cut = with_corners(*f->trim, corners);
    r.recipe = recipe_text(cut, corners);
  }
  const bool piece = f->polygon || f->trim;
  r.cut = piece;
  const QString wrong = workspace_.document.change(tr("Send %1 to the programme").arg(title_of(*f)), [&](Project& p) {
    p.references.push_back(r);
    if (piece) p.grid_follows = false;
  });
  if (!wrong.isEmpty()) {
    workspace_.say(wrong);
    return;
  }
  workspace_.say(
      piece ? tr("%1 is in the programme, and the grid is not: it was planned for the whole sheet.").arg(title_of(*f))
            : tr("%1 is in the programme, before the grid.").arg(title_of(*f)));
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
    if (p.references.empty()) p.grid_follows = true;
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
          {tr("Left, Right"), tr("choose a way among the cards")},
          {tr("Click"), tr("pick a mark or a point on the paper")},
          {tr("Shift+Click"), tr("the line through this place and the one picked before")},
          {tr("Ctrl+Return"), tr("send the way to the programme")}};
}

} // namespace uc::app
