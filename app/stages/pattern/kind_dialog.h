// Asks what the lines of a foreign drawing mean: a row for each colour, class, layer or dash that no rule names. What
// was answered is remembered for drawings with the same marks.
#pragma once

#include "io/line_work.h"

#include <QDialog>

class QComboBox;

namespace uc::app {

class KindDialog : public QDialog {
  Q_OBJECT
public:
  explicit KindDialog(const LineWork& work, QWidget* parent = nullptr);
  [[nodiscard]] KindMapping mapping() const;

private:
  std::vector<std::pair<KindRule, QComboBox*>> rows_;
};

/// The mapping for a drawing: none needed, remembered, or asked for; nothing when the question was cancelled.
std::optional<KindMapping> chosen_mapping(const LineWork& work, QWidget* parent);

} // namespace uc::app
