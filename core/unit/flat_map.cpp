#include "unit/flat_map.h"

#include "base/index.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double pi = std::numbers::pi;

double turn(const Point& a, const Point& b, const Point& c) {
  const Point u = b - a;
  const Point v = c - a;
  return u.x() * v.y() - u.y() * v.x();
}

bool cross(const Point& a, const Point& b, const Point& c, const Point& d) {
  return turn(a, b, c) * turn(a, b, d) < 0 && turn(c, d, a) * turn(c, d, b) < 0;
}

bool apart(const std::vector<Point>& places, const std::vector<std::array<VertexId, 2>>& edges) {
  for (std::size_t i = 0; i < edges.size(); ++i)
    for (std::size_t k = 0; k < i; ++k)
      if (cross(places[at(edges[i][0])], places[at(edges[i][1])], places[at(edges[k][0])], places[at(edges[k][1])]))
        return false;
  return true;
}

/// The face that looks away most from a direction.
FaceId face_behind(const Polyhedron& solid, const Point3& towards) {
  FaceId behind(0);
  double least = 2;
  for (FaceId f(0); at(f) < solid.faces.size(); ++f) {
    const double along = solid.normal_of(f).dot(towards);
    if (along >= least) continue;
    least = along;
    behind = f;
  }
  return behind;
}

/// Directions square to one another, the third given.
struct Frame {
  Point3 x, y, z;
  explicit Frame(const Point3& towards) : z(towards.normalized()) {
    const Point3 other = std::abs(z.x()) < 0.9 ? Point3::UnitX() : Point3::UnitY();
    x = other.cross(z).normalized();
    y = z.cross(x);
  }
};

/// In circles about the pole, as far from the middle as `radius` says of the angle from it.
template <typename Radius> std::vector<Point> about_pole(const Polyhedron& solid, const Frame& frame, Radius radius) {
  const double size = diameter(solid) / 2;
  std::vector<Point> out;
  out.reserve(solid.vertices.size());
  for (const Point3& v : solid.vertices) {
    const double angle = std::acos(std::clamp(v.normalized().dot(frame.z), -1.0, 1.0));
    const Point level{v.dot(frame.x), v.dot(frame.y)};
    out.push_back(level.norm() < 1e-12 ? Point(Point::Zero()) : Point(level / level.norm() * radius(angle) * size));
  }
  return out;
}

/// From a point outside the outermost face so near to it that every other face is seen from within.
std::vector<Point> through_face(const Polyhedron& solid, const Frame& frame, FaceId outer) {
  double room = 1e300;
  const Point3 centre = solid.centre_of(outer);
  const Point3 out = solid.normal_of(outer);
  for (FaceId f(0); at(f) < solid.faces.size(); ++f) {
    const double rise = solid.normal_of(f).dot(out);
    const double below = solid.normal_of(f).dot(solid.centre_of(f) - centre);
    if (f != outer && rise > 1e-9) room = std::min(room, below / rise);
  }
  const Point3 eye = centre + std::min(room / 2, diameter(solid) / 4) * out;
  std::vector<Point> places;
  places.reserve(solid.vertices.size());
  double far = 0;
  for (const Point3& v : solid.vertices) {
    const Point3 way = v - eye;
    const Point p = Point{way.dot(frame.x), way.dot(frame.y)} / -way.dot(out);
    far = std::max(far, p.norm());
    places.push_back(p);
  }
  for (Point& p : places) p *= diameter(solid) / 2 * 2.5 / far;
  return places;
}

Polygon bar(const Point& from, const Point& to, double part, double half) {
  const Point along = to - from;
  const Point a = from + std::max(part * along.norm(), 1.6 * half) * along.normalized();
  const Point b = to - std::max(part * along.norm(), 1.6 * half) * along.normalized();
  const Point side = half * Point{-along.y(), along.x()}.normalized();
  return {a - side, b - side, b + side, a + side};
}

Point3 middle_of(const Polyhedron& solid, const Unit& unit) {
  switch (unit.kind) {
  case Unit::Kind::face:
    return solid.centre_of(FaceId(unit.index));
  case Unit::Kind::vertex:
    return solid.vertices[at(unit.index)];
  case Unit::Kind::edge:
  case Unit::Kind::clip:
    break;
  }
  return (solid.vertices[at(unit.vertices[0])] + solid.vertices[at(unit.vertices[1])]) / 2;
}

} // namespace

std::vector<Point> flat_vertices(const Polyhedron& solid, const Point3& middle) {
  const FaceId outer = face_behind(solid, middle.normalized());
  const Frame frame(-solid.normal_of(outer));
  const auto edges = solid.edges();
  auto places = about_pole(solid, frame, [](double angle) { return 2 * std::sin(angle / 2); });
  if (apart(places, edges)) return places;
  places = about_pole(solid, frame, [](double angle) { return angle; });
  if (apart(places, edges)) return places;
  places = about_pole(solid, frame, [](double angle) { return std::tan(std::min(angle, 0.97 * pi) / 2); });
  if (apart(places, edges)) return places;
  return through_face(solid, frame, outer);
}

std::vector<Polygon> unit_outlines(const Polyhedron& solid, const UnitGraph& graph, int first) {
  const Point3 middle = graph.units.empty() ? Point3::UnitZ() : middle_of(solid, graph.units[at(first)]);
  const std::vector<Point> places = flat_vertices(solid, middle.norm() > 1e-9 ? middle : Point3(Point3::UnitZ()));
  const FaceId outer = face_behind(solid, middle.normalized());
  std::vector<Polygon> out;
  out.reserve(graph.units.size());
  double shortest = 1e300;
  for (const auto& [a, b] : solid.edges()) shortest = std::min(shortest, (places[at(a)] - places[at(b)]).norm());
  const double half = 0.12 * shortest;
  for (const Unit& unit : graph.units) {
    Polygon outline;
    switch (unit.kind) {
    case Unit::Kind::edge:
    case Unit::Kind::clip:
      outline = bar(places[at(unit.vertices[0])], places[at(unit.vertices[1])],
                    unit.kind == Unit::Kind::clip ? 0.3 : 0.12, half);
      break;
    case Unit::Kind::face: {
      Point centre = Point::Zero();
      const auto& face = solid.faces[at(unit.index)];
      for (const int v : face) centre += places[at(v)] / static_cast<double>(face.size());
      const double scale = unit.index == outer ? 1.3 : 0.86;
      outline.reserve(face.size());
      for (const int v : face) outline.push_back(centre + scale * (places[at(v)] - centre));
      break;
    }
    case Unit::Kind::vertex:
      outline.reserve(8);
      for (int i = 0; i < 8; ++i)
        outline.push_back(places[at(unit.index)] +
                          0.28 * shortest * Point{std::cos((i + 0.5) * pi / 4), std::sin((i + 0.5) * pi / 4)});
      break;
    }
    if (signed_area(outline) < 0) std::reverse(outline.begin(), outline.end());
    out.push_back(std::move(outline));
  }
  return out;
}

} // namespace uc
