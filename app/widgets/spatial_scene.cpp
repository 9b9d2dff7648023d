#include "widgets/spatial_scene.h"

#include <QPainter>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace uc::app {

double Lamp::rim() const { return std::cos(spread_deg / 2 * std::numbers::pi / 180); }

QVector3D Lamp::direction() const {
  const double a = azimuth_deg * std::numbers::pi / 180;
  const double h = height_deg * std::numbers::pi / 180;
  return QVector3D(static_cast<float>(std::cos(a) * std::cos(h)), static_cast<float>(std::sin(a) * std::cos(h)),
                   static_cast<float>(std::sin(h)));
}

std::pair<QVector3D, double> light_at(const Lamp& lamp, const SpatialView& view, const QVector3D& place) {
  if (lamp.spread_deg <= 0) return {lamp.direction(), 1};
  const double spot = SpatialView::spot_reaches * view.reach_mm;
  const QVector3D to = view.middle + static_cast<float>(spot) * lamp.direction() - place;
  const QVector3D way = to.normalized();
  const double rim = lamp.rim();
  const double soft = 0.15 * (1 - rim);
  const double t = std::clamp((QVector3D::dotProduct(way, lamp.direction()) - rim + soft) / (2 * soft), 0.0, 1.0);
  const double away = static_cast<double>(to.length()) / spot;
  return {way, t * t * (3 - 2 * t) / (away * away)};
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
