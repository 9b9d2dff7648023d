// The rhombic unit: a rectangle 1 : r whose sides are the diagonals of a rhombus, with the acute angle 2 atan(1 / r)
// and the edge sqrt(w^2 + h^2) / 2. A solid of rhombs closes when the angle is its own; d degrees off, the k acute
// angles at a vertex miss by k d and the k obtuse ones by -k d. sqrt 2 closes the rhombic dodecahedron (70.529
// degrees), the golden ratio the rhombic triacontahedron (63.435).
#include "base/index.h"
#include "unit/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

constexpr double to_degrees = 180 / 3.14159265358979323846;

double angle_at(const Polyhedron& p, const std::vector<VertexId>& face, std::size_t i) {
  const Point3& here = p.vertices[at(face[i])];
  const Point3 a = (p.vertices[at(face[(i + 1) % 4])] - here).normalized();
  const Point3 b = (p.vertices[at(face[(i + 3) % 4])] - here).normalized();
  return std::acos(std::clamp(a.dot(b), -1.0, 1.0)) * to_degrees;
}

UnitFit fit_rhombs(const Polyhedron& solid, const UnitSheet& sheet) {
  UnitFit out;
  const auto sizes = face_sizes(solid);
  if (sizes.front() != 4 || sizes.back() != 4 || !equal_edges(solid)) {
    out.refusal = "its faces must all be rhombs; take rhombic-dodecahedron or rhombic-triacontahedron";
    return out;
  }
  double acute = 90;
  for (const auto& f : solid.faces) acute = std::min({acute, angle_at(solid, f, 0), angle_at(solid, f, 1)});
  for (const auto& f : solid.faces)
    if (std::abs(std::min(angle_at(solid, f, 0), angle_at(solid, f, 1)) - acute) > 1e-6) {
      out.refusal = "its faces must be rhombs of one shape";
      return out;
    }
  const double ratio = std::max(sheet.width_mm, sheet.height_mm) / std::min(sheet.width_mm, sheet.height_mm);
  const double off = 2 * std::atan(1 / ratio) * to_degrees - acute;
  if (std::abs(off) < 0.02) return out;
  // At each kind of corner, acute angles add up one way and obtuse ones the other.
  std::vector<double> miss(solid.vertices.size(), 0);
  std::vector<int> count(solid.vertices.size(), 0);
  for (const auto& f : solid.faces)
    for (std::size_t i = 0; i < 4; ++i) {
      miss[at(f[i])] += angle_at(solid, f, i) < 90 ? off : -off;
      ++count[at(f[i])];
    }
  std::vector<int> told;
  for (std::size_t v = 0; v < miss.size(); ++v) {
    if (std::find(told.begin(), told.end(), count[v]) != told.end()) continue;
    told.push_back(count[v]);
    out.worst_miss_deg = std::max(out.worst_miss_deg, std::abs(miss[v]));
    out.warnings.push_back(fmt::format("a sheet of 1:{:.4f} misses by {:.2f} degrees at corners of {}; 1:{:.4f} closes",
                                       ratio, miss[v], count[v], 1 / std::tan(acute / to_degrees / 2)));
  }
  return out;
}

double half_the_diagonal(const UnitSheet& sheet) { return std::hypot(sheet.width_mm, sheet.height_mm) / 2; }

} // namespace

UnitFamily rhombic_unit() {
  UnitFamily f{"rhombic", "Rhomb from a rectangle", StandsFor::face,
               "The sheet's sides are the rhomb's diagonals: acute angle 2 atan(1/r), edge half the sheet's diagonal."};
  f.ratio = std::sqrt(2.0);
  f.fit = fit_rhombs;
  f.edge_mm = half_the_diagonal;
  f.folds = 6;
  f.how.emplace_back("Fold the rectangle in half both ways and open it.");
  f.how.emplace_back("Join the midpoints of neighbouring sides: fold each corner in along that line: a rhomb.");
  f.how.emplace_back("Open two opposite corners again: they are the tabs, to be glued behind the next rhomb.");
  f.steps = R"(# Rhomb from a rectangle
sheet 70x98.995mm
over
level = crease bottom onto top
upright = crease left onto right
low = cross upright bottom
high = cross upright top
west = cross level left
east = cross level right
a = valley through low west moving bl
b = valley through low east moving br
c = valley through high east moving tr
d = valley through high west moving tl
unfold a
unfold c
say "The open corners are the tabs; they are glued behind the next rhomb."
)";
  return f;
}

} // namespace uc
