// Marks on the paper: the cross of what is wanted, the ellipse of what the hand will do, a second route laid over.
#include "widgets/paper_view.h"

#include <Eigen/Eigenvalues>

#include <QPainter>

#include <cmath>

namespace uc::app {
namespace {

/// The factor of 1, 2, 5, 10 ... that brings `length` nearest below `wanted`.
double enlargement(double length, double wanted) {
  double factor = 1;
  for (int i = 0; length * factor * 2 < wanted && factor < 1e6; ++i) factor *= i % 3 == 1 ? 2.5 : 2;
  return factor;
}

} // namespace

void PaperView::draw_marks(QPainter& p, const QTransform& t) const {
  const auto place = [&](const Point& at) {
    const Point seen = figure_.view * at;
    return t.map(QPointF(seen.x(), seen.y()));
  };
  // On paper the ink colours of the light theme are seen best, whatever the theme.
  const Theme on_paper = make_theme(ThemeChoice::light);
  if (!laid_over_.empty()) {
    p.setPen(QPen(QColor("#1F5FA8"), 1.8, Qt::DotLine, Qt::RoundCap));
    for (const Segment& s : laid_over_) p.drawLine(place(s.from), place(s.to));
  }
  double factor = 0;
  for (const PaperMark& mark : marks_) {
    const QPointF at = place(mark.at);
    if (mark.wanted) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(QColor(252, 250, 245, 220), 4));
      p.drawEllipse(at, 11, 11);
      p.setPen(QPen(on_paper.caution, 1.8));
      p.drawEllipse(at, 11, 11);
      for (const QPointF& d : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
        p.drawLine(at + 7 * d, at + 16 * d);
    }
    if (mark.covariance.trace() <= 0) continue;
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes(mark.covariance);
    const Point first = figure_.view.linear * axes.eigenvectors().col(1);
    const double major = std::sqrt(std::max(0.0, axes.eigenvalues()[1])) * pixels_per_mm();
    const double minor = std::sqrt(std::max(0.0, axes.eigenvalues()[0])) * pixels_per_mm();
    factor = enlargement(major, 44);
    const QPointF d = t.map(QPointF(first.x(), first.y())) - t.map(QPointF(0, 0));
    p.save();
    p.translate(at);
    p.rotate(std::atan2(d.y(), d.x()) * 180 / 3.14159265358979);
    QColor fill = on_paper.accent;
    fill.setAlpha(50);
    p.setBrush(fill);
    p.setPen(QPen(on_paper.accent, 1.6));
    p.drawEllipse(QPointF(0, 0), std::max(1.0, factor * major), std::max(1.0, factor * minor));
    p.restore();
  }
  if (factor > 0) {
    p.setFont(text_font(8.5));
    p.setPen(current_theme().soft_ink);
    // At the top right, in as many lines as the paper leaves it room for.
    const Box sheet = bounding_box(figure_.outline);
    const QRectF lies = t.mapRect(QRectF(sheet.low.x(), sheet.low.y(), sheet.size().x(), sheet.size().y()));
    const double right_of_paper = lies.right() + 16;
    const double room = std::max(96.0, std::min(318.0, width() - 12 - right_of_paper));
    p.drawText(QRectF(width() - 12 - room, 10, room, 80), Qt::AlignRight | Qt::AlignTop | Qt::TextWordWrap,
               tr("Ellipse: one standard error, drawn %1 times as large").arg(factor));
  }
}

} // namespace uc::app
