// Faces with tabs: a regular triangle or pentagon with a tab a quarter of its edge wide on each side, as large as a
// square gives it; tabs and pockets take turns round the face. Solids all of whose faces are triangles, or pentagons.
#include "geometry/polygon.h"
#include "unit/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

/// The edge of a regular n-gon with tabs in a square of side 1, the best of 180 turns.
double largest_edge(int n) {
  const Polygon face = regular_polygon(n, 1);
  Polygon all = face;
  for (std::size_t i = 0; i < face.size(); ++i) {
    const Point along = face[(i + 1) % face.size()] - face[i];
    const Point out{along.y(), -along.x()};
    all.push_back(face[i] + 0.25 * (along + out));
    all.push_back(face[i] + 0.75 * along + 0.25 * out);
  }
  double best = 0;
  for (int i = 0; i < 180; ++i) {
    Polygon turned;
    for (const Point& p : all)
      turned.push_back(Isometry::rotation_about(Point::Zero(), i * 3.14159265358979323846 / 180) * p);
    best = std::max(best, 1 / bounding_box(turned).size().maxCoeff());
  }
  return best;
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
  static const double part = largest_edge(sides);
  return part * std::min(sheet.width_mm, sheet.height_mm);
}

} // namespace

UnitFamily triangle_tabs_unit() {
  UnitFamily f{"triangle-tabs", "Triangle with tabs", StandsFor::face,
               "The largest regular triangle with tabs a quarter of its edge wide that a square gives."};
  f.thickest_mm = 0.3;
  f.fit = fit_faces<3>;
  f.edge_mm = edge_of<3>;
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
  f.folds = 11;
  f.glued = true;
  f.how.emplace_back("Cut out the pentagon with its tabs from the printed template.");
  f.how.emplace_back("Crease along each side of the pentagon, tabs away from the coloured side.");
  f.how.emplace_back("A tab lies behind the neighbour's side and is glued there.");
  return f;
}

} // namespace uc
