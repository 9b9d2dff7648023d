// Chevrons (Miura 1985): zigzag rows a cell high whose steps rise half a cell to each cell across, joined by upright
// zigzags. At each vertex the two halves of a row's fold and two upright creases meet at angles a, a, 180 - a and
// 180 - a, so Kawasaki holds; a row's zigzag keeps its direction, uprights change theirs from row to row (Maekawa).
#include "pattern/families/all.h"

namespace uc {
namespace {

Result<FamilyDrawing> draw_chevron(const ParameterValues& values, const Polygon& /*sheet*/) {
  PatternDesign d;
  d.count = static_cast<int>(values.at("count"));
  d.rules = {"run 0,0 step 1,0.5 step 1,-0.5 repeat 2 mountain", "run 0,1 step 1,0.5 step 1,-0.5 repeat 2 valley",
             "run 0,0 step 0,1 repeat 2 valley alternating", "run 1,0.5 step 0,1 repeat 2 mountain alternating",
             "tile 2,0 0,2"};
  return FamilyDrawing{d, {}};
}

} // namespace

PatternFamily chevron_family() {
  return {"chevron",
          "Chevron",
          FamilyGroup::tessellation,
          true,
          {{"count", "Cells across", ParameterType::integer, 2, 96, 12,
            "Chevrons are half as many; each cell is as wide as the sheet over this count."}},
          draw_chevron};
}

} // namespace uc
