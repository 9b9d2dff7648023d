// The zigzag strip: a square pleated in quarters is a strip of four squares, folded on their diagonals to and fro; the
// ridge over an edge is such a diagonal, sqrt 2 / 4 of the square's side. Three meet at a vertex, whatever the faces.
#include "unit/families/all.h"

#include <fmt/format.h>

#include <cmath>

namespace uc {
namespace {

UnitFit fit_zigzag(const Polyhedron& solid, const UnitSheet& /*sheet*/) {
  UnitFit out;
  const auto all = valences(solid);
  if (all.front() != 3 || all.back() != 3)
    out.refusal =
        fmt::format("three units meet at a corner, and this solid has a corner with {}; take one with three edges at "
                    "each corner, such as dodecahedron or truncated-icosahedron, or the dual of this one",
                    all.back() == 3 ? all.front() : all.back());
  else if (!equal_edges(solid))
    out.refusal = "its edges must all be equally long; the strip has one length";
  return out;
}

double diagonal_of_a_quarter(const UnitSheet& sheet) { return sheet.width_mm * std::sqrt(2.0) / 4; }

} // namespace

UnitFamily zigzag_strip_unit() {
  UnitFamily f{"zigzag-strip", "Zigzag strip from a square", StandsFor::edge,
               "The ridge is the diagonal of one of the strip's four squares, sqrt(2)/4 of the side."};
  f.handed = true;
  f.fit = fit_zigzag;
  f.edge_mm = diagonal_of_a_quarter;
  f.folds = 7;
  f.how.emplace_back("Crease the square in quarters and pleat them to and fro: a strip of four squares, four layers "
                     "thick, open along both long sides.");
  f.how.emplace_back("Mark the squares: fold the strip in half across, and each half again; open it.");
  f.how.emplace_back("Fold the diagonals of the two outer squares one way, parallel to each other.");
  f.how.emplace_back("Fold the diagonal across the middle two squares the other way: this ridge is the edge. An end "
                     "goes into the long side of the next strip until its crease lies in the ridge, which locks it.");
  f.steps = R"(# Strip of four squares
sheet square:80mm
over
middle = crease bottom onto top
low = crease bottom onto middle
high = crease top onto middle
p = cross left low
valley along low moving bl
mountain along middle moving p
valley along high moving tl
half = crease left onto right
q1 = crease left onto half
q3 = crease right onto half
e1 = crease q1 onto half
e3 = crease q3 onto half
a1 = cross left high
a2 = cross q1 middle
b1 = cross q3 high
b2 = cross right middle
c1 = cross e1 middle
c2 = cross e3 high
crease through a1 a2
crease through b1 b2
crease through c1 c2
say "The last one is the ridge; fold it against the other two, in zigzag."
m1 = cross q1 high
m2 = cross q3 middle
n1 = cross e1 high
n2 = cross e3 middle
w1 = cross left middle
w2 = cross right high
)";
  f.joints = {{{"c2", "n1", "c1", "n2"}, {"b1", "m2", "b2", "w2"}},
              {{"c1", "n2", "c2", "n1"}, {"a2", "m1", "a1", "w1"}}};
  return f;
}

} // namespace uc
