#include "stages/sheet/shelf_dialog.h"

#include "base/expression.h"
#include "widgets/dialog_size.h"

#include <QDialogButtonBox>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace uc::app {
namespace {

enum Column {
  name,
  caliper,
  grammage,
  stiffness,
  memory,
  damp,
  largest,
  one_sheet,
  sheets,
  face,
  underside,
  note,
  columns
};

} // namespace

ShelfDialog::ShelfDialog(Workspace& workspace, QWidget* parent)
    : QDialog(parent), workspace_(workspace), table_(new QTableWidget(0, columns)), error_(new QLabel) {
  setWindowTitle(tr("The shelf"));
  table_->setHorizontalHeaderLabels({tr("Stock"), tr("Thickness mm"), tr("g/m²"), tr("Stiffness"), tr("Memory"),
                                     tr("Damp"), tr("Largest mm"), tr("One sheet mm"), tr("Sheets"), tr("Face"),
                                     tr("Underside"), tr("Note")});
  table_->verticalHeader()->hide();
  table_->setAccessibleName(tr("Stocks on the shelf"));
  for (const Stock& s : workspace_.shelf) add_row(s);
  table_->resizeColumnsToContents();
  table_->horizontalHeader()->setStretchLastSection(true);
  error_->setProperty("role", "error");
  error_->setWordWrap(true);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Save | QDialogButtonBox::Cancel);
  auto* add = buttons->addButton(tr("&Add a stock"), QDialogButtonBox::ActionRole);
  auto* remove = buttons->addButton(tr("&Remove it"), QDialogButtonBox::ActionRole);
  auto* box = new QVBoxLayout(this);
  auto* hint = new QLabel(tr(
      "Stiffness: limp, soft, medium, crisp, stiff. Memory: weak, fair, strong. Damp: yes or no. Colours as #RRGGBB."));
  hint->setProperty("role", "hint");
  box->addWidget(hint);
  box->addWidget(table_, 1);
  box->addWidget(error_);
  box->addWidget(buttons);
  connect(add, &QPushButton::clicked, this, [this] {
    Stock fresh;
    fresh.name = tr("New stock").toStdString();
    add_row(fresh);
    table_->setCurrentCell(table_->rowCount() - 1, name);
    table_->editItem(table_->currentItem());
  });
  connect(remove, &QPushButton::clicked, this, [this] { table_->removeRow(table_->currentRow()); });
  connect(buttons, &QDialogButtonBox::accepted, this, [this] {
    if (store()) accept();
  });
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  open_at_most(*this, {1080, 480});
}

void ShelfDialog::add_row(const Stock& s) {
  const int row = table_->rowCount();
  table_->insertRow(row);
  const auto set = [&](int column, const QString& text) { table_->setItem(row, column, new QTableWidgetItem(text)); };
  const auto number = [](double v) { return QString::fromStdString(format_number(v, 3)); };
  set(name, QString::fromStdString(s.name));
  set(caliper, number(s.caliper_mm));
  set(grammage, number(s.grammage));
  set(stiffness, QString::fromStdString(name_of(s.stiffness)));
  set(memory, QString::fromStdString(name_of(s.memory)));
  set(damp, s.damp_shaping ? tr("yes") : tr("no"));
  set(largest, number(s.largest_mm));
  set(one_sheet, s.width_mm > 0 ? tr("%1 x %2").arg(number(s.width_mm), number(s.height_mm)) : QString());
  set(sheets, QString::number(s.sheets));
  set(face, QString::fromStdString(s.face));
  set(underside, QString::fromStdString(s.underside));
  set(note, QString::fromStdString(s.note));
}

Result<std::vector<Stock>> ShelfDialog::read() const {
  std::vector<Stock> stocks;
  for (int row = 0; row < table_->rowCount(); ++row) {
    const auto text = [&](int column) {
      const QTableWidgetItem* item = table_->item(row, column);
      return item ? item->text().trimmed() : QString();
    };
    const auto wrong = [&](int column, const QString& hint) {
      return Error{tr("Row %1, %2: \"%3\" cannot be used; %4.")
                       .arg(row + 1)
                       .arg(table_->horizontalHeaderItem(column)->text(), text(column), hint)
                       .toStdString()};
    };
    Stock s;
    s.name = text(name).toStdString();
    for (const auto& [column, target] :
         {std::pair<int, double*>{caliper, &s.caliper_mm}, {grammage, &s.grammage}, {largest, &s.largest_mm}}) {
      const auto value = parse_number(text(column).toStdString());
      if (!value || *value < 0) return wrong(column, tr("type a number"));
      *target = *value;
    }
    const QStringList sides = text(one_sheet).isEmpty() ? QStringList() : text(one_sheet).split('x');
    if (!sides.isEmpty()) {
      const auto width = parse_number(sides.front().trimmed().toStdString());
      const auto height = parse_number(sides.back().trimmed().toStdString());
      if (sides.size() != 2 || !width || !height || !(*width > 0 && *height > 0))
        return wrong(one_sheet, tr("type width x height such as 350 x 350, or nothing"));
      s.width_mm = *width;
      s.height_mm = *height;
    }
    bool ok = false;
    s.sheets = text(sheets).toInt(&ok);
    if (!ok) return wrong(sheets, tr("type a whole number"));
    const auto stiff = named<Stiffness>(text(stiffness).toStdString());
    if (!stiff) return wrong(stiffness, tr("type limp, soft, medium, crisp or stiff"));
    s.stiffness = *stiff;
    const auto keeps = named<CreaseMemory>(text(memory).toStdString());
    if (!keeps) return wrong(memory, tr("type weak, fair or strong"));
    s.memory = *keeps;
    s.damp_shaping = text(damp) == tr("yes");
    for (const auto& [column, target] : {std::pair<int, std::string*>{face, &s.face}, {underside, &s.underside}}) {
      if (!QColor(text(column)).isValid()) return wrong(column, tr("type a colour such as #F3C98B"));
      *target = QColor(text(column)).name().toUpper().toStdString();
    }
    s.note = text(note).toStdString();
    auto stock = checked(s);
    if (!stock) return Error{tr("Row %1: %2").arg(row + 1).arg(QString::fromStdString(stock.error())).toStdString()};
    stocks.push_back(std::move(stock).value());
  }
  if (stocks.empty()) return Error{tr("The shelf is empty; keep at least one stock.").toStdString()};
  return stocks;
}

bool ShelfDialog::store() {
  const auto stocks = read();
  const QString wrong = stocks ? workspace_.store_shelf(*stocks) : QString::fromStdString(stocks.error());
  error_->setText(wrong);
  return wrong.isEmpty();
}

} // namespace uc::app
