// Nothing changes by passing over it: the wheel over a control that does not have the focus scrolls the panel it stands
// in. Lists that drop down and tabs never change by the wheel, for what they choose is too much to choose by accident.
#pragma once

#include <QObject>

namespace uc::app {

/// To be installed on the application.
class WheelGuard : public QObject {
public:
  using QObject::QObject;

protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
};

} // namespace uc::app
