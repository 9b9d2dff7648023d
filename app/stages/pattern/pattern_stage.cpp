#include "stages/pattern/pattern_stage.h"

#include "pattern/family.h"
#include "pattern/pattern_figure.h"
#include "project/piece.h"
#include "stages/pattern/size_wish.h"
#include "stages/pattern/value_trials.h"

#include <fmt/format.h>

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QShortcut>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace uc::app {
namespace {

constexpr const char* forms[] = {"crease 0,0 4,4 mountain",
                                 "run 0,0 step 1,0 repeat 8 mountain alternating",
                                 "run 0,0 step 1,1 step 1,-1 repeat 8 valley",
                                 "line 0,4 along 1,0 mountain",
                                 "ray 4,4 along 1,1 valley",
                                 "mirror 8,0 8,16",
                                 "turn 8,8 into 4",
                                 "copy 2,0 times 7",
                                 "tile 6,0 0,6",
                                 "reflect 4,4 12,4 8,12",
                                 "relief 16,8 8,16 4,12 12,4",
                                 "direct 3,5 valley",
                                 "remove 3,5"};

QString ij(const Point& p) {
  return QString::fromStdString(fmt::format("{},{}", format_number(p.x(), 4), format_number(p.y(), 4)));
}

} // namespace

PatternStage::PatternStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("The pattern"))), centre_(new QWidget),
      pages_(new QStackedWidget), paper_(new PaperView), trials_(new ValueTrials(workspace)),
      finding_handles_([this](std::vector<FamilyHandle> found) { show_handles(std::move(found)); }) {
  build_centre();
  build_choices();
  paper_->set_describer([this](int element) -> QString {
    const auto drawn = workspace_.document.pattern();
    const CreasePattern& p = drawn->healed.pattern;
    if (element < 1 || static_cast<std::size_t>(element) > p.edges.size()) return {};
    const auto e = static_cast<std::size_t>(element) - 1;
    const Segment s = p.segment(CreaseId(element - 1));
    QString text = tr("Edge %1, %2, %3 long")
                       .arg(element - 1)
                       .arg(tr(name_of(p.edges[e].kind).c_str()), workspace_.length(s.length()));
    const auto& rules = drawn->design.rules;
    const int rule = e < drawn->rule_of.size() ? drawn->rule_of[e] : 0;
    if (rule > 0 && static_cast<std::size_t>(rule) <= rules.size())
      text += "\n" + tr("Rule %1: %2").arg(rule).arg(QString::fromStdString(rules[static_cast<std::size_t>(rule) - 1]));
    return text;
  });
  connect(paper_, &PaperView::paper_clicked, this, &PatternStage::pick);
  connect(&workspace_.document, &Document::changed, this, &PatternStage::load);
  load();
}

void PatternStage::build_centre() {
  shown_ = new QComboBox;
  shown_->setObjectName("pattern-shown");
  shown_->setAccessibleName(tr("What is shown"));
  shown_->addItems({tr("The pattern on the sheet"), tr("What a value changes")});
  connect(shown_, &QComboBox::activated, this, [this](int i) { show_trials(i == 1); });
  connect(trials_, &ValueTrials::value_taken, this, &PatternStage::set_parameter);
  connect(trials_, &ValueTrials::settings_taken, this, &PatternStage::take_settings);
  connect(paper_, &PaperView::handle_moved, this, &PatternStage::drag_handle);
  connect(paper_, &PaperView::handle_let_go, this, [this] { find_handles(); });
  pages_->addWidget(paper_);
  pages_->addWidget(trials_);
  auto* foot = new QHBoxLayout;
  foot->setContentsMargins(16, 4, 16, 8);
  foot->addWidget(shown_);
  foot->addStretch(1);
  auto* column = new QVBoxLayout(centre_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(pages_, 1);
  column->addLayout(foot);
}

std::vector<BenchView*> PatternStage::views() const {
  return pages_->currentWidget() == trials_ ? trials_->views() : std::vector<BenchView*>{paper_};
}

void PatternStage::show_trials(bool trials) {
  shown_->setCurrentIndex(trials ? 1 : 0);
  pages_->setCurrentWidget(trials ? static_cast<QWidget*>(trials_) : paper_);
}

void PatternStage::build_choices() {
  family_ = new QComboBox;
  family_->setObjectName("family");
  family_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  family_->addItem(tr("Rules of your own"));
  for (const PatternFamily& f : pattern_families()) family_->addItem(tr(f.title.c_str()));
  connect(family_, &QComboBox::activated, this, &PatternStage::choose_family);
  choices_->add(new Field(tr("&Drawn by"), family_));
  auto* browse = new QPushButton(tr("&Browse families..."));
  browse->setObjectName("browse-families");
  browse->setToolTip(tr("All families as small drawings, each beside what it folds to."));
  connect(browse, &QPushButton::clicked, this, &PatternStage::browse_families);
  choices_->add(browse);
  parameters_ = new ParameterPanel;
  connect(parameters_, &ParameterPanel::value_changed, this, &PatternStage::set_parameter);
  choices_->add(parameters_);
  wish_ = new SizeWish(workspace_);
  connect(wish_, &SizeWish::measured, this, &Stage::stale);
  connect(wish_, &SizeWish::worked_back, this, &PatternStage::take_settings);
  choices_->add(wish_);
  into_rules_ = new QPushButton(tr("&Turn into rules"));
  into_rules_->setObjectName("into-rules");
  into_rules_->setToolTip(tr("The creases stay as they are, as rules you can change; the parameters go."));
  connect(into_rules_, &QPushButton::clicked, this, &PatternStage::turn_into_rules);
  choices_->add(into_rules_);
  by_rule_ = new QWidget;
  auto* rule_box = new QVBoxLayout(by_rule_);
  rule_box->setContentsMargins(0, 0, 0, 0);
  rule_box->setSpacing(4);
  build_rules(rule_box);
  choices_->add(by_rule_);
  build_files();
  choices_->finish();
}

void PatternStage::build_rules(QVBoxLayout* box) {
  grid_ = new QComboBox;
  grid_->setObjectName("pattern-grid");
  grid_->addItems({tr("Square grid"), tr("Square grid on its corner"), tr("Grid of equilateral triangles")});
  grid_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  connect(grid_, &QComboBox::activated, this, [this](int i) {
    change(tr("Choose the grid"), [i](PatternDesign& d) { d.grid = static_cast<PatternGrid>(i); });
  });
  box->addWidget(new Field(tr("&Grid"), grid_));
  count_ = new QSpinBox;
  count_->setObjectName("pattern-count");
  count_->setRange(1, most_grid_count);
  connect(count_, &QSpinBox::valueChanged, this, [this](int n) {
    workspace_.document.change(
        tr("Change the grid's count"), [n](Project& p) { p.pattern.count = n; }, 0x5047);
  });
  box->addWidget(new Field(tr("Cells a&cross"), count_));
  auto* section = new QLabel(tr("RULES, IN ORDER"));
  section->setProperty("role", "section");
  box->addWidget(section);
  rules_ = new QListWidget;
  rules_->setObjectName("rules");
  rules_->setAccessibleName(tr("Rules, in order"));
  rules_->setMinimumHeight(132);
  rules_->setFont(mono_font(8.5));
  rules_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  rules_->setTextElideMode(Qt::ElideRight);
  connect(rules_, &QListWidget::currentRowChanged, this, [this](int row) {
    const auto& rules = workspace_.document.project().pattern.rules;
    const bool one = row >= 0 && static_cast<std::size_t>(row) < rules.size();
    if (one) rule_->setText(QString::fromStdString(rules[static_cast<std::size_t>(row)]));
    for (QPushButton* b : {change_, remove_}) b->setEnabled(one);
    up_->setEnabled(one && row > 0);
  });
  box->addWidget(rules_);
  rule_ = new QLineEdit;
  rule_->setObjectName("rule");
  rule_->setFont(mono_font(8.5));
  rule_->setPlaceholderText("run 0,0 step 1,0 repeat 8");
  rule_field_ = new Field(tr("&Rule: type it, Enter adds it"), rule_);
  connect(rule_, &QLineEdit::returnPressed, this, [this] {
    if (add_rule(rule_->text()).isEmpty()) rule_->clear();
  });
  box->addWidget(rule_field_);
  form_ = new QComboBox;
  form_->setObjectName("form");
  form_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  form_->setFont(mono_font(8));
  form_->setAccessibleName(tr("Forms of rules"));
  form_->addItem(tr("Forms to start from ..."));
  for (const char* f : forms) form_->addItem(f);
  connect(form_, &QComboBox::activated, this, [this](int i) {
    if (i > 0) rule_->setText(form_->itemText(i));
    rule_->setFocus();
    form_->setCurrentIndex(0);
  });
  box->addWidget(form_);
  auto* row = new QWidget;
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(4);
  const auto button = [&](const QString& text, const char* name, auto&& action) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    connect(b, &QPushButton::clicked, this, action);
    line->addWidget(b);
    return b;
  };
  change_ = button(tr("C&hange"), "change-rule", [this] { change_rule(); });
  up_ = button(tr("U&p"), "rule-up", [this] { move_rule(-1); });
  remove_ = button(tr("Remo&ve"), "remove-rule", [this] { remove_rule(); });
  for (QPushButton* b : {change_, up_, remove_}) b->setEnabled(false);
  box->addWidget(row);
  auto* del = new QShortcut(QKeySequence(Qt::Key_Delete), rules_);
  del->setContext(Qt::WidgetShortcut);
  connect(del, &QShortcut::activated, this, &PatternStage::remove_rule);
  click_ = new QComboBox;
  click_->setObjectName("click");
  click_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  click_->addItem(tr("nothing"));
  for (const EdgeKind k : {EdgeKind::mountain, EdgeKind::valley, EdgeKind::undirected})
    click_->addItem(tr("two marks: a %1 crease").arg(tr(name_of(k).c_str())), static_cast<int>(k));
  click_->addItem(tr("a crease: turn its direction"), -1);
  click_->addItem(tr("a crease: leave it out"), -2);
  box->addWidget(new Field(tr("C&lick on the paper"), click_));
  connect(click_, &QComboBox::activated, this, [this] {
    first_pick_.reset();
    paper_->set_marks({});
  });
}

QString PatternStage::change(const QString& label, const std::function<void(PatternDesign&)>& edit) {
  const QString wrong = workspace_.document.change(label, [&](Project& p) { edit(p.pattern); });
  if (!wrong.isEmpty()) workspace_.say(wrong);
  return wrong;
}

QString PatternStage::add_rule(const QString& text) {
  const auto rule = parse_rule(text.toStdString());
  if (!rule) {
    rule_field_->set_error(QString::fromStdString(rule.error()));
    return QString::fromStdString(rule.error());
  }
  rule_field_->set_error({});
  return change(tr("Add a rule"), [&](PatternDesign& d) { d.rules.push_back(rule_text(*rule)); });
}

void PatternStage::change_rule() {
  const int row = rules_->currentRow();
  const auto rule = parse_rule(rule_->text().toStdString());
  rule_field_->set_error(rule ? QString() : QString::fromStdString(rule.error()));
  if (!rule || row < 0) return;
  change(tr("Change a rule"), [&](PatternDesign& d) { d.rules[static_cast<std::size_t>(row)] = rule_text(*rule); });
}

void PatternStage::remove_rule() {
  const int row = rules_->currentRow();
  if (row < 0 || static_cast<std::size_t>(row) >= workspace_.document.project().pattern.rules.size()) return;
  change(tr("Remove a rule"), [&](PatternDesign& d) { d.rules.erase(d.rules.begin() + row); });
}

void PatternStage::move_rule(int by) {
  const int row = rules_->currentRow();
  const int to = row + by;
  const auto n = static_cast<int>(workspace_.document.project().pattern.rules.size());
  if (row < 0 || to < 0 || row >= n || to >= n) return;
  change(tr("Move a rule"), [&](PatternDesign& d) {
    std::swap(d.rules[static_cast<std::size_t>(row)], d.rules[static_cast<std::size_t>(to)]);
  });
  rules_->setCurrentRow(to);
}

void PatternStage::pick(const Point& at, double) {
  const QVariant what = click_->currentData();
  if (!what.isValid()) return;
  const Project& p = workspace_.document.project();
  if (workspace_.document.drawing()) return; // what is clicked is gone already
  if (p.pattern.family) return;              // the paper is drawn on when the family has become rules
  const GridFrame frame = grid_frame(p.pattern.grid, p.pattern.count, drawn_sheet(p).outline());
  if (what.toInt() < 0) {
    const auto pattern = workspace_.document.pattern();
    CreaseId best;
    double least = 1e300;
    for (std::size_t e = 0; e < pattern->healed.pattern.edges.size(); ++e) {
      if (pattern->healed.pattern.edges[e].kind == EdgeKind::raw) continue;
      const Segment s = pattern->healed.pattern.segment(CreaseId(e));
      const Point d = s.to - s.from;
      const double t = std::clamp(d.dot(at - s.from) / d.squaredNorm(), 0.0, 1.0);
      if ((s.at(t) - at).norm() < least) {
        least = (s.at(t) - at).norm();
        best = CreaseId(e);
      }
    }
    if (best < 0) return;
    const EdgeKind kind = pattern->healed.pattern.edges[static_cast<std::size_t>(best)].kind;
    const QString place = ij(frame.index(pattern->healed.pattern.segment(best).middle()));
    if (what.toInt() == -2)
      add_rule("remove " + place);
    else
      add_rule("direct " + place + (kind == EdgeKind::mountain ? " valley" : " mountain"));
    return;
  }
  const Point mark = frame.nearest(at);
  if (!first_pick_) {
    first_pick_ = mark;
    paper_->set_marks({{frame.at(mark), true, {}}});
    return;
  }
  if (*first_pick_ != mark)
    add_rule(QString("crease %1 %2 %3")
                 .arg(ij(*first_pick_), ij(mark), name_of(static_cast<EdgeKind>(what.toInt())).c_str()));
  first_pick_.reset();
  paper_->set_marks({});
}

void PatternStage::load_rules() {
  const Project& p = workspace_.document.project();
  const auto drawn = workspace_.document.pattern();
  {
    const QSignalBlocker a(grid_);
    const QSignalBlocker b(count_);
    grid_->setCurrentIndex(static_cast<int>(p.pattern.grid));
    count_->setValue(p.pattern.count);
  }
  {
    const QSignalBlocker quiet(rules_);
    const int row = rules_->currentRow();
    rules_->clear();
    for (std::size_t i = 0; i < p.pattern.rules.size(); ++i) {
      auto* item = new QListWidgetItem(QString("%1  %2").arg(i + 1, 2).arg(QString::fromStdString(p.pattern.rules[i])));
      for (const auto& w : drawn->wrong) {
        if (w.rule != static_cast<int>(i) + 1) continue;
        item->setText("▲! " + item->text());
        item->setToolTip(QString::fromStdString(w.sentence));
        item->setForeground(current_theme().caution);
      }
      if (item->toolTip().isEmpty()) item->setToolTip(QString::fromStdString(p.pattern.rules[i]));
      rules_->addItem(item);
    }
    if (p.pattern.rules.empty()) {
      auto* none = new QListWidgetItem(tr("No rules yet: type one below."));
      none->setFlags(Qt::NoItemFlags);
      none->setFont(text_font(8.5));
      rules_->addItem(none);
    }
    rules_->setCurrentRow(std::min(row, static_cast<int>(p.pattern.rules.size()) - 1));
    const bool one = rules_->currentRow() >= 0 && !p.pattern.rules.empty();
    for (QPushButton* b : {change_, remove_}) b->setEnabled(one);
    up_->setEnabled(one && rules_->currentRow() > 0);
  }
}

void PatternStage::load() {
  const Project& p = workspace_.document.project();
  const auto drawn = workspace_.document.pattern();
  load_family();
  load_rules();
  Figure figure = pattern_figure(drawn->healed.pattern);
  if (figure.outline.empty()) figure.outline = drawn_sheet(p).outline();
  std::vector<FigureLine> hairs;
  if (drawn->design.count <= 128) {
    for (const Segment& s : grid_lines(drawn->design.grid, drawn->design.count, drawn_sheet(p).outline()))
      hairs.push_back({s, LineStyle::unfolded, 0, false});
  }
  figure.lines.insert(figure.lines.begin(), hairs.begin(), hairs.end());
  paper_->set_unit(p.unit);
  paper_->set_paper(QColor(QString::fromStdString(p.stock.face)), QColor(QString::fromStdString(p.stock.underside)));
  paper_->show_figure(std::move(figure));
  find_handles();
  wish_->load();
  trials_->load();
  emit stale();
}

void PatternStage::begin_anew() {
  rule_->clear();
  rule_field_->set_error({});
  show_trials(false);
}

QString PatternStage::fact() const {
  int creases = 0;
  for (const PatternEdge& e : workspace_.document.pattern()->healed.pattern.edges) creases += folds(e.kind);
  if (workspace_.document.drawing()) return tr("being drawn");
  return creases == 0 ? tr("none yet") : creases == 1 ? tr("1 crease") : tr("%1 creases").arg(creases);
}

QList<QPair<QString, QString>> PatternStage::keys() const {
  return {{tr("Enter"), tr("adds the rule that is typed")}, {tr("Delete"), tr("removes the chosen rule")}};
}

} // namespace uc::app
