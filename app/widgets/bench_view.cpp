#include "widgets/bench_view.h"

#include "base/theme.h"

#include <QFocusEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace uc::app {
namespace {

constexpr double least_zoom = 0.2;
constexpr double most_zoom = 60;
constexpr int drag_begins_at = 4; // pixels

} // namespace

BenchView::BenchView(QWidget* parent) : QWidget(parent) {
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
}

void BenchView::set_paper(const QColor& face, const QColor& underside) {
  face_ = face;
  underside_ = underside;
  update();
}

void BenchView::set_unit(LengthUnit unit) {
  unit_ = unit;
  update();
}

void BenchView::turn(bool from_behind, int quarter_turns) {
  from_behind_ = from_behind;
  quarters_ = quarter_turns;
  turned();
  update();
}

void BenchView::zoom(double factor, const QPointF& about) {
  const double before = zoom_;
  zoom_ = std::clamp(zoom_ * factor, least_zoom, most_zoom);
  moving();
  const QPointF middle = QPointF(width() / 2.0, height() / 2.0) + off_middle_;
  pan_ = (pan_ + middle - about) * (zoom_ / before) + about - middle;
  update();
}

void BenchView::zoom_fit() {
  zoom_ = 1;
  pan_ = {};
  update();
}

QPointF BenchView::place(const Point& p) const { return transform().map(QPointF(p.x(), p.y())); }

QImage BenchView::snapshot() {
  QImage image(size() * snapshot_ratio, QImage::Format_ARGB32_Premultiplied);
  image.setDevicePixelRatio(snapshot_ratio);
  render(&image, {}, {}, DrawWindowBackground); // what lies on the view draws itself into the window only
  return image;
}

double BenchView::fitted_scale(Point size, const QSizeF& rims) const {
  if (quarters_ % 2 == 1) std::swap(size.x(), size.y());
  const double w = std::max(60.0, width() - rims.width());
  const double h = std::max(60.0, height() - rims.height());
  return zoom_ * std::min(w / std::max(1e-6, size.x()), h / std::max(1e-6, size.y()));
}

QTransform BenchView::fitted(const Point& centre, const Point& size, const QSizeF& rims, bool mirrored) const {
  const double scale = fitted_scale(size, rims);
  QTransform t;
  t.translate(width() / 2.0 + pan_.x() + off_middle_.x(), height() / 2.0 + pan_.y() + off_middle_.y());
  t.rotate(-90.0 * quarters_);
  if (mirrored) t.scale(-1, 1);
  t.scale(scale, -scale);
  t.translate(-centre.x(), -centre.y());
  return t;
}

void BenchView::draw_focus_ring(QPainter& p) const {
  if (!hasFocus() || !focus_ring_) return;
  p.setPen(QPen(current_theme().accent, 2));
  p.setBrush(Qt::NoBrush);
  p.drawRect(rect().adjusted(1, 1, -1, -1));
}

void BenchView::focusInEvent(QFocusEvent* event) {
  // Whoever comes by the keyboard needs to see where the focus is; a click needs no frame.
  focus_ring_ = event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason;
  QWidget::focusInEvent(event);
  update();
}

void BenchView::wheelEvent(QWheelEvent* event) {
  zoom(std::pow(1.0015, event->angleDelta().y()), event->position());
  event->accept();
}

void BenchView::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  dragging_ = true;
  moved_ = false;
  drag_from_ = event->position();
}

void BenchView::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_) return hovered_at(event->position());
  const QPointF d = event->position() - drag_from_;
  if (!moved_ && d.manhattanLength() <= drag_begins_at) return;
  moved_ = true;
  pan_ += d;
  moving();
  drag_from_ = event->position();
  update();
}

void BenchView::mouseReleaseEvent(QMouseEvent* event) {
  dragging_ = false;
  if (!moved_) clicked(event->position());
}

} // namespace uc::app
