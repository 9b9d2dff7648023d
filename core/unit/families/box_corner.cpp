// The square box corner: a square in quarters, one of them tucked away, so that three stand square to each other. Eight
// make a cube whose edge is the sheet's side, each face of four quarters.
#include "unit/families/all.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

UnitFit fit_corners(const Polyhedron& solid, const UnitSheet& /*sheet*/) {
  UnitFit out;
  const auto angles = dihedral_degrees(solid);
  const bool square = std::all_of(angles.begin(), angles.end(), [](double d) { return std::abs(d - 90) < 1e-6; });
  const auto sizes = face_sizes(solid);
  if (!square || sizes.front() != 4 || sizes.back() != 4 || !equal_edges(solid))
    out.refusal = "three square quarters meet at a corner; take cube";
  return out;
}

double the_side(const UnitSheet& sheet) { return std::min(sheet.width_mm, sheet.height_mm); }

} // namespace

UnitFamily box_corner_unit() {
  UnitFamily f{"box-corner", "Square box corner", StandsFor::corner,
               "A square in quarters, one tucked away; two corners meet half-way along an edge as long as the sheet."};
  f.handed = true;
  f.fit = fit_corners;
  f.edge_mm = the_side;
  f.folds = 5;
  f.how.emplace_back("With the coloured side down, fold the square in half both ways and open it: four quarters.");
  f.how.emplace_back("Crease one quarter on the diagonal through the centre.");
  f.how.emplace_back("Bring the two sides of that quarter together and lay it flat against its neighbour: three "
                     "quarters stand square to each other.");
  f.how.emplace_back("Nothing of two corners lies over one another: lay a strip of paper, a quarter of the sheet wide, "
                     "behind each seam and glue both to it.");
  f.steps = R"(# Quarters of a box corner
sheet square:80mm
over
level = crease bottom onto top
upright = crease left onto right
centre = cross level upright
crease through centre tr
say "Only the upper right quarter needs this crease: bring its two sides together along it."
)";
  return f;
}

} // namespace uc
