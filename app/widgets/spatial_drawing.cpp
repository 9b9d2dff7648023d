#include "widgets/spatial_drawing.h"

#include <QCoreApplication>
#include <QOpenGLContext>
#include <QOpenGLExtraFunctions>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc::app {
namespace {

constexpr int shadow_pixels = 1024;
constexpr int corner_bytes = 12 * sizeof(float); // place, normal, the two colours

// Papers are matt: Lambert's law, with what comes from everywhere added.
constexpr const char* paper_vertex = R"(#version 330 core
in vec3 place; in vec3 normal; in vec3 front; in vec3 back;
uniform mat4 to_clip; uniform mat4 to_lamp;
out vec3 n; out vec3 f; out vec3 b; out vec3 p; out vec4 seen_from_lamp;
void main() {
  gl_Position = to_clip * vec4(place, 1.0);
  seen_from_lamp = to_lamp * vec4(place, 1.0);
  n = normal; f = front; b = back; p = place;
})";
constexpr const char* paper_fragment = R"(#version 330 core
in vec3 n; in vec3 f; in vec3 b; in vec3 p; in vec4 seen_from_lamp;
uniform vec3 lamp; uniform vec3 eye; uniform float ambient; uniform bool shadows; uniform sampler2D depths;
uniform vec3 middle; uniform float spot; // its distance from the middle; 0: from far away
uniform float rim;  // the cosine at the rim of its cone
out vec4 colour;
void main() {
  vec3 towards = normalize(n);
  bool face = dot(towards, eye) > 0.0;
  if (!face) towards = -towards;
  vec3 to_lamp = spot > 0.0 ? middle + spot * lamp - p : lamp;
  vec3 way = normalize(to_lamp);
  float share = 1.0;
  if (spot > 0.0) {
    float away = length(to_lamp) / spot;
    share = smoothstep(rim - 0.15 * (1.0 - rim), rim + 0.15 * (1.0 - rim), dot(way, lamp)) / (away * away);
  }
  float lit = min(max(dot(towards, way), 0.0) * share, 1.5);
  if (shadows && lit > 0.0) {
    vec3 at = seen_from_lamp.xyz / seen_from_lamp.w * 0.5 + 0.5;
    float free = 0.0;
    for (int i = -1; i <= 1; ++i)
      for (int j = -1; j <= 1; ++j)
        free += at.z - 0.004 * (2.0 - min(lit, 1.0)) <= texture(depths, at.xy + vec2(i, j) / 1024.0).r ? 1.0 : 0.0;
    lit *= free / 9.0;
  }
  colour = vec4(min((face ? f : b) * (ambient + (1.0 - ambient) * lit), vec3(1.0)), 1.0);
})";
constexpr const char* line_vertex = R"(#version 330 core
in vec3 place; in vec3 front; uniform mat4 to_clip; out vec3 f;
void main() { gl_Position = to_clip * vec4(place, 1.0); gl_Position.z -= 0.0015; f = front; })";
constexpr const char* line_fragment = R"(#version 330 core
in vec3 f; out vec4 colour; void main() { colour = vec4(f, 1.0); })";
constexpr const char* depth_vertex = R"(#version 330 core
in vec3 place; uniform mat4 to_clip; void main() { gl_Position = to_clip * vec4(place, 1.0); })";
constexpr const char* depth_fragment = R"(#version 330 core
void main() {})";

void put(std::vector<float>& data, const QVector3D& v) { data.insert(data.end(), {v.x(), v.y(), v.z()}); }
QVector3D rgb(const QColor& c) {
  return {static_cast<float>(c.redF()), static_cast<float>(c.greenF()), static_cast<float>(c.blueF())};
}

std::unique_ptr<QOpenGLShaderProgram> compiled(const char* vertex, const char* fragment, QString& trouble) {
  auto p = std::make_unique<QOpenGLShaderProgram>();
  if (!p->addShaderFromSourceCode(QOpenGLShader::Vertex, vertex) ||
      !p->addShaderFromSourceCode(QOpenGLShader::Fragment, fragment) || !p->link())
    trouble = p->log();
  return p;
}

void attribute(QOpenGLShaderProgram& p, const char* name, int offset) {
  const int place = p.attributeLocation(name);
  if (place < 0) return;
  p.enableAttributeArray(place);
  p.setAttributeBuffer(place, GL_FLOAT, offset, 3, corner_bytes);
}

/// From space to the lamp's map of depths.
QMatrix4x4 lamp_matrix(const SpatialView& view, const Lamp& lamp) {
  QMatrix4x4 to_lamp;
  const float reach = static_cast<float>(view.reach_mm);
  const float round = static_cast<float>(Lit::scene_reaches) * reach;
  const float away = static_cast<float>(Lit::spot_reaches) * reach;
  if (lamp.spread_deg > 0) {
    const double all = 2 * std::asin(Lit::scene_reaches / Lit::spot_reaches) * 180 / std::numbers::pi;
    to_lamp.perspective(static_cast<float>(std::min(all, 1.2 * lamp.spread_deg)), 1, away - round, away + round);
  } else {
    to_lamp.ortho(-round, round, -round, round, away - round, away + round);
  }
  const QVector3D up = std::abs(towards(lamp).z()) > 0.99F ? QVector3D(0, 1, 0) : QVector3D(0, 0, 1);
  QMatrix4x4 look;
  look.lookAt(view.middle + away * towards(lamp), view.middle, up);
  return to_lamp * look;
}

/// Device pixels to clip space: y down, the nearer the lesser.
QMatrix4x4 clip_matrix(const SpatialView& view, const QSize& pixels) {
  QMatrix4x4 to_clip;
  to_clip.translate(-1, 1, 0);
  to_clip.scale(2.0F / static_cast<float>(pixels.width()), -2.0F / static_cast<float>(pixels.height()),
                -1 / static_cast<float>(view.reach_mm));
  return to_clip * view.to_device;
}

} // namespace

QSurfaceFormat spatial_format() {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  format.setDepthBufferSize(24);
  return format;
}

QString SpatialDrawing::prepare() {
  QOpenGLContext& context = *QOpenGLContext::currentContext();
  if (context.format().version() < spatial_format().version())
    return QCoreApplication::translate("SpatialDrawing", "OpenGL is older than 3.3");
  QOpenGLExtraFunctions& gl = *context.extraFunctions();
  QString trouble;
  paper_ = compiled(paper_vertex, paper_fragment, trouble);
  line_ = compiled(line_vertex, line_fragment, trouble);
  depth_ = compiled(depth_vertex, depth_fragment, trouble);
  array_ = std::make_unique<QOpenGLVertexArrayObject>();
  array_->create();
  buffer_.create();
  prepare_shadows(gl);
  return trouble;
}

void SpatialDrawing::prepare_shadows(QOpenGLExtraFunctions& gl) {
  GLint before = 0;
  gl.glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
  gl.glGenTextures(1, &shadow_texture_);
  gl.glBindTexture(GL_TEXTURE_2D, shadow_texture_);
  gl.glTexImage2D(GL_TEXTURE_2D, 0, GL_DEPTH_COMPONENT24, shadow_pixels, shadow_pixels, 0, GL_DEPTH_COMPONENT,
                  GL_UNSIGNED_INT, nullptr);
  for (const GLenum side : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER})
    gl.glTexParameteri(GL_TEXTURE_2D, side, GL_NEAREST);
  for (const GLenum side : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T})
    gl.glTexParameteri(GL_TEXTURE_2D, side, GL_CLAMP_TO_EDGE);
  gl.glGenFramebuffers(1, &shadow_frame_);
  gl.glBindFramebuffer(GL_FRAMEBUFFER, shadow_frame_);
  gl.glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, shadow_texture_, 0);
  const GLenum none = GL_NONE;
  gl.glDrawBuffers(1, &none);
  gl.glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
}

void SpatialDrawing::release() {
  if (!array_) return;
  QOpenGLExtraFunctions& gl = *QOpenGLContext::currentContext()->extraFunctions();
  gl.glDeleteFramebuffers(1, &shadow_frame_);
  gl.glDeleteTextures(1, &shadow_texture_);
  buffer_.destroy();
  array_.reset();
  paper_.reset();
  line_.reset();
  depth_.reset();
}

/// Puts all corners of triangles and then all ends of lines into the buffer.
SpatialDrawing::Counts SpatialDrawing::fill(const SpatialScene& scene) {
  std::vector<float> data;
  data.reserve(36 * scene.triangles.size() + 24 * scene.lines.size());
  for (const auto& t : scene.triangles) {
    const QVector3D& a = scene.vertices[static_cast<std::size_t>(t.corners[0])];
    const QVector3D& b = scene.vertices[static_cast<std::size_t>(t.corners[1])];
    const QVector3D& c = scene.vertices[static_cast<std::size_t>(t.corners[2])];
    const QVector3D n = QVector3D::normal(a, b, c);
    for (const QVector3D& v : {a, b, c}) {
      put(data, v);
      put(data, n);
      put(data, rgb(t.face));
      put(data, rgb(t.underside));
    }
  }
  for (const auto& l : scene.lines) {
    for (const int v : {l.from, l.to}) {
      put(data, scene.vertices[static_cast<std::size_t>(v)]);
      put(data, {});
      put(data, rgb(l.colour));
      put(data, {});
    }
  }
  buffer_.allocate(data.data(), static_cast<int>(data.size() * sizeof(float)));
  return {static_cast<int>(3 * scene.triangles.size()), static_cast<int>(2 * scene.lines.size())};
}

void SpatialDrawing::draw_depths(QOpenGLExtraFunctions& gl, const QMatrix4x4& to_lamp, int corners) {
  GLint before = 0;
  gl.glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
  gl.glBindFramebuffer(GL_FRAMEBUFFER, shadow_frame_);
  gl.glViewport(0, 0, shadow_pixels, shadow_pixels);
  gl.glClear(GL_DEPTH_BUFFER_BIT);
  depth_->bind();
  attribute(*depth_, "place", 0);
  depth_->setUniformValue("to_clip", to_lamp);
  gl.glDrawArrays(GL_TRIANGLES, 0, corners);
  gl.glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
}

void SpatialDrawing::draw(const SpatialScene& scene, const SpatialView& view, const Lamp& lamp, const QSize& pixels,
                          const QColor& ground) {
  QOpenGLExtraFunctions& gl = *QOpenGLContext::currentContext()->extraFunctions();
  array_->bind();
  buffer_.bind();
  const Counts counts = fill(scene);
  const QMatrix4x4 to_clip = clip_matrix(view, pixels);
  const QMatrix4x4 to_lamp = lamp_matrix(view, lamp);
  gl.glEnable(GL_DEPTH_TEST);
  gl.glDisable(GL_CULL_FACE);
  gl.glDisable(GL_BLEND);
  if (lamp.shadows) draw_depths(gl, to_lamp, counts.corners);
  gl.glViewport(0, 0, pixels.width(), pixels.height());
  const float alpha = static_cast<float>(ground.alphaF());
  const QVector3D clear = alpha * rgb(ground);
  gl.glClearColor(clear.x(), clear.y(), clear.z(), alpha);
  gl.glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
  paper_->bind();
  attribute(*paper_, "place", 0);
  attribute(*paper_, "normal", 3 * sizeof(float));
  attribute(*paper_, "front", 6 * sizeof(float));
  attribute(*paper_, "back", 9 * sizeof(float));
  paper_->setUniformValue("to_clip", to_clip);
  paper_->setUniformValue("to_lamp", to_lamp);
  paper_->setUniformValue("lamp", towards(lamp));
  paper_->setUniformValue("spot", lamp.spread_deg > 0 ? static_cast<float>(Lit::spot_reaches * view.reach_mm) : 0.0F);
  paper_->setUniformValue("middle", view.middle);
  paper_->setUniformValue("rim", static_cast<float>(lamp.rim()));
  paper_->setUniformValue("eye", view.eye);
  paper_->setUniformValue("ambient", static_cast<float>(lamp.ambient));
  paper_->setUniformValue("shadows", lamp.shadows);
  gl.glActiveTexture(GL_TEXTURE0);
  gl.glBindTexture(GL_TEXTURE_2D, shadow_texture_);
  paper_->setUniformValue("depths", 0);
  gl.glEnable(GL_POLYGON_OFFSET_FILL);
  gl.glPolygonOffset(1, 1);
  gl.glDrawArrays(GL_TRIANGLES, 0, counts.corners);
  gl.glDisable(GL_POLYGON_OFFSET_FILL);
  line_->bind();
  attribute(*line_, "place", 0);
  attribute(*line_, "front", 6 * sizeof(float));
  line_->setUniformValue("to_clip", to_clip);
  gl.glDrawArrays(GL_LINES, counts.corners, counts.ends);
  line_->release();
  buffer_.release();
  array_->release();
  gl.glDisable(GL_DEPTH_TEST);
}

} // namespace uc::app
