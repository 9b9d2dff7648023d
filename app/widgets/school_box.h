// A choice of how the creases of a pattern come onto the sheet.
#pragma once

#include "crease/precrease.h"

#include <QComboBox>

namespace uc::app {

/// "Everything, edge to edge" and so on.
QString school_title(CreaseSchool school);

class SchoolBox : public QComboBox {
  Q_OBJECT
public:
  explicit SchoolBox(QWidget* parent = nullptr);
  [[nodiscard]] CreaseSchool school() const { return static_cast<CreaseSchool>(currentIndex()); }
  void show_school(CreaseSchool school) { setCurrentIndex(static_cast<int>(school)); }
};

} // namespace uc::app
