#include "stages/fold/measure_panel.h"

#include "base/atomic_file.h"
#include "base/expression.h"
#include "base/file_name.h"
#include "base/theme.h"
#include "divide/division.h"
#include "io/grey_png.h"
#include "programme/text.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace uc::app {
namespace {

enum Column { crease, expected, measured, deviation, tolerance, verdict_column, columns };

} // namespace

MeasurePanel::MeasurePanel(Workspace& workspace, RunSession& session, QWidget* parent)
    : QWidget(parent), workspace_(workspace), session_(session), table_(new MeasureTable(columns, measured)),
      guide_(new RulerGuide), verdict_(new QLabel), ruler_(new QLineEdit),
      scan_button_(new QPushButton(tr("Read a s&can..."))),
      scan_([this](const Result<ScanReading>& reading) { take_scan(reading); }) {
  auto* box = new QVBoxLayout(this);
  box->setContentsMargins(24, 16, 24, 16);
  auto* title = new QLabel(tr("Measure now"));
  title->setProperty("role", "title");
  auto* hint = new QLabel(tr("Lay a ruler across the sheet as drawn, its zero at the ochre edge, and type where the "
                             "creases lie. Enter goes on to the next crease. A few are enough; the more, the better "
                             "your hand is known."));
  hint->setProperty("role", "hint");
  hint->setWordWrap(true);
  auto* head = new QHBoxLayout;
  auto* said = new QVBoxLayout;
  said->addWidget(title);
  said->addWidget(hint);
  said->addStretch(1);
  head->addLayout(said, 1);
  head->addWidget(guide_);
  box->addLayout(head);
  table_->setHorizontalHeaderLabels(
      {tr("Crease"), tr("Planned at"), tr("Measured at"), tr("Off by"), tr("Normal up to"), tr("Verdict")});
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(30);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->horizontalHeader()->setSectionResizeMode(crease, QHeaderView::ResizeToContents);
  table_->setAccessibleName(tr("Creases to measure"));
  table_->setObjectName("measure-table");
  connect(table_, &QTableWidget::currentCellChanged, this, &MeasurePanel::show_start);
  connect(table_, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
    if (item->column() == measured) judge();
  });
  box->addWidget(table_, 1);
  verdict_->setWordWrap(true);
  verdict_->setObjectName("measure-verdict");
  verdict_->setTextInteractionFlags(Qt::TextSelectableByKeyboard | Qt::TextSelectableByMouse);
  box->addWidget(verdict_);
  auto* row = new QHBoxLayout;
  auto* ruler_label = new QLabel(tr("Error of the &ruler"));
  ruler_label->setBuddy(ruler_);
  ruler_->setText("0.15 mm");
  ruler_->setMaximumWidth(110);
  connect(ruler_, &QLineEdit::editingFinished, this, &MeasurePanel::judge);
  auto* back = new QPushButton(tr("&Back to folding"));
  back->setProperty("role", "go");
  back->setObjectName("measure-back");
  connect(back, &QPushButton::clicked, this, &MeasurePanel::closed);
  row->addWidget(ruler_label);
  row->addWidget(ruler_);
  scan_button_->setObjectName("measure-scan");
  scan_button_->setToolTip(
      tr("Measures the creases in a scan or photo (PNG) of the sheet, face up on its print-out with ring marks. "
         "under-crease-cli scan --marks makes the print-out."));
  connect(scan_button_, &QPushButton::clicked, this, &MeasurePanel::choose_scan);
  row->addWidget(scan_button_);
  row->addStretch(1);
  row->addWidget(back);
  box->addLayout(row);
}

void MeasurePanel::choose_scan() {
  const QString path = QFileDialog::getOpenFileName(this, tr("Read a scan of the sheet"), {}, tr("Pictures (*.png)"));
  if (!path.isEmpty()) read_scan_file(path);
}

void MeasurePanel::read_scan_file(const QString& path) {
  if (!session_.active() || plans_.empty()) return;
  const auto sheet = parse_sheet(session_.detail().summary.sheet);
  if (!sheet || !sheet->has_right_corners()) {
    verdict_->setText(tr("Scans are read of sheets with four right corners only; measure this one with a ruler."));
    return;
  }
  std::vector<ScanLine> lines;
  for (const StoredPlan& plan : plans_) {
    if (plan.family != "x" && plan.family != "y") continue;
    const auto axis = plan.family == "x" ? GridAxis::x : GridAxis::y;
    for (const ScanLine& l : scan_lines({sheet->width(), sheet->height()}, plan.task.parts, axis)) {
      const bool there = std::any_of(rows_.begin(), rows_.end(), [&](const Row& r) {
        return r.line == l.line && plans_[r.plan].family == plan.family;
      });
      if (there) lines.push_back(l);
    }
  }
  if (lines.empty()) {
    verdict_->setText(tr("There are no upright or level creases yet that a scan could show."));
    return;
  }
  verdict_->setText(tr("Reading the scan..."));
  scan_button_->setEnabled(false);
  scan_.begin([file = bytes_of(path), outline = sheet->outline(), lines](Progress& progress) -> Result<ScanReading> {
    const auto bytes = read_file(file, largest_picture_file);
    if (!bytes) return Error{bytes.error()};
    const auto image = parse_grey_png(*bytes);
    if (!image) return Error{image.error()};
    return read_scan(*image, outline, lines, &progress);
  });
}

/// What is sure goes into the table; the rest is left for the ruler. The scan's own error takes the ruler's place.
void MeasurePanel::take_scan(const Result<ScanReading>& reading) {
  scan_button_->setEnabled(true);
  if (!reading) {
    verdict_->setText(tr("The scan could not be measured: %1.").arg(QString::fromStdString(reading.error())));
    return;
  }
  int taken = 0;
  double squares = 0;
  {
    const QSignalBlocker quiet(table_);
    for (const ReadLine& l : reading->lines) {
      if (l.doubtful) continue;
      for (std::size_t r = 0; r < rows_.size(); ++r) {
        if (rows_[r].line != l.line.line || plans_[rows_[r].plan].family != l.line.axis) continue;
        table_->item(static_cast<int>(r), measured)->setText(figure(l.position_mm));
        squares += l.sigma_mm * l.sigma_mm;
        ++taken;
      }
    }
    if (taken > 0) ruler_->setText(QStringLiteral("%1 mm").arg(std::max(0.01, std::sqrt(squares / taken)), 0, 'f', 2));
  }
  judge();
  const int left = static_cast<int>(rows_.size()) - taken;
  verdict_->setText((left > 0 ? tr("%1 creases measured in the scan; %2 are left for the ruler.").arg(taken).arg(left)
                              : tr("All %1 creases measured in the scan.").arg(taken)) +
                    "\n" + verdict_->text());
}

double MeasurePanel::planned_mm(const Row& row) const {
  return plans_[row.plan].extent_mm * row.line / plans_[row.plan].task.parts;
}

/// A place as it is typed and read: with the digits that matter, not rounded to those of a ruler.
QString MeasurePanel::figure(double mm) const {
  const LengthUnit unit = workspace_.document.project().unit;
  return QString::fromStdString(format_number(mm / mm_per(unit), unit == LengthUnit::mm ? 3 : 4));
}

void MeasurePanel::add_row(std::size_t plan, int line) {
  rows_.push_back({plan, line});
  const int r = table_->rowCount();
  table_->insertRow(r);
  const auto set = [&](int column, const QString& text) {
    auto* item = new QTableWidgetItem(text);
    item->setTextAlignment(column == crease ? Qt::AlignLeft | Qt::AlignVCenter : Qt::AlignRight | Qt::AlignVCenter);
    if (column != measured) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
    table_->setItem(r, column, item);
  };
  const StoredPlan& p = plans_[plan];
  set(crease, tr("line %1 of %2, direction %3").arg(line).arg(p.task.parts).arg(direction_sign(p.family)));
  set(expected, QStringLiteral("%1 %2").arg(figure(planned_mm(rows_.back())),
                                            QString::fromStdString(symbol(workspace_.document.project().unit))));
  QString text;
  for (const MeasuredLine& m : session_.detail().measured) {
    if (m.family == p.family && m.line == line) text = figure(m.position_mm);
  }
  set(measured, text);
  for (const int c : {deviation, tolerance, verdict_column}) set(c, {});
}

void MeasurePanel::load() {
  {
    const QSignalBlocker quiet(table_);
    table_->setRowCount(0);
    rows_.clear();
    plans_.clear();
    done_.clear();
    move_of_.clear();
    verdict_->clear();
    if (!session_.active()) return;
    auto plans = stored_plans(session_.detail());
    if (!plans) {
      verdict_->setText(tr("%1 It cannot be judged.").arg(QString::fromStdString(plans.error())));
      return;
    }
    plans_ = std::move(plans).value();
    for (std::size_t f = 0; f < plans_.size(); ++f) {
      const StoredPlan& plan = plans_[f];
      // Lines are there, and are judged, as far as the sheet has been folded.
      done_.push_back(steps_done(plan, f, session_.programme(), session_.progress()));
      const auto moves = moves_of_steps(plan, f, session_.programme());
      move_of_.emplace_back();
      std::size_t at = 0;
      for (const GridStep& step : done_.back()) {
        while (plan.steps[at] != step) ++at;
        move_of_.back().push_back(moves[at].value_or(-1));
        ++at;
      }
      const LineErrors errors = replay(plan.task, done_.back());
      for (int line = 1; line < plan.task.parts; ++line) {
        const bool creased =
            std::any_of(done_.back().begin(), done_.back().end(), [&](const GridStep& s) { return s.makes == line; });
        if (creased && errors.known(line)) add_row(f, line);
      }
    }
  }
  show_start();
  if (plans_.empty())
    verdict_->setText(tr("Only the lines of a grid can be measured; this run folds something else."));
  else if (rows_.empty())
    verdict_->setText(tr("No crease has been made yet. Fold some, then measure."));
  else
    judge();
}

void MeasurePanel::show_start() {
  const int current = std::max(0, table_->currentRow());
  guide_->setVisible(!rows_.empty());
  if (rows_.empty() || static_cast<std::size_t>(current) >= rows_.size()) return;
  const std::size_t f = rows_[static_cast<std::size_t>(current)].plan;
  const Programme& programme = session_.programme();
  const Element* first = programme.find(line_element_id(f, 0));
  const Element* last = programme.find(line_element_id(f, plans_[f].task.parts));
  if (!first || !last || first->spans.empty() || last->spans.empty()) return guide_->hide();
  // As it lies now, or as the whole window looks at it when its view is turned over.
  const Point centre = bounding_box(programme.sheet).centre();
  SheetState state = state_after(programme, session_.next_move(), session_.progress().skipped);
  if (workspace_.underside()) {
    state.underside_up = !state.underside_up;
    state.turned_deg = -state.turned_deg;
  }
  guide_->show_start(programme.sheet, first->spans, last->spans, view_of(state, centre),
                     QString::fromStdString(element_name(*first, workspace_.text_style(), state)));
}

std::optional<MeasuredLine> MeasurePanel::read(std::size_t row, double ruler_mm, QString& wrong) const {
  QString text = table_->item(static_cast<int>(row), measured)->text().trimmed();
  if (text.isEmpty()) return std::nullopt;
  if (text.count(',') == 1 && !text.contains('.')) text.replace(',', '.'); // a decimal comma
  const auto length = parse_length(text.toStdString(), workspace_.document.project().unit);
  if (!length) {
    wrong = QString::fromStdString(length.error());
    return std::nullopt;
  }
  const StoredPlan& plan = plans_[rows_[row].plan];
  const double planned = planned_mm(rows_[row]);
  if (std::abs(length->value - planned) > plan.extent_mm / plan.task.parts) {
    wrong = tr("more than a whole part from its place; measure from the edge that is drawn");
    return std::nullopt;
  }
  const LineErrors errors = replay(plan.task, done_[rows_[row].plan]);
  return MeasuredLine{plan.family, rows_[row].line, length->value, planned, std::sqrt(errors.variance(rows_[row].line)),
                      ruler_mm};
}

void MeasurePanel::judge() {
  const auto ruler = parse_length(ruler_->text().replace(',', '.').toStdString(), workspace_.document.project().unit);
  if (!ruler || !(ruler->value >= 0.001 && ruler->value <= 10)) {
    verdict_->setText(QStringLiteral("▲! ") + tr("The error of the ruler must be 0.001 to 10 mm; 0.15 mm is usual."));
    return;
  }
  const QSignalBlocker quiet(table_);
  QStringList sentences;
  std::vector<MeasuredLine> lines;
  for (std::size_t r = 0; r < rows_.size(); ++r) {
    const int row = static_cast<int>(r);
    for (const int c : {deviation, tolerance, verdict_column}) table_->item(row, c)->setText({});
    QString wrong;
    if (const auto line = read(r, ruler->value, wrong)) lines.push_back(*line);
    if (wrong.isEmpty()) continue;
    table_->item(row, verdict_column)->setText(tr("▲! cannot be read"));
    table_->item(row, verdict_column)->setToolTip(wrong);
    sentences << QStringLiteral("▲! ") + tr("Line %1: %2").arg(rows_[r].line).arg(wrong);
  }
  if (const QString failed = session_.set_measured(lines); !failed.isEmpty()) {
    verdict_->setText(QStringLiteral("▲! ") + failed);
    return;
  }
  for (std::size_t f = 0; f < plans_.size(); ++f) sentences << judge_direction(f, lines);
  if (sentences.isEmpty() && !rows_.empty()) sentences << tr("Type where a crease lies to see how far off it is.");
  verdict_->setText(sentences.join(' '));
}

void MeasurePanel::write_verdict(std::size_t plan, const LineVerdict& v, bool misread) {
  for (std::size_t r = 0; r < rows_.size(); ++r) {
    if (rows_[r].plan != plan || rows_[r].line != v.line) continue;
    const int row = static_cast<int>(r);
    table_->item(row, deviation)->setText((v.off_mm > 0 ? "+" : "") + workspace_.error(v.off_mm));
    table_->item(row, tolerance)->setText(workspace_.error(v.limit_mm));
    QString word;
    switch (v.verdict) {
    case Verdict::normal:
      word = tr("✓ normal");
      break;
    case Verdict::odd:
      word = tr("a little off, 1 in 20");
      break;
    case Verdict::again:
      word = misread ? tr("▲! measure it again") : tr("▲! fold it again");
      break;
    }
    table_->item(row, verdict_column)->setText(word);
  }
}

QString MeasurePanel::cause_sentence(std::size_t plan, const Cause& cause, int line) const {
  const QString share = workspace_.error(std::abs(cause.contribution_mm));
  const auto made_by = [&] { return QString::number(done_[plan][cause.step].makes); };
  const auto move = [&] { return QString::number(move_of_[plan][cause.step] + 1); };
  switch (cause.kind) {
  case Cause::Kind::start:
    return tr("Most likely cause: the mark the division starts from, which moves line %1 by %2.")
        .arg(QString::number(line), share);
  case Cause::Kind::guess:
    return tr("Most likely cause: the guess of line %1 in move %2, which moves line %3 by %4.")
        .arg(made_by(), move(), QString::number(line), share);
  case Cause::Kind::fold:
    return tr("Most likely cause: move %1, the fold that made line %2; it moves line %3 by %4.")
        .arg(move(), made_by(), QString::number(line), share);
  case Cause::Kind::ruler:
    return tr("Most likely cause: the ruler, misread or not laid at the edge; measure line %1 again.").arg(line);
  case Cause::Kind::sheet:
    return tr("Most likely cause: the sheet is not as large as planned; measure its sides.");
  }
  return {};
}

/// What was taken out before the lines were judged, where it is more than a ruler is read to.
QString MeasurePanel::place_sentence(const Judgement& judged) const {
  constexpr double seen = 0.05;
  if (std::abs(judged.zero_mm) < seen && std::abs(judged.size_mm) < seen) return {};
  const auto mm = [&](double v) { return (v > 0 ? "+" : "") + workspace_.error(v); };
  return tr("Taken out first: %1 for where the ruler's zero lay, %2 for the size of the sheet.")
      .arg(mm(judged.zero_mm), mm(judged.size_mm));
}

QStringList MeasurePanel::repair_sentences(const Judgement& judged) const {
  QStringList all;
  for (const Repair& r : judged.repair)
    all << tr("Fold line %1 again: bring line %2 onto line %3; about %4 off is then to be expected.")
               .arg(r.line)
               .arg(r.from[0])
               .arg(r.from[1])
               .arg(workspace_.error(r.then_mm));
  if (judged.again && all.isEmpty())
    all << tr("Folding a line again would gain little; what it is made from is off as well.");
  return all;
}

QStringList MeasurePanel::judge_direction(std::size_t f, const std::vector<MeasuredLine>& lines) {
  MeasuredFamily family;
  family.task = plans_[f].task;
  family.steps = done_[f];
  for (const MeasuredLine& m : lines) {
    if (m.family != plans_[f].family) continue;
    family.lines.push_back(m.line);
    family.deviation_mm.push_back(m.position_mm - m.expected_mm);
    family.ruler_sigma_mm = m.ruler_sigma_mm;
  }
  if (family.lines.empty()) return {};
  const Judgement judged = uc::judge(family, workspace_.document.project().hand.sigma_se_mm);
  const bool misread = judged.cause && judged.cause->kind == Cause::Kind::ruler;
  for (std::size_t i = 0; i < judged.lines.size(); ++i)
    write_verdict(f, judged.lines[i], misread && static_cast<int>(i) == judged.worst);
  const LineVerdict& worst = judged.lines[static_cast<std::size_t>(judged.worst)];
  QStringList sentences{tr("Direction %1: line %2 is the worst, off by %3 where up to %4 is normal.")
                            .arg(direction_sign(plans_[f].family))
                            .arg(worst.line)
                            .arg(workspace_.error(std::abs(worst.off_mm)), workspace_.error(worst.limit_mm))};
  if (worst.verdict == Verdict::odd)
    sentences << tr("As a whole the sheet is normal: 1 line in 20 is as far off, with no slip.");
  // What was misread is read again first.
  if (!misread) sentences << repair_sentences(judged);
  if (judged.cause) sentences << cause_sentence(f, *judged.cause, worst.line);
  if (const QString place = place_sentence(judged); !place.isEmpty()) sentences << place;
  return sentences;
}

QString MeasurePanel::verdict() const { return verdict_->text(); }

} // namespace uc::app
