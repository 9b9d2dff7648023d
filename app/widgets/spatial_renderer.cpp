#include "widgets/spatial_renderer.h"

#include "widgets/spatial_drawing.h"

#include <QCoreApplication>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions>

namespace uc::app {
namespace {

constexpr int smooth_samples = 4;

/// The name OpenGL gives what draws; empty when there is nothing.
QString drawn_by() {
  QOffscreenSurface surface;
  surface.setFormat(spatial_format());
  surface.create();
  QOpenGLContext context;
  context.setFormat(spatial_format());
  if (!surface.isValid() || !context.create() || !context.makeCurrent(&surface)) return {};
  if (context.format().version() < spatial_format().version()) return {};
  return QString::fromLatin1(reinterpret_cast<const char*>(context.functions()->glGetString(GL_RENDERER)));
}

} // namespace

bool graphics_card_draws() {
  static const bool card = [] {
    const QString name = drawn_by();
    const auto by = [&](const char* word) { return name.contains(QLatin1String(word), Qt::CaseInsensitive); };
    return !name.isEmpty() && !by("llvmpipe") && !by("softpipe") && !by("swrast") && !by("software");
  }();
  return card;
}

struct SpatialRenderer::Device {
  QOffscreenSurface& surface;
  QOpenGLContext context;
  QString trouble;
  SpatialDrawing drawing;
  std::unique_ptr<QOpenGLFramebufferObject> target;
  int samples = 0; // of the target

  explicit Device(QOffscreenSurface& on) : surface(on) {}
};

SpatialRenderer::SpatialRenderer(QOffscreenSurface& surface) : device_(std::make_unique<Device>(surface)) {
  Device& d = *device_;
  d.context.setFormat(spatial_format());
  if (!d.context.create() || !d.surface.isValid() || !d.context.makeCurrent(&d.surface)) {
    d.trouble = QCoreApplication::translate("SpatialDrawing", "no OpenGL context can be had");
    return;
  }
  d.trouble = d.drawing.prepare();
  d.context.doneCurrent();
}

SpatialRenderer::~SpatialRenderer() {
  Device& d = *device_;
  if (!d.context.isValid() || !d.context.makeCurrent(&d.surface)) return;
  d.target.reset();
  d.drawing.release();
  d.context.doneCurrent();
}

QString SpatialRenderer::trouble() const { return device_->trouble; }

QImage SpatialRenderer::render(const SpatialScene& scene, const SpatialView& view, const Lamp& lamp,
                               const QSize& pixels, bool smooth) {
  Device& d = *device_;
  if (!d.trouble.isEmpty() || pixels.isEmpty() || !d.context.makeCurrent(&d.surface)) return {};
  const int samples = smooth ? smooth_samples : 0;
  if (!d.target || d.target->size() != pixels || d.samples != samples) {
    d.samples = samples;
    QOpenGLFramebufferObjectFormat format;
    format.setAttachment(QOpenGLFramebufferObject::Depth);
    format.setSamples(samples);
    d.target = std::make_unique<QOpenGLFramebufferObject>(pixels, format);
  }
  d.target->bind();
  d.drawing.draw(scene, view, lamp, pixels, Qt::transparent);
  QImage out = d.target->toImage();
  d.target->release();
  d.context.doneCurrent();
  return out;
}

} // namespace uc::app
