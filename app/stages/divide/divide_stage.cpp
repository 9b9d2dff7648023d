#include "stages/divide/divide_stage.h"

#include "base/expression.h"
#include "base/file_name.h"
#include "divide/typed.h"
#include "project/piece.h"

#include <QCheckBox>
#include <QComboBox>
#include <QEvent>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>
#include <iterator>

namespace uc::app {
namespace {

constexpr int merge_parts = 1;

QString method_title(Method m) {
  switch (m) {
  case Method::best:
    return DivideStage::tr("Most accurate");
  case Method::edges:
    return DivideStage::tr("Halve from edges");
  case Method::neighbours:
    return DivideStage::tr("Halve neighbours");
  case Method::stepping:
    return DivideStage::tr("Step off");
  case Method::iterated:
    return DivideStage::tr("Guess and iterate");
  }
  return {};
}

QString start_title(StartKind kind) {
  switch (kind) {
  case StartKind::diagonals:
    return DivideStage::tr("Diagonals first");
  case StartKind::corner_fold:
    return DivideStage::tr("Corner fold first");
  case StartKind::binary:
    return DivideStage::tr("Halvings first");
  case StartKind::route:
    return DivideStage::tr("Best reference first");
  case StartKind::ruler:
    return DivideStage::tr("Ruler mark first");
  case StartKind::printed:
    return DivideStage::tr("Template first");
  case StartKind::given:
    break;
  }
  return {};
}

constexpr int method_rows = static_cast<int>(std::size(all_methods));

} // namespace

DivideStage::DivideStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("The grid"))), centre_(new QWidget),
      paper_(new PaperView), table_(new QTableWidget), plot_(new ErrorPlot),
      comparing_([this](std::vector<Division> compared) {
        compared_ = std::move(compared);
        starts_.clear();
        fill_table();
        compare_starts();
      }),
      starting_([this](std::vector<StartedDivision> starts) {
        starts_ = std::move(starts);
        waiting_ = false;
        fill_table();
      }) {
  build_choices();
  build_centre();
  connect(&workspace_.document, &Document::changed, this, &DivideStage::load);
  load();
}

void DivideStage::build_choices() {
  parts_ = new QSpinBox;
  parts_->setRange(0, 999);
  parts_->setObjectName("parts");
  parts_field_ = new Field(tr("&Equal parts"), parts_);
  connect(parts_, &QSpinBox::valueChanged, this, [this](int n) {
    edit(
        parts_field_, tr("Change the count"),
        [n](Project& p) {
          p.grid.parts = n;
          p.grid.start.reset();
          std::erase_if(p.grid.left_out, [n](int line) { return line >= n; });
        },
        merge_parts);
  });
  choices_->add(parts_field_);

  axis_ = new QComboBox;
  axis_->setObjectName("axis");
  axis_->addItems(
      {tr("Upright lines"), tr("Level lines"), tr("Both, a square grid"), tr("Diagonal"), tr("Equilateral, 60°")});
  connect(axis_, &QComboBox::activated, this, [this](int i) {
    edit(nullptr, tr("Change the direction"), [i](Project& p) { p.grid.axis = static_cast<GridAxis>(i); });
  });
  choices_->add(new Field(tr("&Direction of lines"), axis_));

  direction_ = new QComboBox;
  direction_->addItems({tr("All valley"), tr("Valley and mountain by turns"), tr("Worked both ways")});
  connect(direction_, &QComboBox::activated, this, [this](int i) {
    edit(nullptr, tr("Change the creases"), [i](Project& p) { p.grid.direction = static_cast<DirectionRule>(i); });
  });
  choices_->add(new Field(tr("&Creases"), direction_));
  build_extents();
  build_hand();
  choices_->finish();
}

void DivideStage::build_extents() {
  choices_->add_section(tr("WHERE CREASES RUN"));
  extent_ = new QComboBox;
  extent_->setObjectName("extent");
  extent_->addItems({tr("From edge to edge"), tr("Only to the diagonals"), tr("Some units in from both sides")});
  connect(extent_, &QComboBox::activated, this, [this](int i) {
    edit(inset_field_, tr("Change where creases run"), [i](Project& p) { p.grid.extent = static_cast<ExtentRule>(i); });
  });
  choices_->add(new Field(tr("E&xtent"), extent_));
  inset_ = new QSpinBox;
  inset_->setRange(1, 127);
  inset_field_ = new Field(tr("Units in from each side"), inset_);
  connect(inset_, &QSpinBox::valueChanged, this, [this](int n) {
    edit(
        inset_field_, tr("Change the stop lines"), [n](Project& p) { p.grid.inset = n; }, merge_parts + 1);
  });
  choices_->add(inset_field_);
  left_out_ = new QLineEdit;
  left_out_->setObjectName("left-out");
  left_out_->setPlaceholderText(tr("none; type 3, 5-8"));
  left_out_field_ = new Field(tr("Lines to &leave out"), left_out_);
  connect(left_out_, &QLineEdit::editingFinished, this, &DivideStage::lines_typed);
  choices_->add(left_out_field_);
  areas_ = new QLineEdit;
  areas_->setPlaceholderText(tr("none; left,bottom,right,top"));
  areas_field_ = new Field(tr("Areas to &keep clean"), areas_);
  connect(areas_, &QLineEdit::editingFinished, this, &DivideStage::areas_typed);
  choices_->add(areas_field_);
  pinches_ = new QCheckBox(tr("&Pinches at the raw edge allowed"));
  pinches_->setToolTip(tr("Where a line gets no crease, a pinch at the raw edge may still serve as a reference."));
  connect(pinches_, &QCheckBox::clicked, this, [this](bool on) {
    edit(nullptr, tr("Change the pinches"), [on](Project& p) { p.grid.pinches_allowed = on; });
  });
  choices_->add(pinches_);
}

void DivideStage::build_hand() {
  choices_->add_section(tr("YOUR HAND"));
  start_ = new QLineEdit;
  start_->setObjectName("start");
  start_->setPlaceholderText(tr("none; type 1/3:0.1"));
  start_field_ = new Field(tr("&Mark that exists already"), start_);
  connect(start_, &QLineEdit::editingFinished, this, &DivideStage::start_typed);
  choices_->add(start_field_);
  auto* pair = new QWidget;
  auto* row = new QHBoxLayout(pair);
  row->setContentsMargins(0, 0, 0, 0);
  sigma_ = new QLineEdit;
  sigma_->setObjectName("sigma");
  sigma_->setAccessibleName(tr("Error of one crease"));
  sigma_->setToolTip(tr("s: the standard error of one crease of your hand"));
  guess_ = new QLineEdit;
  guess_->setAccessibleName(tr("Error of a guess by eye"));
  guess_->setToolTip(tr("The standard error of a mark you place by eye"));
  row->addWidget(sigma_);
  row->addWidget(guess_);
  hand_field_ = new Field(tr("Error of a crease, of a &guess"), pair);
  connect(sigma_, &QLineEdit::editingFinished, this, &DivideStage::hand_typed);
  connect(guess_, &QLineEdit::editingFinished, this, &DivideStage::hand_typed);
  choices_->add(hand_field_);
  either_side_ = new QCheckBox(tr("Fold from either &side"));
  either_side_->setObjectName("either-side");
  either_side_->setToolTip(tr("You bring paper over from the left and from the right alike, so the sheet need not be "
                              "rotated by half a turn between such folds."));
  connect(either_side_, &QCheckBox::clicked, this,
          [this](bool on) { edit(hand_field_, tr("Change the hand"), [&](Project& p) { p.hand.either_side = on; }); });
  choices_->add(either_side_);
}

void DivideStage::build_centre() {
  auto* column = new QVBoxLayout(centre_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(paper_, 1);
  auto* low = new QWidget(centre_);
  low->setFixedHeight(196);
  auto* row = new QHBoxLayout(low);
  row->setContentsMargins(12, 4, 12, 10);
  row->setSpacing(12);
  table_->setColumnCount(6);
  table_->setHorizontalHeaderLabels({tr("Method"), tr("Folds"), tr("Turns"), tr("Min."), tr("Worst"), tr("Mean")});
  table_->setRowCount(method_rows);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(28);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setAccessibleName(tr("The methods side by side"));
  table_->setObjectName("methods");
  table_->setTabKeyNavigation(false);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  table_->horizontalHeader()->setHighlightSections(false);
  connect(table_, &QTableWidget::itemSelectionChanged, this, [this] { choose_row(table_->currentRow()); });
  row->addWidget(table_, 3);
  row->addWidget(plot_, 2);
  column->addWidget(low);
  centre_->installEventFilter(this);
  paper_->set_describer([this](int element) { return describe(element); });
}

bool DivideStage::eventFilter(QObject* watched, QEvent* event) {
  // In a narrow window the table needs the whole width; the colours on the paper tell what the plot would.
  if (watched == centre_ && event->type() == QEvent::Resize) plot_->setVisible(centre_->width() >= 640);
  return Stage::eventFilter(watched, event);
}

void DivideStage::edit(Field* field, const QString& label, const std::function<void(Project&)>& change, int merge) {
  const QString wrong = workspace_.document.change(label, change, merge);
  if (field)
    field->set_error(wrong);
  else if (!wrong.isEmpty())
    workspace_.say(wrong);
}

void DivideStage::lines_typed() {
  const GridSpec& now = workspace_.document.project().grid;
  const auto lines = parse_line_list(left_out_->text().toStdString(), now.parts);
  left_out_field_->set_error(lines ? QString() : QString::fromStdString(lines.error()));
  if (!lines || *lines == now.left_out) return;
  edit(left_out_field_, tr("Leave lines out"), [&](Project& p) { p.grid.left_out = *lines; });
}

void DivideStage::areas_typed() {
  const Project& now = workspace_.document.project();
  if (areas_->text().toStdString() == format_areas(now.grid.keep_clean, now.unit)) return areas_field_->set_error({});
  const auto areas = parse_areas(areas_->text().toStdString(), now.unit);
  areas_field_->set_error(areas ? QString() : QString::fromStdString(areas.error()));
  if (areas) edit(areas_field_, tr("Keep areas clean"), [&](Project& p) { p.grid.keep_clean = *areas; });
}

void DivideStage::start_typed() {
  const Project& now = workspace_.document.project();
  const QString text = start_->text().trimmed();
  if (text.isEmpty()) {
    start_field_->set_error({});
    if (now.grid.start && now.grid.start->kind == StartKind::given)
      edit(start_field_, tr("Remove the mark"), [](Project& p) { p.grid.start.reset(); });
    return;
  }
  const auto mark = parse_start_mark(text.toStdString(), now.grid.parts, now.unit);
  start_field_->set_error(mark ? QString() : QString::fromStdString(mark.error()));
  if (!mark || now.grid.start == *mark) return;
  edit(start_field_, tr("Start from a mark"), [&](Project& p) { p.grid.start = *mark; });
}

void DivideStage::hand_typed() {
  const Project& now = workspace_.document.project();
  HandProfile hand = now.hand;
  for (const auto& [editor, target] :
       {std::pair<QLineEdit*, double*>{sigma_, &hand.sigma_mm}, {guess_, &hand.guess_sigma_mm}}) {
    const auto length = parse_length(editor->text().toStdString(), now.unit);
    if (!length) return hand_field_->set_error(QString::fromStdString(length.error()));
    if (std::abs(length->value - *target) > 1e-6 * *target) *target = length->value;
  }
  const auto ok = checked(hand);
  hand_field_->set_error(ok ? QString() : QString::fromStdString(ok.error()));
  if (!ok || hand == now.hand) return;
  if (hand.sigma_mm != now.hand.sigma_mm) hand.sigma_se_mm = 0, hand.measured_runs = 0;
  edit(hand_field_, tr("Change the hand"), [&](Project& p) { p.hand = hand; });
}

void DivideStage::load() {
  const Project& p = workspace_.document.project();
  const Division& d = workspace_.document.division();
  const QSignalBlocker a(parts_);
  const QSignalBlocker b(inset_);
  parts_->setValue(p.grid.parts);
  parts_field_->set_error({});
  axis_->setCurrentIndex(static_cast<int>(p.grid.axis));
  direction_->setCurrentIndex(static_cast<int>(p.grid.direction));
  extent_->setCurrentIndex(static_cast<int>(p.grid.extent));
  inset_->setValue(p.grid.inset);
  inset_field_->setVisible(p.grid.extent == ExtentRule::inset);
  show_text(*left_out_, QString::fromStdString(format_line_list(p.grid.left_out)));
  show_text(*areas_, QString::fromStdString(format_areas(p.grid.keep_clean, p.unit)));
  pinches_->setChecked(p.grid.pinches_allowed);
  const auto num = [&](double mm) { return QString::fromStdString(format_number(mm / mm_per(p.unit), 5)); };
  const bool folded = p.grid.start && p.grid.start->kind != StartKind::given;
  start_->setPlaceholderText(folded ? start_title(p.grid.start->kind) : tr("none; type 1/3:0.1"));
  show_text(*start_,
            p.grid.start && !folded
                ? QStringLiteral("%1/%2:%3").arg(p.grid.start->line).arg(p.grid.parts).arg(num(p.grid.start->sigma_mm))
                : QString());
  const QString unit = QString::fromStdString(symbol(p.unit));
  show_text(*sigma_, num(p.hand.sigma_mm) + " " + unit);
  show_text(*guess_, num(p.hand.guess_sigma_mm) + " " + unit);
  either_side_->setChecked(p.hand.either_side);

  paper_->set_unit(p.unit);
  paper_->set_paper(QColor(QString::fromStdString(p.stock.face)), QColor(QString::fromStdString(p.stock.underside)));
  paper_->set_clean_areas(p.grid.keep_clean);
  QHash<int, QColor> tints;
  // The grid is planned here even while the programme folds a pattern instead.
  // Nothing of another state is shown while it is planned.
  Programme bare;
  bare.sheet = worked_sheet(p).outline();
  const Programme& shown = workspace_.document.dividing()                                         ? bare
                           : folded_work(p) != FoldedWork::grid || workspace_.document.planning() ? d.programme
                                                                                                  : p.programme;
  int place = 0;
  for (const Element& e : shown.elements) {
    ++place;
    if (e.role == Role::crease && e.sigma_mm)
      tints[place] = error_colour(*e.sigma_mm, p.hand.sigma_mm, current_theme());
  }
  paper_->set_tints(tints);
  paper_->set_legend(workspace_.error(p.hand.sigma_mm), workspace_.error(4 * p.hand.sigma_mm), true);
  paper_->show_figure(crease_figure(shown));
  if (workspace_.document.dividing())
    plot_->clear();
  else
    plot_->show_division(d, [this](double mm) { return workspace_.error(mm); });
  compare();
}

void DivideStage::compare() {
  waiting_ = true;
  starting_.give_up(); // the grid has changed; its own comparison follows
  const Project& p = workspace_.document.project();
  GridSpec grid = p.grid;
  // The methods stand for themselves; starts that are folded have rows of their own.
  if (grid.start && grid.start->kind != StartKind::given) grid.start.reset();
  comparing_.begin([sheet = worked_sheet(p), grid, hand = p.hand](Progress&) {
    auto all = compare_methods(sheet, grid, hand);
    return all ? std::move(all).value() : std::vector<Division>{};
  });
}

void DivideStage::compare_starts() {
  const Project& p = workspace_.document.project();
  starting_.begin(
      [sheet = worked_sheet(p), grid = p.grid, hand = p.hand, &indexes = workspace_.indexes](Progress& progress) {
        const bool folded = static_cast<bool>(start_of(sheet, grid, hand, StartKind::diagonals));
        const auto index =
            folded ? indexes.get(sheet.outline(), &progress) : Result<std::shared_ptr<const SheetIndex>>(Error{""});
        if (progress.cancelled()) return std::vector<StartedDivision>{};
        return uc::compare_starts(sheet, grid, hand, index ? index->get() : nullptr);
      });
}

void DivideStage::choose_row(int row) {
  const GridSpec& now = workspace_.document.project().grid;
  const bool started = now.start && now.start->kind != StartKind::given;
  if (row >= method_rows && row - method_rows < static_cast<int>(starts_.size())) {
    const StartMark start = *starts_[static_cast<std::size_t>(row - method_rows)].division.spec.start;
    if (started && now.start->kind == start.kind && now.method == Method::best) return;
    edit(nullptr, tr("Choose where to start"), [&](Project& p) {
      p.grid.start = start;
      p.grid.method = Method::best;
    });
    return;
  }
  if (row < 0 || row >= method_rows || (!started && static_cast<Method>(row) == now.method)) return;
  edit(nullptr, tr("Choose the method"), [&](Project& p) {
    p.grid.method = static_cast<Method>(row);
    if (started) p.grid.start.reset();
  });
}

void DivideStage::fill_table() {
  const QSignalBlocker quiet(table_);
  table_->setRowCount(method_rows + static_cast<int>(starts_.size()));
  const auto fill = [&](int row, const QString& title, const QString& tip, const Division& d) {
    const auto set = [&](int column, const QString& text) {
      auto* item = new QTableWidgetItem(text);
      item->setTextAlignment(column == 0 ? Qt::AlignLeft | Qt::AlignVCenter : Qt::AlignRight | Qt::AlignVCenter);
      table_->setItem(row, column, item);
    };
    set(0, title);
    table_->item(row, 0)->setToolTip(tip);
    set(1, QString::number(d.start_creases + d.creases));
    set(2, QStringLiteral("%1 + %2").arg(d.turn_overs).arg(d.rotations));
    table_->item(row, 2)->setToolTip(tr("%1 turn-overs, %2 rotations").arg(d.turn_overs).arg(d.rotations));
    set(3, QString::number(d.minutes, 'f', d.minutes < 10 ? 1 : 0));
    set(4, d.worst_sigma_mm > 1e5 ? tr("useless") : workspace_.error(d.worst_sigma_mm));
    set(5, d.mean_sigma_mm > 1e5 ? tr("useless") : workspace_.error(d.mean_sigma_mm));
  };
  for (int row = 0; row < static_cast<int>(compared_.size()); ++row) {
    const Division& d = compared_[static_cast<std::size_t>(row)];
    const int rounds = d.plans.empty() ? 0 : rounds_of(d.plans.front());
    QString title = method_title(d.spec.method);
    if (d.spec.method == Method::iterated && rounds > 0)
      title = rounds == 1 ? tr("Guess, 1 round") : tr("Guess, %1 rounds").arg(rounds);
    fill(row, title,
         rounds > 0
             ? tr("The guess by eye is folded over and over, %1 times; each round divides its error.").arg(rounds)
             : QString(),
         d);
  }
  const GridSpec& now = workspace_.document.project().grid;
  int selected = static_cast<int>(now.method);
  for (int i = 0; i < static_cast<int>(starts_.size()); ++i) {
    const StartedDivision& s = starts_[static_cast<std::size_t>(i)];
    const StartMark& start = *s.division.spec.start;
    fill(method_rows + i, start_title(s.kind),
         tr("Starts from line %1 of %2, good to %3; then the most accurate way.")
             .arg(start.line)
             .arg(now.parts)
             .arg(workspace_.error(start.sigma_mm)),
         s.division);
    if (now.start && now.start->kind == s.kind) selected = method_rows + i;
  }
  table_->selectRow(selected);
}

QString DivideStage::describe(int element) const {
  const Project& project = workspace_.document.project();
  if (workspace_.document.dividing()) return {};
  const Programme& programme = folded_work(project) != FoldedWork::grid || workspace_.document.planning()
                                   ? workspace_.document.division().programme
                                   : project.programme;
  if (element < 1 || static_cast<std::size_t>(element) > programme.elements.size()) return {};
  const Element* e = &programme.elements[static_cast<std::size_t>(element) - 1];
  QString made;
  for (std::size_t i = 0; i < programme.moves.size(); ++i) {
    if (programme.moves[i].creases().makes == e->id && !programme.moves[i].is(CreaseWay::both_ways))
      made = tr("made by move %1").arg(i + 1);
  }
  double length = 0;
  for (const Segment& s : e->spans) length += s.length();
  double extent = 0;
  for (const Family& f : workspace_.document.division().layout.families) {
    if (f.name == e->family) extent = f.extent_mm;
  }
  return tr("Line %1 of %2\nat %3\nexpected error %4\ncreased over %5\n%6")
      .arg(e->index)
      .arg(e->parts)
      .arg(workspace_.length(extent * e->index / e->parts),
           e->sigma_mm ? workspace_.error(*e->sigma_mm) : tr("not known"), workspace_.length(length), made);
}

QString DivideStage::fact() const {
  const Project& p = workspace_.document.project();
  const int n = static_cast<int>(workspace_.document.division().plans.size());
  return n > 1 ? tr("%1 parts, %2 ways").arg(p.grid.parts).arg(n) : tr("%1 parts").arg(p.grid.parts);
}

void DivideStage::write_ledger(Ledger& ledger) {
  const Project& p = workspace_.document.project();
  const Division& d = workspace_.document.division();
  ledger.begin(tr("Error budget"));
  if (workspace_.document.dividing()) {
    ledger.note(tr("The grid is being planned ..."));
    ledger.finish();
    return;
  }
  if (folded_work(p) != FoldedWork::grid)
    ledger.note(tr("The programme does not fold this grid now; see File, What to fold."));
  for (const Family& f : d.layout.families) {
    ledger.line(tr("One part, direction %1").arg(direction_sign(f.name)), workspace_.length(f.extent_mm / p.grid.parts),
                tr("%1 ÷ %2").arg(workspace_.length(f.extent_mm)).arg(p.grid.parts));
  }
  ledger.section(tr("EXPECTED ERROR"));
  if (!d.plans.empty()) {
    const GridPlan& worst = *std::max_element(d.plans.begin(), d.plans.end(), [](const GridPlan& a, const GridPlan& b) {
      return a.worst_sigma_mm < b.worst_sigma_mm;
    });
    ledger.line(tr("Worst line"), workspace_.error(d.worst_sigma_mm),
                tr("line %1: s × √%2")
                    .arg(worst.worst_line)
                    .arg(QString::fromStdString(format_number(std::pow(d.worst_sigma_mm / p.hand.sigma_mm, 2), 4))));
  }
  ledger.line(tr("Mean of lines"), workspace_.error(d.mean_sigma_mm),
              tr("mean of the standard errors of all creased lines"));
  ledger.line(
      tr("One crease (s)"), workspace_.error(p.hand.sigma_mm),
      p.hand.measured_runs > 0
          ? tr("measured over %1 runs, ± %2").arg(p.hand.measured_runs).arg(workspace_.error(p.hand.sigma_se_mm))
          : tr("assumed; fit it in the Log stage"));
  if (p.trueness) {
    if (const auto fit = fit_trueness(*p.trueness)) {
      const Sheet planned = worked_sheet(p);
      double most = 0;
      for (const bool along_x : {true, false}) {
        for (const LineEffect& e : effect_on_lines(*fit, planned.width(), planned.height(), p.grid.parts, along_x)) {
          most = std::max({most, std::abs(e.at_low_mm), std::abs(e.at_high_mm)});
        }
      }
      ledger.line(tr("The sheet adds up to"), workspace_.error(most),
                  tr("from its measured sides and diagonals; no folding mends it"));
    }
  }
  if (d.spec.start) {
    ledger.line(tr("Start: line %1 of %2").arg(d.spec.start->line).arg(p.grid.parts),
                workspace_.error(d.spec.start->sigma_mm),
                tr("its standard error at the worse end, what its geometry misses included"));
  }
  ledger.section(tr("WORK"));
  ledger.line(tr("Folds"), QString::number(d.start_creases + d.creases),
              d.start_creases > 0 ? tr("%1 for the start, %2 for the grid").arg(d.start_creases).arg(d.creases)
                                  : QString());
  ledger.line(tr("Turn-overs"), QString::number(d.turn_overs));
  ledger.line(tr("Rotations"), QString::number(d.rotations));
  ledger.line(tr("Time"), tr("%1 min").arg(d.minutes, 0, 'f', 1),
              tr("fold %1 s, pinch %2 s, over %3 s, turn %4 s")
                  .arg(p.hand.fold_seconds)
                  .arg(p.hand.pinch_seconds)
                  .arg(p.hand.turn_seconds)
                  .arg(p.hand.rotate_seconds));
  for (std::size_t f = 0; f < d.plans.size(); ++f) {
    for (const MissingLine& m : d.plans[f].missing) {
      ledger.caution(tr("Line %1 (direction %2) has no reference: it is made from line %3, which may not be touched. "
                        "Allow pinches or crease that line.")
                         .arg(m.line)
                         .arg(direction_sign(d.layout.families[f].name))
                         .arg(m.needs));
    }
  }
  if (!d.start_fits)
    ledger.caution(
        tr("The start that was chosen does not fit this sheet and is left out. Choose another in the table."));
  if (d.layout.cut_first) {
    ledger.caution(tr("On this sheet the three directions are not equally wide. Cut the largest hexagon first; its "
                      "grid is shown. %1")
                       .arg(QString::fromStdString(caution_text(Caution::blade, workspace_.text_style()))));
  }
  if (!d.layout.meets)
    ledger.caution(tr("With this count the three directions do not meet in common points. Choose an even count."));
  const PleatAdvice advice = pleat_advice(d.layout.families.front().extent_mm / p.grid.parts, p.stock, 0);
  if (advice.level != AdviceLevel::fine) {
    ledger.caution(tr("One part is narrower than %1 takes cleanly (%2).")
                       .arg(shown(p.stock.name), workspace_.length(advice.least_pleat_mm)));
  }
  if (d.worst_sigma_mm > 0.15 * d.layout.families.front().extent_mm / p.grid.parts) {
    ledger.caution(tr("The worst line is off by more than a seventh of a part. Choose another method."));
  }
  auto* go = new QPushButton(tr("Fold this grid"));
  go->setProperty("role", "go");
  go->setObjectName("fold-this");
  connect(go, &QPushButton::clicked, this, [this] { workspace_.show_stage("fold"); });
  ledger.widget(go);
  ledger.finish();
}

QList<QPair<QString, QString>> DivideStage::keys() const {
  return {{tr("Alt+E"), tr("type the count")},
          {tr("Alt+D"), tr("choose the direction")},
          {tr("Up, Down"), tr("choose a method in the table")}};
}

} // namespace uc::app
