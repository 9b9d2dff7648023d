// A unit of the folder's own, described in a form: what it stands for, what it takes, how long its edges come out, how
// it is folded.
#pragma once

#include "unit/own_family.h"
#include "widgets/field.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QSpinBox;

namespace uc::app {

class OwnUnitDialog : public QDialog {
  Q_OBJECT
public:
  explicit OwnUnitDialog(const OwnFamily& family, QWidget* parent = nullptr);
  /// What is typed; fails with the sentence that stands at the foot of the form.
  [[nodiscard]] Result<OwnFamily> described() const;

private:
  QLineEdit* line(const char* name, const QString& text);
  void try_to_accept();

  QLineEdit* name_;
  QLineEdit* title_;
  QComboBox* stands_for_;
  QLineEdit* ratio_;
  QLineEdit* edge_;
  QLineEdit* faces_;
  QLineEdit* corners_;
  QLineEdit* angles_;
  QSpinBox* folds_;
  QSpinBox* layers_;
  QLineEdit* thickest_;
  QLineEdit* least_edge_;
  QCheckBox* handed_;
  QCheckBox* glued_;
  QPlainTextEdit* how_;
  QLabel* wrong_;
};

} // namespace uc::app
