#include "widgets/wheel_guard.h"

#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QEvent>
#include <QScrollBar>
#include <QTabBar>

namespace uc::app {
namespace {

enum class ByWheel { as_it_likes, with_focus, never };

ByWheel by_wheel(const QWidget& widget) {
  if (qobject_cast<const QComboBox*>(&widget) || qobject_cast<const QTabBar*>(&widget)) return ByWheel::never;
  if (qobject_cast<const QAbstractSpinBox*>(&widget)) return ByWheel::with_focus;
  if (qobject_cast<const QAbstractSlider*>(&widget) && !qobject_cast<const QScrollBar*>(&widget))
    return ByWheel::with_focus;
  return ByWheel::as_it_likes;
}

} // namespace

bool WheelGuard::eventFilter(QObject* watched, QEvent* event) {
  if (!watched->isWidgetType()) return false;
  auto* widget = static_cast<QWidget*>(watched);
  switch (event->type()) {
  case QEvent::Polish: // before the wheel can give it the focus
    if (by_wheel(*widget) != ByWheel::as_it_likes && widget->focusPolicy() == Qt::WheelFocus)
      widget->setFocusPolicy(Qt::StrongFocus);
    return false;
  case QEvent::Wheel: {
    const ByWheel may = by_wheel(*widget);
    if (may == ByWheel::as_it_likes || (may == ByWheel::with_focus && widget->hasFocus())) return false;
    event->ignore(); // so that it goes on to the panel
    return true;
  }
  default:
    return false;
  }
}

} // namespace uc::app
