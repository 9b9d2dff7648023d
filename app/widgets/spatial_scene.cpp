#include "widgets/spatial_scene.h"

#include <QPainter>

#include <algorithm>
#include <map>

namespace uc::app {

namespace {

Point3 point_of(const QVector3D& v) { return {v.x(), v.y(), v.z()}; }
QVector3D vector_of(const Point3& p) {
  return {static_cast<float>(p.x()), static_cast<float>(p.y()), static_cast<float>(p.z())};
}

} // namespace

QVector3D towards(const Lamp& lamp) { return vector_of(lamp.direction()); }

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
    const auto [way, share] = light_at(lamp, {point_of(view.middle), view.reach_mm}, point_of(middle));
    const double lit = share * std::max(0.0, point_of(n).dot(way));
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
