#include "widgets/spatial_canvas.h"

#include <QOpenGLContext>

#include <utility>

namespace uc::app {

SpatialCanvas::SpatialCanvas(QWidget* bench, std::function<Frame()> frame)
    : QOpenGLWidget(bench), frame_(std::move(frame)) {
  setObjectName("spatial-canvas");
  setAttribute(Qt::WA_TransparentForMouseEvents);
  setFocusPolicy(Qt::NoFocus);
  QSurfaceFormat format = spatial_format();
  format.setSamples(4);
  setFormat(format);
}

SpatialCanvas::~SpatialCanvas() {
  give_back();
  // What is left of this by then must not be told that the context goes.
  if (context()) disconnect(context(), nullptr, this, nullptr);
}

void SpatialCanvas::give_back() {
  if (!isValid()) return;
  makeCurrent();
  drawing_.release();
  doneCurrent();
}

void SpatialCanvas::initializeGL() {
  // A widget that moves to another window gets another context; the former one takes along what it holds.
  connect(context(), &QOpenGLContext::aboutToBeDestroyed, this, &SpatialCanvas::give_back, Qt::UniqueConnection);
  trouble_ = drawing_.prepare();
  if (!trouble_.isEmpty()) QMetaObject::invokeMethod(this, &SpatialCanvas::failed, Qt::QueuedConnection);
}

void SpatialCanvas::paintGL() {
  if (!trouble_.isEmpty()) return;
  const Frame frame = frame_();
  drawing_.draw(frame.scene, frame.view, frame.lamp, size() * devicePixelRatioF(), frame.ground);
  ++frames_drawn_;
}

} // namespace uc::app
