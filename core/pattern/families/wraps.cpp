// Wraps round a hub (Guest and Pellegrino 1992, for paper without thickness). The folded sheet lies on the walls of a
// prism of m sides. Let s run along the hub's edges and t outward from one of them: within a gore the sheet is wound on
// with height |t| modulo 2h folded to and fro, so its creases are the lines t = k h, mountains for even k and valleys
// for odd. Two neighbouring gores, whose frames differ by d = 360 / m, agree in s and height just where they are mirror
// images: on the ray from the hub's corner that makes d / 2 with the edge, backwards. That major crease begins as a
// valley and changes direction at each line (Maekawa). Where s passes a corner of the hub, the sheet bends by d; these
// lines are drawn as not folded.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

namespace uc {
namespace {

/// The creases of a wrap of height h on a hub, counter-clockwise, within the outline that `lines` has.
void draw_gores(CreaseLines& lines, const Polygon& hub, double h) {
  const int m = static_cast<int>(hub.size());
  const double half = std::numbers::pi / m;
  const double reach = 2 * bounding_box(lines.outline()).size().norm();
  const auto kind_of = [](int k) { return k % 2 == 0 ? EdgeKind::mountain : EdgeKind::valley; };
  for (int i = 0; i < m; ++i) {
    const Point& start = hub[static_cast<std::size_t>(i)];
    const Point& end = hub[static_cast<std::size_t>((i + 1) % m)];
    const double a = (end - start).norm();
    const Point u = (end - start) / a;
    const Point out{u.y(), -u.x()};
    // The major crease, in pieces between the lines.
    const Point major = -std::cos(half) * u + std::sin(half) * out;
    const double piece = h / std::sin(half);
    const int most = static_cast<int>(reach / piece) + 1;
    for (int k = 0; k < most; ++k)
      lines.add(end + k * piece * major, end + (k + 1) * piece * major, opposite(kind_of(k)));
    for (int k = -most; k <= most; ++k) {
      const Point from = (k >= 0 ? end : start) + k * h * out - std::abs(k) * h / std::tan(half) * u;
      if (k == 0) {
        lines.add(start, end, kind_of(0), 90); // the walls stand square to the hub
        lines.ray(start, -u, kind_of(0));
      } else {
        lines.ray(from, -u, kind_of(k));
      }
    }
    for (int q = 0; q * a < reach; ++q) {
      const Point corner = start - q * a * u;
      // Strip by strip: where the sheet runs to and fro, it bends the other way.
      const double low = -q * a * std::tan(half);
      const double high = (q + 1) * a * std::tan(half);
      for (int k = static_cast<int>(std::floor(low / h)); k * h < high; ++k) {
        const double from = std::max(low, k * h);
        const double to = std::min(high, (k + 1) * h);
        if (to > from)
          lines.add(corner + from * out, corner + to * out, EdgeKind::unfolded, (k % 2 == 0 ? -360.0 : 360.0) / m);
      }
    }
  }
}

/// What a wrap packs into; the sheet lies in layers round the hub, each as thick as the paper.
void add_figures(FamilyFigures& f, const Polygon& outline, const Polygon& hub, double h, double major_mm, double t) {
  const double m = static_cast<double>(hub.size());
  const double a = (hub[1] - hub[0]).norm();
  const double layers = (signed_area(outline) - signed_area(hub)) / (m * a * h);
  f.packed_mm = {{a / std::sin(std::numbers::pi / m) + 2 * layers * t, h}};
  f.turns = major_mm * std::cos(std::numbers::pi / m) / (m * a);
  f.pleat_mm = std::min(h, a);
  f.more = {{"wall_layers", layers}, {"hub_side_mm", a}, {"open_width_mm", bounding_box(outline).size().x()}};
}

Result<FamilyDrawing> draw_wrap(const ParameterValues& values, const Polygon& sheet) {
  const int m = static_cast<int>(values.at("sides"));
  const Polygon outline = largest_regular(m, sheet);
  Point middle = Point::Zero();
  for (const Point& p : outline) middle += p / m;
  const double circumradius = (outline[0] - middle).norm();
  const double radius = circumradius * values.at("hub");
  // The major crease from the hub's corner at angle 0, at the end of its edge: where it meets the outline's circle.
  const double half = std::numbers::pi / m;
  const Point corner{radius, 0};
  const Point edge_direction = (corner - radius * Point{std::cos(-2 * half), std::sin(-2 * half)}).normalized();
  const Point outward{edge_direction.y(), -edge_direction.x()};
  const Point major = -std::cos(half) * edge_direction + std::sin(half) * outward;
  const double b = corner.dot(major);
  const double length = -b + std::sqrt(b * b + circumradius * circumradius - radius * radius);
  const Point tip = corner + length * major;
  // Turned so that the creases end in the corners of the outline.
  const Point first = outline[0] - middle;
  const double turn = std::atan2(first.y(), first.x()) - std::atan2(tip.y(), tip.x());
  Polygon hub;
  for (int i = 0; i < m; ++i)
    hub.push_back(middle + radius * Point{std::cos(turn + 2 * half * i), std::sin(turn + 2 * half * i)});
  const double h = length * std::sin(half) / values.at("rings");
  CreaseLines lines(outline);
  draw_gores(lines, hub, h);
  FamilyDrawing out{lines.design(), {}, {{"hub", hub}}};
  add_figures(out.figures, outline, hub, h, length, values.at("thickness"));
  return out;
}

Result<FamilyDrawing> draw_square_wrap(const ParameterValues& values, const Polygon& sheet) {
  const int n = static_cast<int>(values.at("count"));
  const int side = static_cast<int>(values.at("hub"));
  const int rows = static_cast<int>(values.at("rows"));
  if (side > n - 2)
    return Error{fmt::format("hub: {} units leave no room on {} across; type up to {}", side, n, n - 2)};
  const Polygon outline = largest_square(sheet);
  const double cell = (outline[1] - outline[0]).norm() / n;
  const int before = (n - side) / 2; // whole units, so that all creases lie on the grid
  const Point low = outline[0] + cell * before * Point{1, 1};
  const double a = cell * side;
  const Polygon hub{low, low + Point{a, 0}, low + Point{a, a}, low + Point{0, a}};
  CreaseLines lines(outline);
  draw_gores(lines, hub, rows * cell);
  FamilyDrawing out{lines.design(), {}, {{"hub", hub}}};
  add_figures(out.figures, outline, hub, rows * cell, cell * (n - side) / std::sqrt(2.0), values.at("thickness"));
  return out;
}

Parameter thickness() {
  return {"thickness", "Paper thickness", ParameterType::mm, 0, 2, 0.1, "Each layer round the hub adds it twice."};
}

} // namespace

PatternFamily wrap_family() {
  return {"wrap",
          "Wrap round a hub",
          FamilyGroup::wrap,
          false,
          {{"sides", "Sides of the hub", ParameterType::integer, 3, 12, 6, "The sheet has as many."},
           {"hub", "Hub in the sheet", ParameterType::number, 0.08, 0.6, 0.25,
            "Radius of the hub over that of the sheet: a smaller one turns more often."},
           {"rings", "Heights to the corner", ParameterType::integer, 1, 24, 4,
            "Pleats along each major crease: more make the packed wrap lower."},
           thickness()},
          draw_wrap};
}

PatternFamily square_wrap_family() {
  return {
      "square-wrap",
      "Wrap on the square grid",
      FamilyGroup::wrap,
      false,
      {{"count", "Units across", ParameterType::integer, 4, 64, 16, "Every crease lies on this grid or its diagonals."},
       {"hub", "Hub", ParameterType::integer, 1, 32, 4, "Units along its side; the hub stays free for a motif."},
       {"rows", "Height", ParameterType::integer, 1, 16, 2, "Units from the foot of a wall to its top."},
       thickness()},
      draw_square_wrap};
}

} // namespace uc
