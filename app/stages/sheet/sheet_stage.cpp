#include "stages/sheet/sheet_stage.h"

#include "base/expression.h"
#include "base/file_name.h"
#include "stages/sheet/shelf_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc::app {
namespace {

/// How far the true outline is drawn out of shape, so that a tenth of a millimetre can be seen.
double exaggeration(const Trueness& t, double longest) {
  const double most = std::max(t.out_of_square_deg * 3.14159265 / 180 * longest, 1e-3);
  return std::clamp(0.06 * longest / most, 1.0, 200.0);
}

} // namespace

SheetStage::SheetStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), choices_(new ChoicesColumn(tr("The sheet"))), paper_(new PaperView) {
  build();
  connect(&workspace_.document, &Document::changed, this, &SheetStage::load);
  connect(&workspace_, &Workspace::shelf_changed, this, &SheetStage::fill_stocks);
  load();
}

void SheetStage::build() {
  size_ = new QLineEdit;
  size_->setPlaceholderText(tr("square:240mm"));
  size_->setObjectName("sheet-size");
  size_field_ = new Field(tr("&Size and shape"), size_);
  connect(size_, &QLineEdit::editingFinished, this, &SheetStage::sheet_typed);
  choices_->add(size_field_);
  choices_->add_hint(tr("Type square:24cm, 210x297mm, a4/2, strip:300x40mm, ngon:6:100mm or 7 1/2 in x 7 1/2 in."));

  known_ = new QComboBox;
  known_->addItem(tr("Choose a known size..."));
  for (const char* square : {"square:75mm", "square:150mm", "square:200mm", "square:240mm", "square:350mm"})
    known_->addItem(square);
  for (const NamedSize& s : named_sizes()) known_->addItem(QString::fromStdString(s.name));
  for (const char* other : {"strip:300x40mm", "ngon:3:200mm", "ngon:5:120mm", "ngon:6:120mm"}) known_->addItem(other);
  connect(known_, &QComboBox::activated, this, [this](int i) {
    if (i == 0) return;
    size_->setText(known_->itemText(i));
    sheet_typed();
    known_->setCurrentIndex(0);
  });
  choices_->add(new Field(tr("&Known sizes"), known_));

  unit_ = new QComboBox;
  unit_->addItems({tr("Millimetres"), tr("Centimetres"), tr("Inches")});
  connect(unit_, &QComboBox::activated, this, [this](int i) {
    workspace_.document.change(tr("Change units"), [i](Project& p) { p.unit = static_cast<LengthUnit>(i); });
  });
  choices_->add(new Field(tr("U&nits"), unit_));
  build_stock();
  build_trueness();
  choices_->add_section(tr("PROJECT"));
  title_ = new QLineEdit;
  title_->setPlaceholderText(tr("Name of the job"));
  connect(title_, &QLineEdit::editingFinished, this, [this] {
    const std::string title = title_->text().toStdString();
    if (title == workspace_.document.project().title) return;
    workspace_.document.change(tr("Rename the project"), [&](Project& p) { p.title = title; });
  });
  choices_->add(new Field(tr("&Title"), title_));
  choices_->finish();
}

void SheetStage::build_stock() {
  choices_->add_section(tr("PAPER"));
  stock_ = new QComboBox;
  stock_->setObjectName("stock");
  connect(stock_, &QComboBox::activated, this, [this](int i) {
    if (i < 0 || i >= static_cast<int>(workspace_.shelf.size())) return;
    const Stock stock = workspace_.shelf[static_cast<std::size_t>(i)];
    workspace_.document.change(tr("Choose the stock"), [&](Project& p) { p.stock = stock; });
  });
  choices_->add(new Field(tr("St&ock from the shelf"), stock_));
  auto* edit = new QPushButton(tr("Edit the s&helf..."));
  connect(edit, &QPushButton::clicked, this, [this] {
    ShelfDialog dialog(workspace_, choices_);
    dialog.exec();
  });
  choices_->add(edit);
}

void SheetStage::build_trueness() {
  choices_->add_section(tr("TRUENESS"));
  measured_ = new QCheckBox(tr("I have &measured it"));
  choices_->add(measured_);
  measures_ = new QWidget;
  auto* grid = new QGridLayout(measures_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(4);
  const std::array labels = {tr("Bottom"), tr("Right"), tr("Top"), tr("Left"), tr("Diagonal ↗"), tr("Diagonal ↖")};
  for (int i = 0; i < 6; ++i) {
    auto* edit = new QLineEdit;
    edit->setAccessibleName(labels[static_cast<std::size_t>(i)]);
    edit->setObjectName(QStringLiteral("measure-%1").arg(i));
    auto* label = new QLabel(labels[static_cast<std::size_t>(i)]);
    label->setProperty("role", "hint");
    grid->addWidget(label, i / 2 * 2, i % 2);
    grid->addWidget(edit, i / 2 * 2 + 1, i % 2);
    connect(edit, &QLineEdit::editingFinished, this, &SheetStage::trueness_typed);
    measure_[static_cast<std::size_t>(i)] = edit;
  }
  measure_field_ = new Field(tr("Six lengths, corner to corner"), measures_);
  choices_->add(measure_field_);
  connect(measured_, &QCheckBox::clicked, this, [this](bool on) {
    workspace_.document.change(on ? tr("Measure the sheet") : tr("Trust the sheet"), [on](Project& p) {
      const double w = p.sheet.width();
      const double h = p.sheet.height();
      const double d = std::hypot(w, h);
      if (on)
        p.trueness = TruenessMeasure{w, h, w, h, d, d};
      else
        p.trueness.reset();
    });
  });
}

void SheetStage::sheet_typed() {
  const std::string text = size_->text().toStdString();
  const Project& now = workspace_.document.project();
  if (text == now.sheet_name) {
    size_field_->set_error({});
    return;
  }
  const auto sheet = parse_sheet(text, now.unit);
  if (!sheet) {
    size_field_->set_error(QString::fromStdString(sheet.error()));
    return;
  }
  const QString wrong = workspace_.document.change(tr("Change the sheet"), [&](Project& p) {
    p.sheet = *sheet;
    p.sheet_name = text;
    p.trueness.reset();
  });
  size_field_->set_error(wrong);
}

void SheetStage::trueness_typed() {
  const Project& now = workspace_.document.project();
  if (!now.trueness) return;
  std::array<double, 6> v{};
  for (std::size_t i = 0; i < 6; ++i) {
    const auto length = parse_length(measure_[i]->text().toStdString(), now.unit);
    if (!length) {
      measure_field_->set_error(
          tr("%1: %2").arg(measure_[i]->accessibleName(), QString::fromStdString(length.error())));
      return;
    }
    // What is shown is rounded: an untouched field keeps its exact figure.
    const std::array<double, 6> old = {now.trueness->bottom, now.trueness->right,  now.trueness->top,
                                       now.trueness->left,   now.trueness->rising, now.trueness->falling};
    v[i] = std::abs(length->value - old[i]) < 0.006 ? old[i] : length->value;
  }
  const TruenessMeasure measure{v[0], v[1], v[2], v[3], v[4], v[5]};
  const auto fit = fit_trueness(measure);
  measure_field_->set_error(fit ? QString() : QString::fromStdString(fit.error()));
  if (!fit || measure == *now.trueness) return;
  workspace_.document.change(tr("Measure the sheet"), [&](Project& p) { p.trueness = measure; });
}

void SheetStage::fill_stocks() {
  const QSignalBlocker quiet(stock_);
  stock_->clear();
  int chosen = -1;
  for (std::size_t i = 0; i < workspace_.shelf.size(); ++i) {
    const Stock& s = workspace_.shelf[i];
    stock_->addItem(shown(s.name));
    if (s.name == workspace_.document.project().stock.name) chosen = static_cast<int>(i);
  }
  if (chosen < 0) {
    stock_->addItem(tr("%1 (not on the shelf)").arg(shown(workspace_.document.project().stock.name)));
    chosen = stock_->count() - 1;
  }
  stock_->setCurrentIndex(chosen);
  emit stale();
}

void SheetStage::load() {
  const Project& p = workspace_.document.project();
  show_text(*size_, QString::fromStdString(p.sheet_name));
  show_text(*title_, QString::fromStdString(p.title));
  unit_->setCurrentIndex(static_cast<int>(p.unit));
  fill_stocks();
  const bool can_measure = p.sheet.has_right_corners();
  measured_->setEnabled(can_measure);
  measured_->setChecked(p.trueness.has_value());
  measure_field_->setVisible(p.trueness.has_value());
  Programme bare;
  bare.sheet = p.sheet.outline();
  paper_->set_unit(p.unit);
  paper_->set_paper(QColor(QString::fromStdString(p.stock.face)), QColor(QString::fromStdString(p.stock.underside)));
  Polygon ghost;
  if (!p.trueness)
    for (QLineEdit* edit : measure_) show_text(*edit, {});
  if (p.trueness) {
    const std::array<double, 6> v = {p.trueness->bottom, p.trueness->right,  p.trueness->top,
                                     p.trueness->left,   p.trueness->rising, p.trueness->falling};
    for (std::size_t i = 0; i < 6; ++i) {
      show_text(*measure_[i],
                QString::fromStdString(format_number(v[i] / mm_per(p.unit), p.unit == LengthUnit::mm ? 2 : 3)));
    }
    const auto fit = fit_trueness(*p.trueness);
    measure_field_->set_error(fit ? QString() : QString::fromStdString(fit.error()));
    if (fit) {
      const double times = exaggeration(*fit, std::max(p.sheet.width(), p.sheet.height()));
      const Sheet planned = planned_sheet(p);
      const auto x = effect_on_lines(*fit, planned.width(), planned.height(), 1, true);
      const auto y = effect_on_lines(*fit, planned.width(), planned.height(), 1, false);
      const double w = p.sheet.width();
      const double h = p.sheet.height();
      ghost = {{times * x[0].at_low_mm, times * y[0].at_low_mm},
               {w + times * x[1].at_low_mm, times * y[0].at_high_mm},
               {w + times * x[1].at_high_mm, h + times * y[1].at_high_mm},
               {times * x[0].at_high_mm, h + times * y[1].at_low_mm}};
    }
  }
  paper_->set_ghost(ghost);
  paper_->show_figure(crease_figure(bare));
}

QString SheetStage::fact() const {
  const Sheet& s = workspace_.document.project().sheet;
  if (s.shape() == SheetShape::square) return workspace_.length(s.width());
  if (s.shape() == SheetShape::regular_polygon) {
    return tr("%1 sides of %2").arg(s.sides()).arg(workspace_.length((s.outline()[1] - s.outline()[0]).norm()));
  }
  return tr("%1 × %2").arg(workspace_.length(s.width()), workspace_.length(s.height()));
}

void SheetStage::write_ledger(Ledger& ledger) {
  const Project& p = workspace_.document.project();
  const double area = signed_area(p.sheet.outline());
  ledger.begin(tr("Sums of the sheet"));
  ledger.line(tr("Width"), workspace_.length(p.sheet.width()));
  ledger.line(tr("Height"), workspace_.length(p.sheet.height()));
  if (p.sheet.has_right_corners()) {
    ledger.line(tr("Diagonal"), workspace_.length(std::hypot(p.sheet.width(), p.sheet.height())),
                tr("√(width² + height²)"));
    ledger.line(tr("Ratio"),
                QStringLiteral("1 : %1").arg(QString::fromStdString(format_number(
                    std::max(p.sheet.width(), p.sheet.height()) / std::min(p.sheet.width(), p.sheet.height()), 4))));
  }
  ledger.line(tr("Weight"), tr("%1 g").arg(QString::fromStdString(format_number(area * p.stock.grammage / 1e6, 1))),
              tr("%1 cm² × %2 g/m²")
                  .arg(QString::fromStdString(format_number(area / 100, 1)),
                       QString::fromStdString(format_number(p.stock.grammage, 0))));
  ledger.section(tr("PAPER AND PLEAT"));
  ledger.line(tr("Thickness"), workspace_.error(p.stock.caliper_mm));
  ledger.line(tr("In stock"), tr("%1 sheets").arg(p.stock.sheets));
  const GridLayout layout = lay_out(planned_sheet(p), p.grid);
  const double pleat = layout.families.front().extent_mm / p.grid.parts;
  ledger.line(tr("One part of %1").arg(p.grid.parts), workspace_.length(pleat),
              tr("%1 ÷ %2").arg(workspace_.length(layout.families.front().extent_mm)).arg(p.grid.parts));
  const double longest = std::max(p.sheet.width(), p.sheet.height());
  const PleatAdvice advice = pleat_advice(pleat, p.stock, longest);
  ledger.line(tr("Narrowest clean pleat"), workspace_.length(advice.least_pleat_mm),
              tr("about 25 × thickness, more when stiff; at least 2 mm"));
  if (advice.key == "fine") {
    ledger.good(tr("The pleat is wide enough for this paper."));
  } else if (advice.key == "too-large") {
    ledger.caution(tr("This stock comes only up to %1. Choose a smaller sheet or another stock.")
                       .arg(workspace_.length(p.stock.largest_mm)));
  } else if (advice.key == "careful") {
    ledger.caution(tr("A pleat of %1 is narrow for this paper. Take thinner paper, a larger sheet, or fewer parts.")
                       .arg(workspace_.length(pleat)));
  } else {
    ledger.caution(tr("A pleat of %1 cannot be folded in this paper. Take at most %2 parts, or thinner paper.")
                       .arg(workspace_.length(pleat))
                       .arg(std::max(2, static_cast<int>(layout.families.front().extent_mm / advice.least_pleat_mm))));
  }
  if (p.stock.damp_shaping) ledger.note(tr("Takes damp shaping: test a scrap first; damp paper tears and may stain."));
  if (!p.stock.note.empty()) ledger.note(shown(p.stock.note));
  write_trueness(ledger, p);
  ledger.finish();
}

void SheetStage::write_trueness(Ledger& ledger, const Project& p) {
  ledger.section(tr("TRUENESS"));
  if (!p.sheet.has_right_corners()) {
    ledger.note(tr("Only sheets with four right corners can be checked by sides and diagonals."));
    return;
  }
  if (!p.trueness) {
    ledger.note(tr("Measure the four sides and both diagonals to learn how far the sheet is out of square."));
    return;
  }
  const auto fit = fit_trueness(*p.trueness);
  if (!fit) {
    ledger.caution(QString::fromStdString(fit.error()));
    return;
  }
  const auto degrees = [](double v) { return QStringLiteral("%1°").arg(QString::fromStdString(format_number(v, 3))); };
  ledger.line(tr("Out of square"), degrees(fit->out_of_square_deg),
              tr("corners %1 %2 %3 %4")
                  .arg(degrees(fit->corner_deg[0]), degrees(fit->corner_deg[1]), degrees(fit->corner_deg[2]),
                       degrees(fit->corner_deg[3])));
  ledger.line(tr("Figures agree within"), workspace_.error(fit->residual_mm),
              tr("rms of measured minus fitted lengths"));
  // A sheet that is only larger or smaller than it is called is true all the same.
  const TruenessMeasure& m = *p.trueness;
  const Sheet planned = planned_sheet(p);
  ledger.line(tr("True size"),
              QStringLiteral("%1 × %2").arg(workspace_.length((m.bottom + m.top) / 2),
                                            workspace_.length((m.left + m.right) / 2)),
              tr("means of opposite sides"));
  ledger.line(tr("Planned for"),
              QStringLiteral("%1 × %2").arg(workspace_.length(planned.width()), workspace_.length(planned.height())),
              tr("the shape typed above, as large all round as the sheet measures"));
  double worst = 0;
  int worst_line = 0;
  for (const bool along_x : {true, false}) {
    const auto effects = effect_on_lines(*fit, planned.width(), planned.height(), p.grid.parts, along_x);
    for (std::size_t k = 0; k < effects.size(); ++k) {
      const double e = std::max(std::abs(effects[k].at_low_mm), std::abs(effects[k].at_high_mm));
      if (e > worst) worst = e, worst_line = static_cast<int>(k);
    }
  }
  ledger.line(tr("Worst line moved by"), workspace_.error(worst),
              tr("line %1 of %2, after the best fit of the ideal sheet").arg(worst_line).arg(p.grid.parts));
  const double times = exaggeration(*fit, std::max(p.sheet.width(), p.sheet.height()));
  ledger.note(tr("The dashed outline shows the true shape, exaggerated %1 times.").arg(times, 0, 'f', 0));
  if (worst > 2 * p.hand.sigma_mm) {
    ledger.caution(fit->out_of_square_deg * std::numbers::pi / 180 * std::max(planned.width(), planned.height()) >
                           2 * p.hand.sigma_mm
                       ? tr("The sheet itself moves lines by more than your hand does. Trim it square first.")
                       : tr("The sheet has another shape or size than you typed. Type its true size above, or trim "
                            "it."));
  } else {
    ledger.good(tr("The sheet is true enough: your hand adds more than it does."));
  }
}

QList<QPair<QString, QString>> SheetStage::keys() const {
  return {{tr("Alt+S"), tr("type the size")},
          {tr("Alt+O"), tr("choose the stock")},
          {tr("Alt+M"), tr("measure the sheet")}};
}

} // namespace uc::app
