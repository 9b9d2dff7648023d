// The shelf: the stocks a folder has, edited in a table and kept in the data folder.
#pragma once

#include "base/workspace.h"

#include <QDialog>

class QTableWidget;
class QLabel;

namespace uc::app {

class ShelfDialog : public QDialog {
  Q_OBJECT
public:
  explicit ShelfDialog(Workspace& workspace, QWidget* parent = nullptr);
  [[nodiscard]] QTableWidget* table() const { return table_; }
  void add_row(const Stock& stock);
  /// Stores the table; on a wrong figure the sentence is shown and nothing is stored.
  bool store();

private:
  [[nodiscard]] Result<std::vector<Stock>> read() const;
  Workspace& workspace_;
  QTableWidget* table_;
  QLabel* error_;
};

} // namespace uc::app
