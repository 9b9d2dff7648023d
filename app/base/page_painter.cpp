#include "base/page_painter.h"

#include <QFont>
#include <QFontMetricsF>
#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace uc::app {
namespace {

void paint(QPainter& p, const PagePath& path) {
  if (path.points.empty()) return;
  const auto q = [](const Point& v) { return QPointF(v.x(), v.y()); };
  QPainterPath shape(q(path.points[0]));
  if (path.curve && path.points.size() == 3) {
    shape.quadTo(q(path.points[1]), q(path.points[2]));
  } else {
    for (std::size_t i = 1; i < path.points.size(); ++i) shape.lineTo(q(path.points[i]));
  }
  if (path.closed) shape.closeSubpath();
  p.setOpacity(path.opacity);
  p.setBrush(path.fill.empty() ? QBrush(Qt::NoBrush) : QBrush(QColor(QString::fromStdString(path.fill))));
  QPen pen(Qt::NoPen);
  if (!path.stroke.empty()) {
    pen = QPen(QColor(QString::fromStdString(path.stroke)), path.width_mm, Qt::SolidLine, Qt::FlatCap);
    QList<qreal> dash;
    for (const double d : path.dash_mm) dash << d / path.width_mm;
    if (!dash.isEmpty()) pen.setDashPattern(dash);
  }
  p.setPen(pen);
  p.drawPath(shape);
  p.setOpacity(1);
}

void paint(QPainter& p, const PageText& text) {
  // Fonts are set in whole pixels of a finer space, so that sizes in mm come out exactly on every device.
  constexpr double finer = 100;
  QFont font(text.mono ? "JetBrains Mono" : "Inter");
  font.setPixelSize(std::max(1, static_cast<int>(std::lround(text.size_mm * finer))));
  if (text.bold) font.setWeight(QFont::DemiBold);
  const QString words = QString::fromStdString(text.text);
  QPainterPath glyphs;
  double x = 0;
  if (text.align != Align::left)
    x = -QFontMetricsF(font).horizontalAdvance(words) * (text.align == Align::centre ? 0.5 : 1);
  glyphs.addText(x, 0, font, words);
  p.save();
  p.translate(text.at.x(), text.at.y());
  p.scale(1 / finer, 1 / finer);
  p.fillPath(glyphs, QColor(QString::fromStdString(text.colour)));
  p.restore();
}

} // namespace

void paint_page(QPainter& painter, const Page& page) {
  painter.setRenderHint(QPainter::Antialiasing);
  for (const auto& item : page.items) {
    if (const auto* path = std::get_if<PagePath>(&item)) paint(painter, *path);
    if (const auto* text = std::get_if<PageText>(&item)) paint(painter, *text);
  }
}

} // namespace uc::app
