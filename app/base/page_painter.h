// Pages of the core drawn by Qt.
#pragma once

#include "io/page.h"

class QPainter;

namespace uc::app {

/// One painter unit is one unit of the page: a mm on paper, a pixel on the screen.
void paint_page(QPainter& painter, const Page& page);

} // namespace uc::app
