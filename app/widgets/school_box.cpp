#include "widgets/school_box.h"

namespace uc::app {

QString school_title(CreaseSchool school) {
  switch (school) {
  case CreaseSchool::everything:
    return SchoolBox::tr("Everything, edge to edge");
  case CreaseSchool::needed:
    return SchoolBox::tr("Only what is needed");
  case CreaseSchool::scored:
    return SchoolBox::tr("Scored along a ruler");
  case CreaseSchool::as_you_go:
    return SchoolBox::tr("As you go, twist by twist");
  case CreaseSchool::usual:
    return SchoolBox::tr("In few moves");
  }
  return {};
}

SchoolBox::SchoolBox(QWidget* parent) : QComboBox(parent) {
  setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  for (const auto& [school, word] : enum_words<CreaseSchool>) addItem(school_title(school));
  setItemData(static_cast<int>(CreaseSchool::usual),
              tr("Only what is needed, or scored along a ruler where that takes less than two thirds of the moves."),
              Qt::ToolTipRole);
  show_school(CreaseSchool::needed);
}

} // namespace uc::app
