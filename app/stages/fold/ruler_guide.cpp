#include "stages/fold/ruler_guide.h"

#include "base/theme.h"

#include <QPainter>

#include <cmath>

namespace uc::app {
namespace {

Point middle(const std::vector<Segment>& spans) { return (spans.front().from + spans.back().to) / 2; }

} // namespace

RulerGuide::RulerGuide(QWidget* parent) : QWidget(parent) {
  setFixedSize(170, 150);
  setObjectName("ruler-guide");
}

void RulerGuide::show_start(const Polygon& outline, const std::vector<Segment>& start, const std::vector<Segment>& end,
                            const Isometry& view, const QString& name) {
  outline_ = outline;
  start_ = start;
  end_ = end;
  view_ = view;
  name_ = name;
  setAccessibleName(tr("The ruler starts at %1").arg(name));
  update();
}

QPointF RulerGuide::place(const Point& sheet) const {
  Polygon seen;
  for (const Point& p : outline_) seen.push_back(view_ * p);
  const Box box = bounding_box(seen);
  const QRectF area = QRectF(rect()).adjusted(12, 12, -12, -30);
  const double scale = std::min(area.width() / box.size().x(), area.height() / box.size().y());
  const Point d = (view_ * sheet) - box.centre();
  return area.center() + QPointF(d.x() * scale, -d.y() * scale);
}

QPointF RulerGuide::start_at() const { return start_.empty() ? QPointF() : place(middle(start_)); }
QPointF RulerGuide::end_at() const { return end_.empty() ? QPointF() : place(middle(end_)); }

void RulerGuide::paintEvent(QPaintEvent*) {
  if (outline_.size() < 3 || start_.empty() || end_.empty()) return;
  const Theme& t = current_theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  QPolygonF paper;
  for (const Point& q : outline_) paper << place(q);
  p.setPen(QPen(t.ink, 1.2));
  p.setBrush(t.field);
  p.drawPolygon(paper);
  p.setPen(QPen(t.pinch, 5, Qt::SolidLine, Qt::FlatCap));
  const bool corner = start_.front().length() < 1e-6;
  if (corner) {
    p.setBrush(t.pinch);
    p.drawEllipse(start_at(), 3, 3);
  } else {
    for (const Segment& s : start_) p.drawLine(place(s.from), place(s.to));
  }
  // The ruler: a line with ticks from the start across the sheet.
  const QPointF from = start_at();
  const QPointF way = end_at() - from;
  const double length = std::hypot(way.x(), way.y());
  if (length < 1) return;
  const QPointF along = way / length;
  const QPointF across(-along.y(), along.x());
  p.setPen(QPen(t.ink, 1.4));
  p.drawLine(from, from + 0.86 * way);
  for (int i = 0; i <= 8; ++i) {
    const QPointF at = from + way * (0.1 * i);
    p.drawLine(at - across * (i % 4 == 0 ? 6 : 3.5), at + across * (i % 4 == 0 ? 6 : 3.5));
  }
  const QPointF tip = from + 0.93 * way;
  p.setBrush(t.ink);
  p.drawPolygon(QPolygonF{tip, tip - 8 * along + 4 * across, tip - 8 * along - 4 * across});
  p.setPen(t.ink);
  p.setFont(text_font(9, QFont::DemiBold));
  p.drawText(QRectF(0, height() - 24, width(), 22), Qt::AlignCenter, tr("0 at %1").arg(name_));
}

} // namespace uc::app
