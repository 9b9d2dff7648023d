#include "widgets/scale_bar.h"

#include "base/theme.h"

namespace uc::app {

/// 1, 2 or 5 times a power of ten (or of two, for inches) at least `least` mm long.
double tick_step(double least, LengthUnit unit) {
  const double base = mm_per(unit);
  if (unit == LengthUnit::inch) {
    double step = base / 16;
    while (step < least) step *= 2;
    return step;
  }
  double step = base / 10;
  for (int i = 0; step < least; ++i) step *= i % 3 == 1 ? 2.5 : 2.0;
  return step;
}

void draw_scale_bar(QPainter& p, const QPointF& end, double scale, LengthUnit unit) {
  const double bar = tick_step(60 / scale, unit);
  const QPointF begin = end - QPointF(bar * scale, 0);
  p.setFont(mono_font(7.5));
  p.setPen(QPen(current_theme().ink, 2));
  p.drawLine(begin, end);
  p.drawLine(begin - QPointF(0, 4), begin + QPointF(0, 4));
  p.drawLine(end - QPointF(0, 4), end + QPointF(0, 4));
  const std::string text = format_number(bar / mm_per(unit), unit == LengthUnit::mm ? 1 : 2) + " " + symbol(unit);
  p.drawText(QRectF(begin.x() - 60, begin.y() - 20, bar * scale + 60, 14), Qt::AlignRight,
             QString::fromStdString(text));
}

} // namespace uc::app
