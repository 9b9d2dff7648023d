// The largest polygon of a sheet, made from references found for its centre and for one or two of its vertices.
#include "reference/polygon.h"
#include "reference/recipe_hand.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

using std::numbers::pi;

/// The easiest of the routes that are as good as exact for scissors.
const Route& easiest(const std::vector<Route>& routes, double size) {
  const Route* best = &routes.front();
  const auto badness = [&](const Route& r) { return std::max(r.error_mm / size, 1e-5) * (1 + 0.2 * r.creases); };
  for (const Route& r : routes) {
    if (badness(r) < badness(*best)) best = &r;
  }
  return *best;
}

} // namespace

Result<PolygonMethod> polygon_by_references(const Polygon& sheet, const LargestPolygon& largest,
                                            Rosette::Marking marking, double sigma_mm, const SheetIndex& index) {
  const int n = static_cast<int>(largest.vertices.size());
  const double size = bounding_box(sheet).size().maxCoeff();
  Point middle = Point::Zero();
  for (const Point& p : largest.vertices) middle += p / n;
  Hand hand(sheet);
  SearchOptions options;
  options.sigma_mm = sigma_mm;
  options.top = 40;
  const auto reference = [&](const Target& target, int carrier) {
    const auto routes = find_routes(index, sheet, target, options);
    return routes ? made_again(hand.c, easiest(*routes, size), carrier) : -1;
  };
  const auto mark = [&](const Point& p) {
    if (const int there = hand.c.same_point(p, 1e-9 * size); there >= 0) return there;
    for (int e = 0; e < static_cast<int>(sheet.size()); ++e) {
      const Segment s = edge_in_reading_order(sheet, e);
      if (std::abs(Line::through(s.from, s.to).distance(p)) > 1e-7 * size) continue;
      const auto target = mark_on_edge(sheet, e, (p - s.from).norm() / s.length());
      if (target) return reference(*target, -1);
    }
    options.max_creases = 5;
    const auto target = wanted_point(sheet, p);
    const int made = target ? reference(*target, -1) : -1;
    options.max_creases = 4;
    return made;
  };
  // A symmetry of the polygon that can be folded at once carries its centre.
  int axis = -1;
  if (sheet.size() == 4 && edge_id(sheet, 0) == "bottom") {
    const auto symmetric = [&](const Line& l) {
      const Isometry mirror = Isometry::reflection_in(l);
      return std::all_of(largest.vertices.begin(), largest.vertices.end(), [&](const Point& p) {
        return std::any_of(largest.vertices.begin(), largest.vertices.end(),
                           [&](const Point& q) { return (mirror * p - q).norm() < 1e-6 * size; });
      });
    };
    const Point c = bounding_box(sheet).centre();
    if (symmetric(Line::through(sheet[0], sheet[2])))
      axis = hand.o1(0, 2);
    else if (symmetric(Line::through(sheet[1], sheet[3])))
      axis = hand.o1(1, 3);
    else if (symmetric(Line::through(c, c + Point{0, 1})))
      axis = hand.o3(5, 7);
    else if (symmetric(Line::through(c, c + Point{1, 0})))
      axis = hand.o3(4, 6);
  }
  int centre = -1;
  if (axis >= 0) {
    const Segment line = hand.c[axis].chord;
    const auto target = mark_on_line(sheet, line, (middle - line.from).norm() / line.length());
    if (target) centre = reference(*target, axis);
  } else {
    centre = mark(middle);
  }
  if (centre < 0) return recipe_does_not_fit();
  // The vertex on an edge whose reference lands best starts the ring.
  int first = -1;
  for (int k = 0; k < n && first < 0; ++k) {
    const Point& p = largest.vertices[static_cast<std::size_t>(k)];
    if (axis >= 0 && std::abs(hand.c[axis].line.distance(p)) < 1e-6 * size) continue; // it would give no new direction
    for (std::size_t e = 0; e < sheet.size(); ++e) {
      if (std::abs(Line::through(sheet[e], sheet[(e + 1) % sheet.size()]).distance(p)) < 1e-7 * size) first = k;
    }
  }
  if (first < 0) return recipe_does_not_fit();
  const auto vertex = [&](int k) { return largest.vertices[static_cast<std::size_t>((first + k) % n)]; };
  const int start = mark(vertex(0));
  const int arm = hand.o1(centre, start);
  if (hand.failed()) return recipe_does_not_fit();
  Rosette ring(hand.c, n, centre, arm, start);
  if (axis >= 0) {
    for (int j = 0; j < n; ++j) {
      const Point d = Isometry::rotation_about(Point::Zero(), j * pi / n) * (vertex(0) - middle);
      const Point normal = hand.c[axis].line.normal;
      if (std::abs(d.normalized().dot(normal)) < 1e-6) ring.know_line(j, axis);
    }
  } else {
    const int next = mark(vertex(1));
    ring.know_line(2, hand.o1(centre, next));
    ring.know_vertex(1, next);
  }
  if (hand.failed()) return recipe_does_not_fit();
  const auto vertices = ring.complete(3e-4 * size, marking);
  if (!vertices) return Error{vertices.error()};
  return judged_polygon("largest, from references", hand.c, *vertices, sigma_mm);
}

} // namespace uc
