// Units whose facets are right isosceles triangles, hypotenuse on the solid's edge: three of them make a right-angled
// pyramid on a triangle (apex 1 / sqrt 6 of the edge above it), four lie flat on a square, and from five sides on n
// times 90 degrees at the apex are more than 360, so nothing closes. From a square of side s the parallelogram's
// hypotenuse is s / 2. The half square is the same without the hems of the square: two of its corners folded over at 45
// degrees leave a parallelogram, and its short diagonal is s / 2 again.
#include "unit/families/all.h"

#include <fmt/format.h>

#include <cmath>

namespace uc {
namespace {

UnitFit fit_pyramids(const Polyhedron& solid, const UnitSheet& /*sheet*/) {
  UnitFit out;
  if (!equal_edges(solid)) {
    out.refusal = "its edges must all be equally long; take a Platonic or Archimedean solid of triangles and squares";
    return out;
  }
  // Four right isosceles triangles fill a square and no other rhomb.
  if (!regular_faces(solid)) {
    out.refusal = "its faces must be regular, for right-angled pyramids stand on triangles and lie flat on squares; "
                  "take a Platonic or Archimedean solid of triangles and squares";
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
  for (FaceId f(0); at(f) < solid.faces.size(); ++f) {
    const double n = static_cast<double>(solid.faces[at(f)].size());
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
  f.how.emplace_back(
      "Turn it over and fold both pointed tips back: they are the tabs; the pockets are under the edges.");
  f.steps = R"(# Parallelogram from a square
sheet square:80mm
over
middle = crease bottom onto top
low = crease bottom onto middle
high = crease top onto middle
p1 = cross left low
p2 = cross right high
q1 = cross left high
q2 = cross right low
valley bl onto low through p1
valley tr onto high through p2
lower = valley along low moving br
upper = valley along high moving tl
a = valley q1 onto low through p1
b = valley through q1 p2 moving q2
tuck a under lower
tuck b under upper
say "Both flaps are under the edges they lay on: the unit holds itself."
over
s = crease p1 onto q2
t = crease p2 onto q1
u1 = cross s a
u2 = cross t b
crease through q1 q2
say "The first two bend back, away from you: they are the tabs. The last one is the ridge."
)";
  f.joints = {{{"u1", "q2", "q1"}, {"u1", "q1", "p1"}}, {{"u2", "q1", "q2"}, {"u2", "q2", "p2"}}};
  return f;
}

UnitFamily half_square_star_unit() {
  UnitFamily f{
      "half-square-star", "Star from half a square", StandsFor::edge,
      "Two corners of the half square folded over leave a parallelogram with a short diagonal of s/2, the ridge."};
  f.ratio = 0.5;
  f.units_per_sheet = 2;
  f.handed = true;
  f.fit = fit_pyramids;
  f.edge_mm = half_the_side;
  f.tips = pyramid_tips;
  f.folds = 5;
  f.how.emplace_back(
      "Bring the upper left corner down to the lower edge and the lower right one up to the upper edge: a "
      "parallelogram.");
  f.how.emplace_back("Turn it over and crease both pointed tips across: they are the tabs, to be glued behind the next "
                     "unit's facet; folded like this, nothing opens where they come to lie.");
  f.how.emplace_back("Crease across the short diagonal: this is the ridge.");
  f.steps = R"(# Star from half a square
sheet 80x40mm
over
valley left onto bottom
valley through tl tr moving br
over
crease bl onto br
crease tr onto tl
crease through tl br
say "The first two bend back: they are the tabs, and are glued. The last one is the ridge."
)";
  return f;
}

} // namespace uc
