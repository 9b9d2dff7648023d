#include "stages/fold/measure_table.h"

#include <QKeyEvent>

#include <algorithm>

namespace uc::app {

MeasureTable::MeasureTable(int columns, int typed_column, QWidget* parent)
    : QTableWidget(0, columns, parent), typed_(typed_column) {
  setEditTriggers(AnyKeyPressed | DoubleClicked | EditKeyPressed);
  setTabKeyNavigation(false); // Tab leaves the table
}

void MeasureTable::begin_typing() {
  if (rowCount() == 0) return;
  int row = 0;
  while (row + 1 < rowCount() && !item(row, typed_)->text().isEmpty()) ++row;
  setCurrentCell(item(row, typed_)->text().isEmpty() ? row : 0, typed_);
  setFocus();
}

void MeasureTable::go_on() {
  const int row = std::min(currentRow() + 1, rowCount() - 1);
  setCurrentCell(row, typed_);
  setFocus();
}

void MeasureTable::keyPressEvent(QKeyEvent* event) {
  const bool enter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (enter && state() != EditingState) return go_on();
  // A figure goes into the row's cell for it, whichever cell of the row is chosen.
  const QString text = event->text();
  const bool figure = !text.isEmpty() && (text[0].isDigit() || text[0] == '.' || text[0] == ',' || text[0] == '-');
  if (figure && state() != EditingState && currentColumn() != typed_ && currentRow() >= 0)
    setCurrentCell(currentRow(), typed_);
  if ((event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && state() != EditingState &&
      currentRow() >= 0) {
    item(currentRow(), typed_)->setText({});
    return;
  }
  QTableWidget::keyPressEvent(event);
}

void MeasureTable::closeEditor(QWidget* editor, QAbstractItemDelegate::EndEditHint hint) {
  const bool entered = hint == QAbstractItemDelegate::SubmitModelCache;
  QTableWidget::closeEditor(editor, entered ? QAbstractItemDelegate::NoHint : hint);
  if (entered) go_on();
}

} // namespace uc::app
