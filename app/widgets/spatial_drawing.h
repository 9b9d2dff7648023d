// A scene drawn with OpenGL 3.3 in the context that is current: the shaders, the corners' buffer and the lamp's map of
// depths. Whoever has a context and a frame to draw into, a widget or a picture, uses this.
#pragma once

#include "widgets/spatial_scene.h"

#include <QOpenGLBuffer>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>
#include <QSize>
#include <QString>
#include <QSurfaceFormat>

class QOpenGLExtraFunctions;

namespace uc::app {

/// What a context needs for this: OpenGL 3.3 core with depths.
QSurfaceFormat spatial_format();

class SpatialDrawing {
public:
  /// Compiles what is needed; a context is current. Says what went wrong; empty when nothing did.
  QString prepare();
  /// Draws into the frame that is bound, over `ground`. The context in which it was prepared is current.
  void draw(const SpatialScene& scene, const SpatialView& view, const Lamp& lamp, const QSize& pixels,
            const QColor& ground);
  /// Gives back what the context holds; it is current.
  void release();

private:
  struct Counts {
    int corners = 0;
    int ends = 0;
  };
  Counts fill(const SpatialScene& scene);
  void draw_depths(QOpenGLExtraFunctions& gl, const QMatrix4x4& to_lamp, int corners);
  void prepare_shadows(QOpenGLExtraFunctions& gl);

  std::unique_ptr<QOpenGLShaderProgram> paper_, line_, depth_;
  std::unique_ptr<QOpenGLVertexArrayObject> array_;
  QOpenGLBuffer buffer_{QOpenGLBuffer::VertexBuffer};
  GLuint shadow_frame_ = 0;
  GLuint shadow_texture_ = 0;
};

} // namespace uc::app
