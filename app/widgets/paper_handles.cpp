// Handles on the paper: a ring that can be taken hold of, with arrows the way it moves.
#include "widgets/paper_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <cmath>

namespace uc::app {
namespace {

constexpr double ring = 6;
constexpr double handle_reach = 11;

} // namespace

void PaperView::set_handles(std::vector<PaperHandle> handles) {
  handles_ = std::move(handles);
  if (held_ >= static_cast<int>(handles_.size())) held_ = -1;
  update();
}

QPointF PaperView::handle_place(int handle) const {
  const Point seen = figure_.view * handles_[static_cast<std::size_t>(handle)].at;
  return transform().map(QPointF(seen.x(), seen.y()));
}

int PaperView::handle_at(const QPointF& at) const {
  int best = -1;
  double reach = handle_reach;
  for (int i = 0; i < static_cast<int>(handles_.size()); ++i) {
    const QPointF d = handle_place(i) - at;
    if (std::hypot(d.x(), d.y()) < reach) reach = std::hypot(d.x(), d.y()), best = i;
  }
  return best;
}

void PaperView::draw_handles(QPainter& p, const QTransform& t) const {
  const Theme on_paper = make_theme(ThemeChoice::light);
  for (int i = 0; i < static_cast<int>(handles_.size()); ++i) {
    const PaperHandle& handle = handles_[static_cast<std::size_t>(i)];
    const QPointF at = handle_place(i);
    const Point along = figure_.view.linear * handle.along;
    QPointF d = t.map(QPointF(along.x(), along.y())) - t.map(QPointF(0, 0));
    const double length = std::hypot(d.x(), d.y());
    d = length > 0 ? d / length : QPointF(1, 0);
    const QPointF n(-d.y(), d.x());
    const bool lit = i == held_ || i == near_;
    p.setPen(QPen(QColor(252, 250, 245, 230), 4, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(at - 15 * d, at + 15 * d);
    p.setPen(QPen(on_paper.accent, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const double side : {-1.0, 1.0}) {
      const QPointF tip = at + side * 15 * d;
      p.drawLine(at + side * ring * d, tip);
      p.drawPolyline(QPolygonF{tip - side * 4 * d + 3.5 * n, tip, tip - side * 4 * d - 3.5 * n});
    }
    p.setBrush(lit ? on_paper.accent : QColor(252, 250, 245));
    p.drawEllipse(at, ring, ring);
  }
}

void PaperView::mousePressEvent(QMouseEvent* event) {
  held_ = event->button() == Qt::LeftButton ? handle_at(event->position()) : -1;
  if (held_ < 0) return BenchView::mousePressEvent(event);
  setCursor(Qt::ClosedHandCursor);
  update();
}

void PaperView::mouseMoveEvent(QMouseEvent* event) {
  if (held_ >= 0) {
    emit handle_moved(held_, on_sheet(event->position()));
    return;
  }
  const int near = event->buttons() == Qt::NoButton ? handle_at(event->position()) : -1;
  if (near != near_) {
    near_ = near;
    update();
  }
  if (near >= 0) {
    setCursor(Qt::SizeAllCursor);
    return;
  }
  BenchView::mouseMoveEvent(event);
}

void PaperView::mouseReleaseEvent(QMouseEvent* event) {
  if (held_ < 0) return BenchView::mouseReleaseEvent(event);
  const int let_go = held_;
  held_ = -1;
  setCursor(Qt::OpenHandCursor);
  update();
  emit handle_let_go(let_go);
}

} // namespace uc::app
