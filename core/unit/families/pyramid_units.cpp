// Units whose facets are right isosceles triangles, hypotenuse on the solid's edge: three of them make a right-angled
// pyramid on a triangle (apex 1 / sqrt 6 of the edge above it), four lie flat on a square, and from five sides on n
// times 90 degrees at the apex are more than 360, so nothing closes. From a square of side s the parallelogram's
// hypotenuse is s / 2. The half square, folded in half along its length to a strip s x s / 4, holds four facets of that
// strip's height, whose hypotenuse is twice the height: s / 2 again.
#include "unit/families/all.h"

#include <fmt/format.h>

#include <cmath>

namespace uc {
namespace {

UnitFit fit_pyramids(const Polyhedron& solid, const UnitSheet& /*sheet*/) {
  UnitFit out;
  if (!equal_edges(solid)) {
    out.refusal =
        "its edges must all be equally long; take a Platonic or Archimedean solid, or a geodesic one of equal edges";
    return out;
  }
  const int most = face_sizes(solid).back();
  if (most >= 5)
    out.refusal =
        fmt::format("a face with {} sides cannot carry a right-angled pyramid, {} x 90 degrees are more than 360; "
                    "take a solid of triangles and squares, or raise the large faces with kis",
                    most, most);
  else if (most == 4)
    out.warnings.emplace_back("on its squares the units lie flat");
  return out;
}

std::vector<Point3> pyramid_tips(const Polyhedron& solid) {
  std::vector<Point3> out;
  for (int f = 0; f < static_cast<int>(solid.faces.size()); ++f) {
    const double n = static_cast<double>(solid.faces[static_cast<std::size_t>(f)].size());
    // Lateral edges of 1 / sqrt 2 over a circumradius of 1 / (2 sin(180 / n)).
    const double r = 0.5 / std::sin(3.14159265358979323846 / n);
    out.push_back(solid.centre_of(f) + std::sqrt(std::max(0.0, 0.5 - r * r)) * solid.normal_of(f));
  }
  return out;
}

double half_the_side(const UnitSheet& sheet) { return std::max(sheet.width_mm, sheet.height_mm) / 2; }

} // namespace

UnitFamily parallelogram_unit() {
  UnitFamily f{"parallelogram", "Parallelogram from a square", StandsFor::edge,
               "Facets are right isosceles triangles with hypotenuse s/2: three make a right-angled pyramid."};
  f.handed = true;
  f.thickest_mm = 0.12;
  f.fit = fit_pyramids;
  f.edge_mm = half_the_side;
  f.tips = pyramid_tips;
  f.folds = 9;
  f.how.emplace_back("Fold the square in half and open it; fold the lower and upper edge to the middle and open them.");
  f.how.emplace_back("Fold the lower left and upper right corner in to the nearest crease: small triangles.");
  f.how.emplace_back("Fold both edges to the middle again, over the small triangles.");
  f.how.emplace_back("Fold the upper left corner down to the lower edge, the lower right one up to the upper edge.");
  f.how.emplace_back("Tuck each of these flaps under the edge it has come to: a parallelogram that holds itself.");
  f.how.emplace_back("Turn it over and fold both pointed tips back, then the whole across its short diagonal: ridge "
                     "outwards, two tabs, two pockets.");
  return f;
}

UnitFamily half_square_star_unit() {
  UnitFamily f{
      "half-square-star", "Star from half a square", StandsFor::edge,
      "The half square folded lengthwise is a strip 4 : 1 of four right isosceles facets with hypotenuse s/2."};
  f.ratio = 0.5;
  f.units_per_sheet = 2;
  f.handed = true;
  f.fit = fit_pyramids;
  f.edge_mm = half_the_side;
  f.tips = pyramid_tips;
  f.folds = 8;
  f.how.emplace_back("Fold the half square in half along its length: a strip four times as long as it is high.");
  f.how.emplace_back("Fold the strip in half across its length, and each half to the middle; open them: four squares.");
  f.how.emplace_back("Fold the lower left corner up along the diagonal of its square, the upper right one down.");
  f.how.emplace_back("Fold across the middle at 45 degrees, ridge outwards: two facets, a tab at each end, the strip's "
                     "opening as pocket.");
  return f;
}

} // namespace uc
