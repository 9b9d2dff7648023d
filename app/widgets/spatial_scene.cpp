#include "widgets/spatial_scene.h"

#include <QOffscreenSurface>
#include <QOpenGLBuffer>
#include <QOpenGLContext>
#include <QOpenGLExtraFunctions>
#include <QOpenGLFramebufferObject>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace uc::app {
namespace {

constexpr int smooth_samples = 4;

constexpr int shadow_pixels = 1024;
constexpr double spot_reaches = 0.8;  // how far from the middle a spot lamp stands, over the scene's reach
constexpr double scene_reaches = 0.4; // how far the scene does

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

/// The cosine of half the cone's angle.
double rim_of(const Lamp& lamp) { return std::cos(lamp.spread_deg / 2 * std::numbers::pi / 180); }

} // namespace

QVector3D Lamp::direction() const {
  const double a = azimuth_deg * std::numbers::pi / 180;
  const double h = height_deg * std::numbers::pi / 180;
  return QVector3D(static_cast<float>(std::cos(a) * std::cos(h)), static_cast<float>(std::sin(a) * std::cos(h)),
                   static_cast<float>(std::sin(h)));
}

std::pair<QVector3D, double> light_at(const Lamp& lamp, const SpatialView& view, const QVector3D& place) {
  if (lamp.spread_deg <= 0) return {lamp.direction(), 1};
  const double spot = spot_reaches * view.reach_mm;
  const QVector3D to = view.middle + static_cast<float>(spot) * lamp.direction() - place;
  const QVector3D way = to.normalized();
  const double rim = rim_of(lamp);
  const double soft = 0.15 * (1 - rim);
  const double t = std::clamp((QVector3D::dotProduct(way, lamp.direction()) - rim + soft) / (2 * soft), 0.0, 1.0);
  const double away = static_cast<double>(to.length()) / spot;
  return {way, t * t * (3 - 2 * t) / (away * away)};
}

struct SpatialRenderer::Device {
  QOffscreenSurface surface;
  QOpenGLContext context;
  QString trouble;
  std::unique_ptr<QOpenGLShaderProgram> paper, line, depth;
  std::unique_ptr<QOpenGLFramebufferObject> target;
  int samples = 0; // of the target
  std::unique_ptr<QOpenGLVertexArrayObject> array;
  QOpenGLBuffer buffer{QOpenGLBuffer::VertexBuffer};
  GLuint shadow_frame = 0;
  GLuint shadow_texture = 0;

  std::unique_ptr<QOpenGLShaderProgram> program(const char* vertex, const char* fragment) {
    auto p = std::make_unique<QOpenGLShaderProgram>();
    if (!p->addShaderFromSourceCode(QOpenGLShader::Vertex, vertex) ||
        !p->addShaderFromSourceCode(QOpenGLShader::Fragment, fragment) || !p->link())
      trouble = p->log();
    return p;
  }
  void prepare_shadows(QOpenGLExtraFunctions& gl) {
    gl.glGenTextures(1, &shadow_texture);
    gl.glBindTexture(GL_TEXTURE_2D, shadow_texture);
    gl.glTexImage2D(GL_TEXTURE_2D, 0, GL_DEPTH_COMPONENT24, shadow_pixels, shadow_pixels, 0, GL_DEPTH_COMPONENT,
                    GL_UNSIGNED_INT, nullptr);
    for (const GLenum side : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER})
      gl.glTexParameteri(GL_TEXTURE_2D, side, GL_NEAREST);
    for (const GLenum side : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T})
      gl.glTexParameteri(GL_TEXTURE_2D, side, GL_CLAMP_TO_EDGE);
    gl.glGenFramebuffers(1, &shadow_frame);
    gl.glBindFramebuffer(GL_FRAMEBUFFER, shadow_frame);
    gl.glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, shadow_texture, 0);
    const GLenum none = GL_NONE;
    gl.glDrawBuffers(1, &none);
  }
  void attribute(QOpenGLShaderProgram& p, const char* name, int offset, int stride) {
    const int place = p.attributeLocation(name);
    if (place < 0) return;
    p.enableAttributeArray(place);
    p.setAttributeBuffer(place, GL_FLOAT, offset, 3, stride);
  }
};

SpatialRenderer::SpatialRenderer() : device_(std::make_unique<Device>()) {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  format.setDepthBufferSize(24);
  Device& d = *device_;
  d.surface.setFormat(format);
  d.surface.create();
  d.context.setFormat(format);
  if (!d.context.create() || !d.surface.isValid() || !d.context.makeCurrent(&d.surface)) {
    d.trouble = QObject::tr("no OpenGL context can be had");
    return;
  }
  if (d.context.format().version() < qMakePair(3, 3)) {
    d.trouble = QObject::tr("OpenGL is older than 3.3");
    return;
  }
  d.paper = d.program(paper_vertex, paper_fragment);
  d.line = d.program(line_vertex, line_fragment);
  d.depth = d.program(depth_vertex, depth_fragment);
  d.array = std::make_unique<QOpenGLVertexArrayObject>();
  d.array->create();
  d.buffer.create();
  d.prepare_shadows(*d.context.extraFunctions());
  d.context.doneCurrent();
}

SpatialRenderer::~SpatialRenderer() {
  Device& d = *device_;
  if (!d.array || !d.context.makeCurrent(&d.surface)) return;
  d.context.extraFunctions()->glDeleteFramebuffers(1, &d.shadow_frame);
  d.context.extraFunctions()->glDeleteTextures(1, &d.shadow_texture);
  d.target.reset();
  d.buffer.destroy();
  d.array.reset();
  d.paper.reset();
  d.line.reset();
  d.depth.reset();
  d.context.doneCurrent();
}

QString SpatialRenderer::trouble() const { return device_->trouble; }

QImage SpatialRenderer::render(const SpatialScene& scene, const SpatialView& view, const Lamp& lamp,
                               const QSize& pixels, bool smooth) {
  Device& d = *device_;
  if (!d.trouble.isEmpty() || pixels.isEmpty() || !d.context.makeCurrent(&d.surface)) return {};
  QOpenGLExtraFunctions& gl = *d.context.extraFunctions();
  const int samples = smooth ? smooth_samples : 0;
  if (!d.target || d.target->size() != pixels || d.samples != samples) {
    d.samples = samples;
    QOpenGLFramebufferObjectFormat format;
    format.setAttachment(QOpenGLFramebufferObject::Depth);
    format.setSamples(samples);
    d.target = std::make_unique<QOpenGLFramebufferObject>(pixels, format);
  }
  std::vector<float> data; // place, normal, front, back
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
  const int corners = static_cast<int>(3 * scene.triangles.size());
  for (const auto& l : scene.lines) {
    for (const int v : {l.from, l.to}) {
      put(data, scene.vertices[static_cast<std::size_t>(v)]);
      put(data, {});
      put(data, rgb(l.colour));
      put(data, {});
    }
  }
  constexpr int stride = 12 * sizeof(float);
  d.array->bind();
  d.buffer.bind();
  d.buffer.allocate(data.data(), static_cast<int>(data.size() * sizeof(float)));
  // Device pixels to clip space: y down, the nearer the lesser.
  const float reach = static_cast<float>(view.reach_mm);
  QMatrix4x4 to_clip;
  to_clip.translate(-1, 1, 0);
  to_clip.scale(2.0F / static_cast<float>(pixels.width()), -2.0F / static_cast<float>(pixels.height()), -1 / reach);
  to_clip *= view.to_device;
  QMatrix4x4 to_lamp;
  const float round = static_cast<float>(scene_reaches) * reach;
  const float away = static_cast<float>(spot_reaches) * reach;
  if (lamp.spread_deg > 0) {
    const double all = 2 * std::asin(scene_reaches / spot_reaches) * 180 / std::numbers::pi;
    to_lamp.perspective(static_cast<float>(std::min(all, 1.2 * lamp.spread_deg)), 1, away - round, away + round);
  } else {
    to_lamp.ortho(-round, round, -round, round, away - round, away + round);
  }
  const QVector3D up = std::abs(lamp.direction().z()) > 0.99F ? QVector3D(0, 1, 0) : QVector3D(0, 0, 1);
  QMatrix4x4 look;
  look.lookAt(view.middle + away * lamp.direction(), view.middle, up);
  to_lamp *= look;

  gl.glEnable(GL_DEPTH_TEST);
  gl.glDisable(GL_CULL_FACE);
  if (lamp.shadows) {
    gl.glBindFramebuffer(GL_FRAMEBUFFER, d.shadow_frame);
    gl.glViewport(0, 0, shadow_pixels, shadow_pixels);
    gl.glClear(GL_DEPTH_BUFFER_BIT);
    d.depth->bind();
    d.attribute(*d.depth, "place", 0, stride);
    d.depth->setUniformValue("to_clip", to_lamp);
    gl.glDrawArrays(GL_TRIANGLES, 0, corners);
  }
  d.target->bind();
  gl.glViewport(0, 0, pixels.width(), pixels.height());
  gl.glClearColor(0, 0, 0, 0);
  gl.glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
  d.paper->bind();
  d.attribute(*d.paper, "place", 0, stride);
  d.attribute(*d.paper, "normal", 12, stride);
  d.attribute(*d.paper, "front", 24, stride);
  d.attribute(*d.paper, "back", 36, stride);
  d.paper->setUniformValue("to_clip", to_clip);
  d.paper->setUniformValue("to_lamp", to_lamp);
  d.paper->setUniformValue("lamp", lamp.direction());
  d.paper->setUniformValue("spot", lamp.spread_deg > 0 ? away : 0.0F);
  d.paper->setUniformValue("middle", view.middle);
  d.paper->setUniformValue("rim", static_cast<float>(rim_of(lamp)));
  d.paper->setUniformValue("eye", view.eye);
  d.paper->setUniformValue("ambient", static_cast<float>(lamp.ambient));
  d.paper->setUniformValue("shadows", lamp.shadows);
  gl.glActiveTexture(GL_TEXTURE0);
  gl.glBindTexture(GL_TEXTURE_2D, d.shadow_texture);
  d.paper->setUniformValue("depths", 0);
  gl.glEnable(GL_POLYGON_OFFSET_FILL);
  gl.glPolygonOffset(1, 1);
  gl.glDrawArrays(GL_TRIANGLES, 0, corners);
  gl.glDisable(GL_POLYGON_OFFSET_FILL);
  d.line->bind();
  d.attribute(*d.line, "place", 0, stride);
  d.attribute(*d.line, "front", 24, stride);
  d.line->setUniformValue("to_clip", to_clip);
  gl.glDrawArrays(GL_LINES, corners, static_cast<int>(2 * scene.lines.size()));
  QImage out = d.target->toImage();
  d.target->release();
  d.array->release();
  d.context.doneCurrent();
  return out;
}

void paint_scene(QPainter& painter, const SpatialScene& scene, const SpatialView& view, const Lamp& lamp) {
  std::vector<QVector3D> seen;
  for (const QVector3D& v : scene.vertices) seen.push_back(view.to_device.map(v));
  const auto at = [&](int v) { return seen[static_cast<std::size_t>(v)]; };
  struct Shown {
    float depth = 0;
    std::size_t triangle = 0;
  };
  std::vector<Shown> order;
  for (std::size_t i = 0; i < scene.triangles.size(); ++i) {
    const auto& c = scene.triangles[i].corners;
    order.push_back({at(c[0]).z() + at(c[1]).z() + at(c[2]).z(), i});
  }
  std::stable_sort(order.begin(), order.end(), [](const Shown& a, const Shown& b) { return a.depth < b.depth; });
  std::map<std::pair<int, int>, QColor> line_between;
  for (const auto& l : scene.lines) line_between[{std::min(l.from, l.to), std::max(l.from, l.to)}] = l.colour;
  for (const Shown& s : order) {
    const auto& t = scene.triangles[s.triangle];
    QVector3D n = QVector3D::normal(scene.vertices[static_cast<std::size_t>(t.corners[0])],
                                    scene.vertices[static_cast<std::size_t>(t.corners[1])],
                                    scene.vertices[static_cast<std::size_t>(t.corners[2])]);
    const bool face = QVector3D::dotProduct(n, view.eye) > 0;
    if (!face) n = -n;
    const QVector3D middle = (scene.vertices[static_cast<std::size_t>(t.corners[0])] +
                              scene.vertices[static_cast<std::size_t>(t.corners[1])] +
                              scene.vertices[static_cast<std::size_t>(t.corners[2])]) /
                             3;
    const auto [way, share] = light_at(lamp, view, middle);
    const double lit = share * std::max(0.0F, QVector3D::dotProduct(n, way));
    const double light = std::min(1.0, lamp.ambient + (1 - lamp.ambient) * lit);
    const QColor c = face ? t.face : t.underside;
    const QColor shaded = QColor::fromRgbF(c.redF() * light, c.greenF() * light, c.blueF() * light);
    painter.setBrush(shaded);
    painter.setPen(QPen(shaded, 0.6)); // no gaps between neighbours
    painter.drawPolygon(
        QPolygonF{at(t.corners[0]).toPointF(), at(t.corners[1]).toPointF(), at(t.corners[2]).toPointF()});
    for (std::size_t i = 0; i < 3; ++i) {
      const int a = t.corners[i];
      const int b = t.corners[(i + 1) % 3];
      const auto line = line_between.find({std::min(a, b), std::max(a, b)});
      if (line == line_between.end()) continue;
      painter.setPen(QPen(line->second, 1));
      painter.drawLine(at(a).toPointF(), at(b).toPointF());
    }
  }
}

} // namespace uc::app
