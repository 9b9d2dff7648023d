// The table of creases to measure, worked by keyboard: typing begins in the chosen cell, Enter goes on to the next.
#pragma once

#include <QTableWidget>

namespace uc::app {

class MeasureTable : public QTableWidget {
  Q_OBJECT
public:
  /// Only cells of `typed_column` can be typed into.
  MeasureTable(int columns, int typed_column, QWidget* parent = nullptr);
  /// Gives the keyboard to the first cell that is still empty.
  void begin_typing();

protected:
  void keyPressEvent(QKeyEvent* event) override;
  void closeEditor(QWidget* editor, QAbstractItemDelegate::EndEditHint hint) override;

private:
  void go_on();
  int typed_;
};

} // namespace uc::app
