#include "io/lamp.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {

double Lamp::rim() const { return std::cos(spread_deg / 2 * std::numbers::pi / 180); }

Point3 Lamp::direction() const {
  const double a = azimuth_deg * std::numbers::pi / 180;
  const double h = height_deg * std::numbers::pi / 180;
  return {std::cos(a) * std::cos(h), std::sin(a) * std::cos(h), std::sin(h)};
}

Lamp at_eye(Lamp lamp, const Point3& eye) {
  const Point3 left = eye.cross(Point3::UnitZ()).normalized();
  const Point3 up = left.cross(eye);
  const Point3 way = (eye - 0.35 * up - 0.3 * left).normalized();
  lamp.azimuth_deg = std::atan2(way.y(), way.x()) * 180 / std::numbers::pi;
  lamp.height_deg = std::asin(std::clamp(way.z(), -1.0, 1.0)) * 180 / std::numbers::pi;
  return lamp;
}

std::pair<Point3, double> light_at(const Lamp& lamp, const Lit& lit, const Point3& place) {
  if (lamp.spread_deg <= 0) return {lamp.direction(), 1};
  const double spot = Lit::spot_reaches * lit.reach_mm;
  const Point3 to = lit.middle + spot * lamp.direction() - place;
  const Point3 way = to.normalized();
  const double rim = lamp.rim();
  const double soft = 0.15 * (1 - rim);
  const double t = std::clamp((way.dot(lamp.direction()) - rim + soft) / (2 * soft), 0.0, 1.0);
  const double away = to.norm() / spot;
  return {way, t * t * (3 - 2 * t) / (away * away)};
}

} // namespace uc
