// Faces with tabs: a regular triangle or pentagon with a tab a quarter of its edge wide on each side, as large as a
// square gives it; tabs and pockets take turns round the face. Solids all of whose faces are triangles, or pentagons.
#include "unit/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

/// A regular n-gon of edge 1 with its tabs.
UnitCutOut tabbed(int n) {
  const Polygon face = regular_polygon(n, 1);
  UnitCutOut out;
  for (std::size_t i = 0; i < face.size(); ++i) {
    const Point& next = face[(i + 1) % face.size()];
    const Point along = next - face[i];
    const Point outward{along.y(), -along.x()};
    out.outline.insert(out.outline.end(),
                       {face[i], face[i] + 0.25 * (along + outward), face[i] + 0.75 * along + 0.25 * outward});
    out.creases.push_back({face[i], next});
  }
  return out;
}

UnitCutOut turned(UnitCutOut unit, double degrees) {
  const Isometry turn = Isometry::rotation_about(Point::Zero(), degrees * std::numbers::pi / 180);
  for (Point& p : unit.outline) p = turn * p;
  for (Segment& s : unit.creases) s = turn * s;
  return unit;
}

/// As large as a square of side 1 holds it, in the best of 180 turns.
const UnitCutOut& largest(int n) {
  static const auto best_of = [](int sides) {
    const UnitCutOut unit = tabbed(sides);
    double least = 1e9;
    UnitCutOut best;
    for (int degrees = 0; degrees < 180; ++degrees) {
      UnitCutOut lying = turned(unit, degrees);
      const double size = bounding_box(lying.outline).size().maxCoeff();
      if (size < least) least = size, best = std::move(lying);
    }
    const Box box = bounding_box(best.outline);
    const auto placed = [&](const Point& p) -> Point { return (p - box.centre()) / least + Point{0.5, 0.5}; };
    for (Point& p : best.outline) p = placed(p);
    for (Segment& s : best.creases) s = {placed(s.from), placed(s.to)};
    return best;
  };
  static const UnitCutOut triangle = best_of(3);
  static const UnitCutOut pentagon = best_of(5);
  return n == 3 ? triangle : pentagon;
}

template <int sides> UnitFit fit_faces(const Polyhedron& solid, const UnitSheet& /*sheet*/) {
  UnitFit out;
  const auto sizes = face_sizes(solid);
  if (sizes.front() != sides || sizes.back() != sides)
    out.refusal = fmt::format("its faces must all have {} sides; take {}", sides,
                              sides == 3 ? "tetrahedron, octahedron or icosahedron" : "dodecahedron");
  else if (!equal_edges(solid))
    out.refusal = fmt::format("its edges must all be equally long: the faces are regular; take {}",
                              sides == 3 ? "tetrahedron, octahedron or icosahedron" : "dodecahedron");
  return out;
}
template <int sides> double edge_of(const UnitSheet& sheet) {
  return largest(sides).creases.front().length() * std::min(sheet.width_mm, sheet.height_mm);
}
template <int sides> UnitCutOut cut_out_of(const UnitSheet& sheet) {
  UnitCutOut out = largest(sides);
  const double side = std::min(sheet.width_mm, sheet.height_mm);
  for (Point& p : out.outline) p *= side;
  for (Segment& s : out.creases) s = {side * s.from, side * s.to};
  return out;
}

} // namespace

UnitFamily triangle_tabs_unit() {
  UnitFamily f{"triangle-tabs", "Triangle with tabs", StandsFor::face,
               "The largest regular triangle with tabs a quarter of its edge wide that a square gives."};
  f.thickest_mm = 0.3;
  f.fit = fit_faces<3>;
  f.edge_mm = edge_of<3>;
  f.cut_out = cut_out_of<3>;
  f.folds = 7;
  f.glued = true;
  f.how.emplace_back("Cut out the triangle with its tabs from the printed template.");
  f.how.emplace_back("Crease along each side of the triangle, tabs away from the coloured side.");
  f.how.emplace_back("A tab lies behind the neighbour's side and is glued there.");
  return f;
}
UnitFamily pentagon_tabs_unit() {
  UnitFamily f{"pentagon-tabs", "Pentagon with tabs", StandsFor::face,
               "The largest regular pentagon with tabs a quarter of its edge wide that a square gives."};
  f.thickest_mm = 0.3;
  f.fit = fit_faces<5>;
  f.edge_mm = edge_of<5>;
  f.cut_out = cut_out_of<5>;
  f.folds = 11;
  f.glued = true;
  f.how.emplace_back("Cut out the pentagon with its tabs from the printed template.");
  f.how.emplace_back("Crease along each side of the pentagon, tabs away from the coloured side.");
  f.how.emplace_back("A tab lies behind the neighbour's side and is glued there.");
  return f;
}

} // namespace uc
