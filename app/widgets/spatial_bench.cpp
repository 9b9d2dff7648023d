#include "widgets/spatial_bench.h"

#include "base/theme.h"
#include "widgets/spatial_canvas.h"
#include "widgets/spatial_renderer.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc::app {
namespace {

/// What is written over a canvas: Qt's painter draws nothing with OpenGL's core profile. It is painted with the bench
/// it lies on.
class Over : public QWidget {
public:
  Over(QWidget* bench, std::function<void(QPainter&)> draw) : QWidget(bench), draw_(std::move(draw)) {
    setAttribute(Qt::WA_TransparentForMouseEvents);
  }

protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    draw_(p);
  }

private:
  std::function<void(QPainter&)> draw_;
};

} // namespace

SpatialBench::SpatialBench(QWidget* parent) : BenchView(parent) {
  setObjectName("spatial-bench");
  setAccessibleName(tr("The sheet in space"));
  at_rest_.setSingleShot(true);
  at_rest_.setInterval(150);
  connect(&at_rest_, &QTimer::timeout, this, [this] { update(); });
  draw_in_window(graphics_card_draws());
}

SpatialPictures& SpatialBench::pictures() {
  if (!pictures_) {
    pictures_ = new SpatialPictures(this);
    connect(pictures_, &SpatialPictures::drawn, this, [this] { update(); });
  }
  return *pictures_;
}

QString SpatialBench::trouble() { return pictures().trouble(); }

SpatialPicture SpatialBench::picture() const {
  const double ratio = pixel_ratio();
  const SpatialView view = view_for(transform(), ratio);
  return {scene_, view, lamp_for(view), size() * ratio, !at_rest_.isActive()};
}

bool SpatialBench::up_to_date() const {
  return !draws_scene() || canvas_ || (pictures_ && pictures_->shown() == picture());
}

void SpatialBench::show_scene(SpatialScene scene, double size_mm, const QString& otherwise) {
  scene_ = std::make_shared<SpatialScene>(std::move(scene));
  size_mm_ = size_mm;
  otherwise_ = otherwise;
  middle_ = {};
  for (const QVector3D& v : scene_->vertices) middle_ += v / static_cast<float>(scene_->vertices.size());
  show_canvas();
  move_on();
}

/// Draws quickly now, and smoothly when nothing has moved for a moment.
void SpatialBench::move_on() {
  at_rest_.start();
  update();
}

void SpatialBench::set_lamp(const Lamp& lamp) {
  lamp_ = lamp;
  update();
}

void SpatialBench::set_legend(const QStringList& lines) {
  legend_ = lines;
  update();
}

void SpatialBench::spin(double turn_deg, double tilt_deg) {
  turn_deg_ += turn_deg;
  tilt_deg_ = std::clamp(tilt_deg_ + tilt_deg, -180.0, 0.0);
  move_on();
}

void SpatialBench::look_along(const QVector3D& direction) {
  const QVector3D d = direction.normalized();
  const double level = std::hypot(d.x(), d.y());
  tilt_deg_ = -std::atan2(level, d.z()) * 180 / std::numbers::pi;
  if (level > 1e-6) turn_deg_ = -90 - std::atan2(d.y(), d.x()) * 180 / std::numbers::pi;
  update();
}

QTransform SpatialBench::transform() const {
  return fitted({0, 0}, {0.85 * size_mm_, 0.85 * size_mm_}, {40, 60}, false);
}

SpatialView SpatialBench::view_for(const QTransform& flat, double ratio) const {
  QMatrix4x4 spun;
  if (from_behind_) spun.rotate(180, 0, 1, 0);
  spun.rotate(static_cast<float>(tilt_deg_), 1, 0, 0);
  spun.rotate(static_cast<float>(turn_deg_), 0, 0, 1);
  SpatialView view;
  view.eye = spun.inverted().mapVector(QVector3D(0, 0, 1)).normalized();
  spun.translate(-middle_);
  // The flat transform carries zoom, pan and quarter turns; depth stays in mm.
  QMatrix4x4 device(static_cast<float>(flat.m11() * ratio), static_cast<float>(flat.m21() * ratio), 0,
                    static_cast<float>(flat.dx() * ratio), static_cast<float>(flat.m12() * ratio),
                    static_cast<float>(flat.m22() * ratio), 0, static_cast<float>(flat.dy() * ratio), 0, 0, 1, 0, 0, 0,
                    0, 1);
  view.to_device = device * spun;
  view.middle = middle_;
  view.reach_mm = 1.5 * size_mm_;
  return view;
}

Lamp SpatialBench::lamp_for(const SpatialView& view) const {
  if (!lamp_at_eye_) return lamp_;
  return at_eye(lamp_, {view.eye.x(), view.eye.y(), view.eye.z()});
}

QImage SpatialBench::still(const QSize& pixels) {
  const double scale = std::min(pixels.width(), pixels.height()) / (1.25 * size_mm_);
  QTransform flat;
  flat.translate(pixels.width() / 2.0, pixels.height() / 2.0);
  flat.scale(scale, -scale);
  const SpatialView view = view_for(flat, 1);
  QImage out = pictures().now({scene_, view, lamp_for(view), pixels, true});
  if (!out.isNull()) return out;
  out = QImage(pixels, QImage::Format_ARGB32_Premultiplied);
  out.fill(Qt::transparent);
  QPainter p(&out);
  p.setRenderHint(QPainter::Antialiasing);
  paint_scene(p, *scene_, view, lamp_for(view));
  return out;
}

void SpatialBench::draw_in_window(bool on) {
  if (on == (canvas_ != nullptr)) return;
  if (!on) {
    for (QWidget* w : {static_cast<QWidget*>(canvas_), over_}) {
      w->hide();
      w->deleteLater();
    }
    canvas_ = nullptr;
    over_ = nullptr;
    return update();
  }
  const auto frame = [this] {
    const SpatialView view = view_for(transform(), devicePixelRatioF());
    return SpatialCanvas::Frame{*scene_, view, lamp_for(view), current_theme().bench};
  };
  canvas_ = new SpatialCanvas(this, frame);
  over_ = new Over(this, [this](QPainter& p) { draw_words(p); });
  connect(canvas_, &SpatialCanvas::failed, this, [this] { draw_in_window(false); });
  show_canvas();
}

void SpatialBench::show_canvas() {
  if (!canvas_) return;
  for (QWidget* w : {static_cast<QWidget*>(canvas_), over_}) {
    w->setGeometry(rect());
    w->setVisible(draws_scene());
    w->raise();
  }
}

QImage SpatialBench::snapshot() {
  for_snapshot_ = true;
  QImage out = BenchView::snapshot();
  for_snapshot_ = false;
  return out;
}

void SpatialBench::resizeEvent(QResizeEvent* event) {
  BenchView::resizeEvent(event);
  show_canvas();
}

void SpatialBench::paintEvent(QPaintEvent*) {
  QPainter p(this);
  if (canvas_ && canvas_->isVisible() && !for_snapshot_) return canvas_->update();
  p.fillRect(rect(), current_theme().bench);
  if (!draws_scene()) {
    p.setFont(text_font(10));
    p.setPen(current_theme().soft_ink);
    p.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap, otherwise_);
    return draw_focus_ring(p);
  }
  draw_scene(p);
  draw_words(p);
}

void SpatialBench::draw_scene(QPainter& p) {
  const SpatialPicture wanted = picture();
  QImage image;
  if (for_snapshot_) {
    image = pictures().now(wanted);
  } else {
    pictures().ask(wanted);
    if (!pictures().shown().scene) return; // the first is on its way
    image = pictures().last();
  }
  if (!image.isNull()) {
    image.setDevicePixelRatio(pixel_ratio());
    return p.drawImage(0, 0, image);
  }
  p.setRenderHint(QPainter::Antialiasing);
  paint_scene(p, *scene_, view_for(transform(), 1), wanted.lamp);
  p.setFont(text_font(10));
  p.setPen(current_theme().soft_ink);
  p.drawText(QRect(16, height() - 32, width() - 32, 24), Qt::AlignLeft,
             tr("Drawn without OpenGL, so without shadows: %1.").arg(pictures().trouble()));
}

/// Which side is seen, and the legend.
void SpatialBench::draw_words(QPainter& p) const {
  p.setPen(current_theme().ink);
  p.setFont(text_font(10, QFont::DemiBold));
  p.drawText(QRect(16, 12, width() - 32, 20), Qt::AlignLeft,
             note_          ? note_()
             : from_behind_ ? tr("Seen from the underside")
                            : tr("Seen from the face"));
  p.setFont(text_font(9));
  int y = 36;
  for (const QString& line : legend_) {
    const auto parts = line.split('\t');
    if (parts.size() == 2) p.fillRect(QRect(16, y + 2, 14, 12), QColor(parts[0]));
    p.drawText(QRect(parts.size() == 2 ? 36 : 16, y, width() - 52, 18), Qt::AlignLeft | Qt::AlignVCenter, parts.last());
    y += 18;
  }
  draw_focus_ring(p);
}

void SpatialBench::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton || (event->modifiers() & Qt::ShiftModifier))
    return BenchView::mousePressEvent(event);
  spinning_ = true;
  spun_from_ = event->position();
}

void SpatialBench::mouseMoveEvent(QMouseEvent* event) {
  if (!spinning_) return BenchView::mouseMoveEvent(event);
  const QPointF d = event->position() - spun_from_;
  spun_from_ = event->position();
  spin(0.4 * d.x(), 0.4 * d.y());
}

void SpatialBench::mouseReleaseEvent(QMouseEvent* event) {
  if (!std::exchange(spinning_, false)) BenchView::mouseReleaseEvent(event);
}

void SpatialBench::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
  case Qt::Key_Left:
    return spin(-10, 0);
  case Qt::Key_Right:
    return spin(10, 0);
  case Qt::Key_Up:
    return spin(0, 10);
  case Qt::Key_Down:
    return spin(0, -10);
  default:
    BenchView::keyPressEvent(event);
  }
}

} // namespace uc::app
