// Strips and clips: a face of n sides is a strip of 2n squares of the edge's width, wound twice round it, and each edge
// a clip of four squares that joins two faces. 2 x 2E squares for the faces and 4E for the clips: 8E in all.
#include "unit/families/all.h"

namespace uc {
namespace {

UnitFit fit_strips(const Polyhedron& solid, const UnitSheet& /*sheet*/) {
  UnitFit out;
  if (!equal_edges(solid)) out.refusal = "its edges must all be equally long: the strip's width is the edge";
  return out;
}

double the_width(const UnitSheet& sheet) { return std::min(sheet.width_mm, sheet.height_mm); }

} // namespace

UnitFamily strip_and_clip_unit() {
  UnitFamily f{"strip-and-clip", "Strips with clips", StandsFor::face,
               "An n-sided face is a strip of 2n squares, an edge a clip of four; the strip's width is the edge."};
  f.units_per_sheet = 0;
  f.strips = true;
  f.thickest_mm = 0.3;
  f.fit = fit_strips;
  f.edge_mm = the_width;
  f.wraps = true;
  f.folds = 10;
  f.how.emplace_back("For a face: fold the strip to its 2n squares, all creases one way.");
  f.how.emplace_back("Wind it twice round so that the first square lies on the square n + 1, and tuck the end in.");
  f.how.emplace_back(
      "For a clip: fold the strip of four squares in half, and each half to the middle: a double hinge of one edge.");
  f.how.emplace_back(
      "Put it through two faces that stand edge to edge and fold its ends back over: they are tucked in or "
      "glued; the folded edges of all clips lie inside.");
  f.steps = R"(# Clip of four squares
sheet strip:80x20mm
over
half = crease left onto right
crease left onto half
crease right onto half
say "Two squares lie in one face and two in the next; the crease in the middle is the edge."
)";
  return f;
}

} // namespace uc
