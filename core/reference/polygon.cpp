#include "reference/polygon.h"

#include "reference/shape.h"

#include <fmt/format.h>

#include <Eigen/LU>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

using std::numbers::pi;

struct Fit {
  double radius = 0;
  Point centre = Point::Zero();
};

/// Largest radius of the polygon turned by `turn` that fits in the sheet: max r with n_i·p + r·h(n_i) <= c_i for all
/// edges. An optimum lies where three edges are met; ties are broken towards the middle of all of them.
Fit fit(const Polygon& sheet, int sides, double turn) {
  const std::size_t m = sheet.size();
  std::vector<Eigen::Vector3d> rows;
  std::vector<double> limits;
  for (std::size_t i = 0; i < m; ++i) {
    const Point d = (sheet[(i + 1) % m] - sheet[i]).normalized();
    const Point n{d.y(), -d.x()};
    double reach = -1;
    for (int k = 0; k < sides; ++k) {
      const double a = turn + 2 * pi * k / sides;
      reach = std::max(reach, n.x() * std::cos(a) + n.y() * std::sin(a));
    }
    rows.emplace_back(n.x(), n.y(), reach);
    limits.push_back(n.dot(sheet[i]));
  }
  Fit best;
  int ties = 0;
  for (std::size_t a = 0; a < m; ++a) {
    for (std::size_t b = a + 1; b < m; ++b) {
      for (std::size_t c = b + 1; c < m; ++c) {
        Eigen::Matrix3d left;
        left << rows[a].transpose(), rows[b].transpose(), rows[c].transpose();
        if (std::abs(left.determinant()) < 1e-12) continue;
        const Eigen::Vector3d at = left.inverse() * Eigen::Vector3d{limits[a], limits[b], limits[c]};
        if (at.z() < best.radius * (1 - 1e-12)) continue;
        const bool inside = std::all_of(rows.begin(), rows.end(), [&](const Eigen::Vector3d& row) {
          return row.dot(at) <= limits[static_cast<std::size_t>(&row - rows.data())] + 1e-11 * std::abs(at.z());
        });
        if (!inside) continue;
        if (at.z() > best.radius * (1 + 1e-12)) {
          best = {at.z(), at.head<2>()};
          ties = 1;
        } else {
          best.centre = (best.centre * ties + at.head<2>()) / (ties + 1);
          ++ties;
        }
      }
    }
  }
  return best;
}

/// Least angle between a side of the polygon and an edge of the sheet, degrees.
double turn_against(const Polygon& sheet, int sides, double turn) {
  double least = 180;
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const Point d = sheet[(i + 1) % sheet.size()] - sheet[i];
    for (int k = 0; k < sides; ++k) {
      const double side = turn + 2 * pi * k / sides + pi / sides + pi / 2;
      double off = std::fmod(std::abs(side - std::atan2(d.y(), d.x())), pi);
      off = std::min(off, pi - off);
      least = std::min(least, off * 180 / pi);
    }
  }
  return least;
}

} // namespace

LargestPolygon largest_polygon(const Polygon& sheet, int sides) {
  // The fit is piecewise smooth in the turn with maxima at smooth points and at kinks; both are found by narrowing
  // down.
  const double period = 2 * pi / sides;
  constexpr int steps = 360;
  const auto radius = [&](double turn) { return fit(sheet, sides, turn).radius; };
  std::vector<double> at(steps + 1);
  for (int i = 0; i <= steps; ++i) at[static_cast<std::size_t>(i)] = radius(period * i / steps);
  double best = -1;
  double best_turn = 0;
  double least_turn = 1e9;
  for (int i = 0; i < steps; ++i) {
    const auto k = static_cast<std::size_t>(i);
    const double before = at[(k + steps - 1) % steps];
    if (at[k] < before - 1e-12 || at[k] < at[k + 1] - 1e-12) continue;
    double low = period * (i - 1) / steps;
    double high = period * (i + 1) / steps;
    constexpr double ratio = 0.6180339887498949;
    while (high - low > 1e-13) {
      const double a = high - ratio * (high - low);
      const double b = low + ratio * (high - low);
      if (radius(a) < radius(b))
        low = a;
      else
        high = b;
    }
    const double turn = (low + high) / 2;
    const double r = std::max(radius(turn), at[k]);
    const double better = at[k] >= radius(turn) ? period * i / steps : turn;
    const double against = turn_against(sheet, sides, better);
    if (r > best * (1 + 1e-10) || (r > best * (1 - 1e-10) && against < least_turn - 1e-9)) {
      best = std::max(best, r);
      best_turn = better;
      least_turn = against;
    }
  }
  const Fit found = fit(sheet, sides, best_turn);
  LargestPolygon out;
  out.side_mm = 2 * found.radius * std::sin(pi / sides);
  out.turn_deg = least_turn < 1e-6 ? 0 : least_turn;
  for (int k = 0; k < sides; ++k) {
    const double a = best_turn + period * k;
    out.vertices.push_back(found.centre + found.radius * Point{std::cos(a), std::sin(a)});
  }
  return out;
}

Polygon PolygonMethod::outline() const {
  Polygon out;
  for (const int v : vertices) out.push_back(construction[v].point);
  return out;
}

bool PolygonMethod::lands() const {
  return std::any_of(construction.items().begin(), construction.items().end(),
                     [](const ConstructionItem& item) { return item.landing; });
}

Result<PolygonMethod> judged_polygon(std::string name, const Construction& construction, std::vector<int> vertices,
                                     double sigma_mm) {
  PolygonMethod m;
  m.name = std::move(name);
  if (vertices.size() < least_sides) return Error{"A polygon needs three vertices; name more marks."};
  for (const int v : vertices) {
    if (construction[v].is_line()) return Error{"A line cannot be a vertex; name marks or corners."};
  }
  m.construction = construction.reduced_to(vertices);
  m.vertices = std::move(vertices);
  if (signed_area(m.outline()) < 0) std::reverse(m.vertices.begin(), m.vertices.end());
  const Polygon outline = m.outline();
  const std::size_t n = outline.size();
  const double size = bounding_box(m.construction.sheet()).size().maxCoeff();
  for (const Point& p : outline) {
    for (int e = 0; e < m.construction.corners(); ++e) {
      if (m.construction[m.construction.edge(e)].line.distance(p) * // inside is the side of the sheet's middle
              m.construction[m.construction.edge(e)].line.distance(bounding_box(m.construction.sheet()).centre()) <
          -1e-9 * size * size)
        return Error{"A vertex of this polygon lies off the sheet; take a larger sheet."};
    }
  }
  m.side_min_mm = 1e300;
  for (std::size_t i = 0; i < n; ++i) {
    const Point& p = outline[i];
    const Point to_next = outline[(i + 1) % n] - p;
    const Point to_last = outline[(i + n - 1) % n] - p;
    if (to_next.norm() < 1e-6 * size) return Error{"Two vertices of this polygon coincide; name different marks."};
    m.side_min_mm = std::min(m.side_min_mm, to_next.norm());
    m.side_max_mm = std::max(m.side_max_mm, to_next.norm());
    double angle = std::atan2(to_next.x() * to_last.y() - to_next.y() * to_last.x(), to_next.dot(to_last)) * 180 / pi;
    if (angle < 0) angle += 360;
    m.angle_error_deg = std::max(m.angle_error_deg, std::abs(angle - interior_angle(static_cast<int>(n))));
  }
  m.exact = m.side_max_mm - m.side_min_mm < 1e-12 * size && m.angle_error_deg < 1e-10;
  m.creases = m.construction.creases();
  m.leftover = 1 - signed_area(outline) / signed_area(m.construction.sheet());
  const ConstructionErrors errors(m.construction, sigma_mm);
  if (!errors.determined()) return Error{"Some fold of this recipe does not fix its crease; choose other marks."};
  for (const int v : m.vertices) m.sigma_mm = std::max(m.sigma_mm, errors.sigma_of_point(v));
  m.shape_mm = shape_error_mm(m.construction, m.vertices, errors, regular_polygon(static_cast<int>(n)));
  m.needs = needs_of(m.construction, m.vertices, errors);
  return m;
}

Programme programme_of(const PolygonMethod& method, const HandProfile& hand, ElementId plan) {
  Programme p = programme_of(method.construction, method.needs, method.vertices, hand, plan);
  add_cut(p, method.construction, method.vertices, ConstructionErrors(method.construction, hand.sigma_mm));
  return p;
}

} // namespace uc
