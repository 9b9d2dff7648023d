#include "stages/fold/measure_panel.h"

#include "base/expression.h"
#include "divide/division.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSet>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

namespace uc::app {
namespace {

enum Column { crease, expected, measured, deviation, tolerance, verdict_column, columns };

} // namespace

MeasurePanel::MeasurePanel(Workspace& workspace, RunSession& session, QWidget* parent)
    : QWidget(parent), workspace_(workspace), session_(session), table_(new QTableWidget(0, columns)),
      verdict_(new QLabel), ruler_(new QLineEdit) {
  auto* box = new QVBoxLayout(this);
  box->setContentsMargins(24, 16, 24, 16);
  auto* title = new QLabel(tr("Measure now"));
  title->setProperty("role", "title");
  box->addWidget(title);
  auto* hint = new QLabel(tr("Lay a ruler across the sheet from the first edge of the direction and type where the "
                             "creases lie. A few are enough; the more, the better your hand is known."));
  hint->setProperty("role", "hint");
  hint->setWordWrap(true);
  box->addWidget(hint);
  table_->setHorizontalHeaderLabels(
      {tr("Crease"), tr("Planned at"), tr("Measured at"), tr("Off by"), tr("Normal up to"), tr("Verdict")});
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(30);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->horizontalHeader()->setSectionResizeMode(crease, QHeaderView::ResizeToContents);
  table_->setAccessibleName(tr("Creases to measure"));
  table_->setObjectName("measure-table");
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
  row->addStretch(1);
  row->addWidget(back);
  box->addLayout(row);
}

void MeasurePanel::load() {
  const QSignalBlocker quiet(table_);
  table_->setRowCount(0);
  rows_.clear();
  plans_.clear();
  verdict_->clear();
  if (!session_.active()) return;
  try {
    plans_ = plans_from(Json::parse(session_.detail().plans_json));
  } catch (const std::exception&) {
    verdict_->setText(tr("The plan of this run cannot be read; it cannot be judged."));
    return;
  }
  QSet<int> made;
  for (int i = 0; i < session_.next_move(); ++i) {
    const Move& m = session_.programme().moves[static_cast<std::size_t>(i)];
    if (m.makes) made.insert(*m.makes);
  }
  for (std::size_t f = 0; f < plans_.size(); ++f) {
    const StoredPlan& plan = plans_[f];
    const LineErrors errors = replay(plan.task, plan.steps);
    for (int line = 1; line < plan.task.parts; ++line) {
      if (!made.contains(line_element_id(f, line)) || !errors.known(line)) continue;
      rows_.push_back({f, line});
      const int r = table_->rowCount();
      table_->insertRow(r);
      const auto set = [&](int column, const QString& text) {
        auto* item = new QTableWidgetItem(text);
        item->setTextAlignment(column == crease ? Qt::AlignLeft | Qt::AlignVCenter : Qt::AlignRight | Qt::AlignVCenter);
        if (column != measured) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
        table_->setItem(r, column, item);
      };
      const double at = plan.extent_mm * line / plan.task.parts;
      set(crease, tr("line %1 of %2, direction %3").arg(line).arg(plan.task.parts).arg(direction_sign(plan.family)));
      set(expected, workspace_.length(at));
      QString text;
      for (const MeasuredLine& m : session_.detail().measured) {
        if (m.family == plan.family && m.line == line) {
          text = QString::fromStdString(format_number(m.position_mm / mm_per(workspace_.document.project().unit), 3));
        }
      }
      set(measured, text);
      for (const int c : {deviation, tolerance, verdict_column}) set(c, {});
    }
  }
  if (rows_.empty())
    verdict_->setText(tr("No crease has been made yet. Fold some, then measure."));
  else
    judge();
}

std::vector<MeasuredLine> MeasurePanel::read(QString& wrong) const {
  std::vector<MeasuredLine> lines;
  const LengthUnit unit = workspace_.document.project().unit;
  const auto ruler = parse_length(ruler_->text().toStdString(), unit);
  if (!ruler || !(ruler->value >= 0.001 && ruler->value <= 10)) {
    wrong = tr("The error of the ruler must be 0.001 to 10 mm; 0.15 mm is usual.");
    return lines;
  }
  for (std::size_t r = 0; r < rows_.size(); ++r) {
    const QString text = table_->item(static_cast<int>(r), measured)->text().trimmed();
    if (text.isEmpty()) continue;
    const auto length = parse_length(text.toStdString(), unit);
    const StoredPlan& plan = plans_[rows_[r].plan];
    if (!length) {
      wrong = tr("Line %1: %2").arg(rows_[r].line).arg(QString::fromStdString(length.error()));
      return lines;
    }
    const double expected_mm = plan.extent_mm * rows_[r].line / plan.task.parts;
    if (std::abs(length->value - expected_mm) > plan.extent_mm / plan.task.parts) {
      wrong = tr("Line %1: %2 is more than a whole part from where the line was planned; measure from the first edge "
                 "of the direction.")
                  .arg(rows_[r].line)
                  .arg(workspace_.length(length->value));
      return lines;
    }
    const LineErrors errors = replay(plan.task, plan.steps);
    lines.push_back({plan.family, rows_[r].line, length->value, expected_mm, std::sqrt(errors.variance(rows_[r].line)),
                     ruler->value});
  }
  return lines;
}

void MeasurePanel::judge() {
  QString wrong;
  const auto lines = read(wrong);
  if (!wrong.isEmpty()) {
    verdict_->setText(QStringLiteral("▲! ") + wrong);
    return;
  }
  if (const QString failed = session_.set_measured(lines); !failed.isEmpty()) {
    verdict_->setText(QStringLiteral("▲! ") + failed);
    return;
  }
  const QSignalBlocker quiet(table_);
  for (int r = 0; r < table_->rowCount(); ++r) {
    for (const int c : {deviation, tolerance, verdict_column}) table_->item(r, c)->setText({});
  }
  QStringList sentences;
  for (std::size_t f = 0; f < plans_.size(); ++f) {
    RunDetail only;
    only.plans_json = session_.detail().plans_json;
    std::copy_if(lines.begin(), lines.end(), std::back_inserter(only.measured),
                 [&](const MeasuredLine& m) { return m.family == plans_[f].family; });
    const auto families = measured_families(only);
    if (!families || families->empty()) continue;
    const Diagnosis d = diagnose(families->front());
    for (const LineVerdict& v : d.lines) {
      for (std::size_t r = 0; r < rows_.size(); ++r) {
        if (rows_[r].plan != f || rows_[r].line != v.line) continue;
        const int row = static_cast<int>(r);
        table_->item(row, deviation)->setText((v.deviation_mm > 0 ? "+" : "") + workspace_.error(v.deviation_mm));
        table_->item(row, tolerance)->setText(workspace_.error(v.tolerance_mm));
        table_->item(row, verdict_column)
            ->setText(v.within   ? tr("✓ in tolerance")
                      : v.refold ? tr("▲! fold it again")
                                 : tr("▲! off"));
      }
    }
    const LineVerdict& worst = d.lines[static_cast<std::size_t>(d.worst)];
    sentences << tr("Direction %1: line %2 is the worst, off by %3 where up to %4 is normal.")
                     .arg(direction_sign(plans_[f].family))
                     .arg(worst.line)
                     .arg(workspace_.error(std::abs(worst.deviation_mm)), workspace_.error(worst.tolerance_mm));
    if (worst.refold)
      sentences << tr("Fold it again from its neighbours: about %1 off is then to be expected.")
                       .arg(workspace_.error(worst.after_refold_mm));
    else if (!worst.within)
      sentences << tr("Folding it again would gain little; its references are off as well.");
    if (!worst.within && !d.blame.empty()) {
      sentences << tr("Most likely cause: the fold that made line %1, by %2.")
                       .arg(plans_[f].steps[d.blame[0].step].makes)
                       .arg(workspace_.error(std::abs(d.blame[0].error_mm)));
    }
  }
  if (sentences.isEmpty() && !rows_.empty()) sentences << tr("Type where a crease lies to see how far off it is.");
  verdict_->setText(sentences.join(' '));
}

QString MeasurePanel::verdict() const { return verdict_->text(); }

} // namespace uc::app
