#include "widgets/folded_paper.h"

#include "widgets/scale_bar.h"

#include "base/theme.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc::app {
namespace {

constexpr QSizeF rims(56, 96);

QPolygonF seen(const Polygon& polygon, const QTransform& t, const Point& shift = Point::Zero()) {
  QPolygonF out;
  for (const Point& p : polygon) out << t.map(QPointF(p.x() + shift.x(), p.y() + shift.y()));
  return out;
}

} // namespace

FoldedPaper::FoldedPaper(QWidget* parent) : BenchView(parent) {
  setMinimumSize(160, 160);
  setAccessibleName(tr("The folded form"));
}

void FoldedPaper::show_proof(std::shared_ptr<const PatternProof> proof, const QString& otherwise) {
  proof_ = std::move(proof);
  otherwise_ = otherwise;
  lit_ = -1;
  zoom_fit();
  prepare();
}

void FoldedPaper::set_look(Look look) {
  look_ = look;
  update();
}
void FoldedPaper::light(int face) {
  if (face == lit_) return;
  lit_ = face;
  update();
}

void FoldedPaper::prepare() {
  view_ = {};
  layers_.clear();
  levels_ = 1;
  if (proof_) {
    view_ = folded_view(*proof_, from_behind_);
    layers_ = layered_faces(*proof_, from_behind_);
    if (!layers_.empty()) levels_ = layers_.back().level + 1;
  }
  setAccessibleDescription(!proof_ ? otherwise_ : from_behind_ ? tr("Seen from behind") : tr("Seen from the front"));
  update();
}

/// Layers step up and to the right, the whole stack by at most a third of the folded form.
Point FoldedPaper::fanned(int level) const {
  if (look_ != Look::spread || levels_ < 2) return Point::Zero();
  const double size = view_.box.size().maxCoeff();
  const double step = std::min(0.08 * size, 0.6 * size / (levels_ - 1));
  const Isometry turned = Isometry::rotation_about(Point::Zero(), -quarters_ * std::numbers::pi / 2);
  return level * step * (turned * Point{0.55, 0.84});
}

QTransform FoldedPaper::transform() const {
  const Point fan = fanned(levels_ - 1);
  const Point low = view_.box.low.cwiseMin(view_.box.low + fan);
  const Point high = view_.box.high.cwiseMax(view_.box.high + fan);
  return fitted((low + high) / 2, high - low, rims, false);
}

int FoldedPaper::face_at(const QPointF& at) const {
  const QTransform t = transform();
  for (auto it = layers_.rbegin(); it != layers_.rend(); ++it) {
    if (seen(it->outline, t, fanned(it->level)).containsPoint(at, Qt::OddEvenFill)) return it->face;
  }
  return -1;
}

int FoldedPaper::layers_at(const QPointF& at) const {
  if (look_ == Look::spread) return 0;
  const QTransform t = transform();
  for (const FoldedPatch& p : view_.patches) {
    if (seen(p.outline, t).containsPoint(at, Qt::OddEvenFill)) return p.layers;
  }
  return 0;
}

void FoldedPaper::draw_opaque(QPainter& p, const QTransform& t) const {
  for (const FoldedPatch& patch : view_.patches) {
    const QColor c = colour_of(patch.coloured);
    p.setBrush(c);
    p.setPen(QPen(c, 0.7)); // closes the seams between patches
    p.drawPolygon(seen(patch.outline, t));
  }
  const Theme light = make_theme(ThemeChoice::light);
  for (const FoldedEdge& e : view_.edges) {
    p.setPen(QPen(light.ink, e.raw ? 1.8 : 1.1, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(t.map(QPointF(e.segment.from.x(), e.segment.from.y())),
               t.map(QPointF(e.segment.to.x(), e.segment.to.y())));
  }
}

void FoldedPaper::draw_see_through(QPainter& p, const QTransform& t) const {
  // Each layer takes the same share of the light that is left.
  const double share = std::clamp(2.2 / std::max(1, proof_->overlap->layers_max), 0.05, 0.4);
  for (const FoldedPatch& patch : view_.patches) {
    p.setPen(Qt::NoPen);
    p.setBrush(underside_);
    p.drawPolygon(seen(patch.outline, t));
    QColor shade = face_.darker(165);
    shade.setAlphaF(static_cast<float>(1 - std::pow(1 - share, patch.layers)));
    p.setBrush(shade);
    p.drawPolygon(seen(patch.outline, t));
  }
  p.setPen(QPen(make_theme(ThemeChoice::light).ink, 0.5));
  p.setBrush(Qt::NoBrush);
  for (const LayeredFace& f : layers_) p.drawPolygon(seen(f.outline, t));
}

void FoldedPaper::draw_spread(QPainter& p, const QTransform& t) const {
  for (const LayeredFace& f : layers_) {
    p.setBrush(colour_of(f.coloured));
    p.setPen(QPen(make_theme(ThemeChoice::light).ink, 0.9));
    p.drawPolygon(seen(f.outline, t, fanned(f.level)));
  }
}

void FoldedPaper::draw_lit(QPainter& p, const QTransform& t) const {
  for (const LayeredFace& f : layers_) {
    if (f.face != lit_) continue;
    p.setBrush(QColor(20, 115, 95, 90));
    p.setPen(QPen(QColor("#14735F"), 2));
    p.drawPolygon(seen(f.outline, t, fanned(f.level)));
  }
}

void FoldedPaper::draw_notes(QPainter& p, const QTransform& t) const {
  const Theme& theme = current_theme();
  p.setPen(theme.ink);
  p.setFont(text_font(9, QFont::DemiBold));
  p.drawText(QRectF(14, 10, width() - 28, 22), Qt::AlignVCenter | Qt::AlignLeft,
             from_behind_ ? tr("Folded, from behind") : tr("Folded, from the front"));
  // The folded size along its two sides.
  p.setFont(text_font(8.5));
  p.setPen(theme.soft_ink);
  const Point size = view_.box.size();
  const QRectF box = t.mapRect(QRectF(QPointF(view_.box.low.x(), view_.box.low.y()), QSizeF(size.x(), size.y())));
  if (look_ != Look::spread && zoom_factor() == 1) {
    const auto words = [&](double mm) { return QString::fromStdString(format_length(Millimetres{mm}, unit_)); };
    p.drawLine(box.bottomLeft() + QPointF(0, 10), box.bottomRight() + QPointF(0, 10));
    p.drawText(QRectF(box.left() - 40, box.bottom() + 12, box.width() + 80, 18), Qt::AlignCenter,
               quarters_ % 2 == 0 ? words(size.x()) + " x " + words(size.y())
                                  : words(size.y()) + " x " + words(size.x()));
  }
  draw_scale_bar(p, {width() - 16.0, height() - 14.0}, std::hypot(t.m11(), t.m12()), unit_);
}

/// A ring where most layers lie, with their number: on the largest such patch.
void FoldedPaper::draw_thickest(QPainter& p, const QTransform& t) const {
  const FoldedPatch* thickest = nullptr;
  double area = 0;
  for (const FoldedPatch& patch : view_.patches) {
    const double own = std::abs(signed_area(patch.outline));
    const bool more = !thickest || patch.layers > thickest->layers;
    if (!more && (patch.layers < thickest->layers || own <= area)) continue;
    thickest = &patch;
    area = own;
  }
  if (!thickest || thickest->layers < 3) return;
  Point middle = Point::Zero();
  for (const Point& c : thickest->outline) middle += c / static_cast<double>(thickest->outline.size());
  const QPointF at = t.map(QPointF(middle.x(), middle.y()));
  const Theme light = make_theme(ThemeChoice::light);
  p.setPen(QPen(light.ink, 1.4));
  p.setBrush(QColor(255, 255, 255, 190));
  p.setFont(text_font(8.5, QFont::DemiBold));
  const QString words = QString::number(thickest->layers);
  const double radius = std::max(9.0, p.fontMetrics().horizontalAdvance(words) / 2.0 + 5);
  p.drawEllipse(at, radius, radius);
  p.drawText(QRectF(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius), Qt::AlignCenter, words);
}

void FoldedPaper::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Theme& theme = current_theme();
  p.fillRect(rect(), theme.bench);
  if (!proof_) {
    p.setPen(theme.soft_ink);
    p.setFont(text_font(10));
    p.drawText(QRectF(rect()).adjusted(32, 32, -32, -32), Qt::AlignCenter | Qt::TextWordWrap, otherwise_);
    return;
  }
  p.setRenderHint(QPainter::Antialiasing);
  const QTransform t = transform();
  if (look_ == Look::opaque)
    draw_opaque(p, t);
  else if (look_ == Look::see_through)
    draw_see_through(p, t), draw_thickest(p, t);
  else
    draw_spread(p, t);
  draw_lit(p, t);
  draw_notes(p, t);
  draw_focus_ring(p);
}

void FoldedPaper::hovered_at(const QPointF& at) {
  const int face = face_at(at);
  light(face);
  emit hovered(face, layers_at(at));
}

void FoldedPaper::leaveEvent(QEvent*) {
  light(-1);
  emit hovered(-1, 0);
}

/// Goes through the layers from the topmost down, or back.
void FoldedPaper::step(int by) {
  if (layers_.empty()) return;
  const int count = static_cast<int>(layers_.size());
  int at = by > 0 ? count : -1; // in layers_, which begin with the lowest
  for (int i = 0; i < count; ++i) {
    if (layers_[static_cast<std::size_t>(i)].face == lit_) at = i;
  }
  at = (at - by + count) % count;
  const LayeredFace& face = layers_[static_cast<std::size_t>(at)];
  light(face.face);
  setAccessibleDescription(tr("Face %1, level %2 of %3").arg(face.face).arg(face.level + 1).arg(levels_));
  emit hovered(face.face, 0);
}

void FoldedPaper::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Down) return step(1);
  if (event->key() == Qt::Key_Up) return step(-1);
  BenchView::keyPressEvent(event);
}

} // namespace uc::app
