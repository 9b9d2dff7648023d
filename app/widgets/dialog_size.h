// The size at which a dialog opens: the one it is made for, or what the screen has room for.
#pragma once

#include <QScreen>
#include <QWidget>

namespace uc::app {

inline void open_at_most(QWidget& dialog, QSize wanted) {
  const QSize rim(16, 48); // what a desktop puts around it
  const QScreen* screen = dialog.screen();
  dialog.resize(screen ? wanted.boundedTo(screen->availableSize() - rim) : wanted);
}

} // namespace uc::app
