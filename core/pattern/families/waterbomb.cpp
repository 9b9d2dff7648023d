// Waterbombs: squares with both diagonals and an upright middle line, each row half a square along. Both kinds of
// vertex have six creases: in a square four valleys and two mountains, at a corner two valleys, which are diagonals,
// and four mountains, with angles 90, 45, 45, 45, 45, 90 (Kawasaki and Maekawa hold).
#include "pattern/families/all.h"

namespace uc {
namespace {

Result<FamilyDrawing> draw_waterbomb(const ParameterValues& values, const Polygon& /*sheet*/) {
  PatternDesign d;
  d.count = 2 * static_cast<int>(values.at("across"));
  d.rules = {"crease 1,1 2,2 valley",   "crease 1,1 0,2 valley",   "crease 1,1 0,0 valley",
             "crease 1,1 2,0 valley",   "crease 1,1 1,2 mountain", "crease 1,1 1,0 mountain",
             "crease 0,0 2,0 mountain", "crease 0,0 0,2 mountain", "tile 2,0 1,2"};
  return FamilyDrawing{d, {}};
}

} // namespace

PatternFamily waterbomb_family() {
  return {"waterbomb",
          "Waterbombs",
          FamilyGroup::tessellation,
          true,
          {{"across", "Squares across", ParameterType::integer, 1, 48, 6,
            "Each square is as wide as the sheet over this count, in cells of half its width."}},
          draw_waterbomb};
}

} // namespace uc
