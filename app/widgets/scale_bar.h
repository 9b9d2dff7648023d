// The bar that says how large things are drawn.
#pragma once

#include "base/quantity.h"

#include <QPainter>

namespace uc::app {

/// 1, 2 or 5 times a power of ten (or of two, for inches) at least `least` mm long.
double tick_step(double least, LengthUnit unit);

/// A bar of some round length that ends at `end`, its length above it. Scale in pixels per mm.
void draw_scale_bar(QPainter& p, const QPointF& end, double scale, LengthUnit unit);

} // namespace uc::app
