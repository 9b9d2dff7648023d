// A map: level folds right across, and upright ones that change direction at each of them (Maekawa), as when the strip
// is folded to and fro first and then the packet.
#include "pattern/families/all.h"

namespace uc {
namespace {

Result<FamilyDrawing> draw_map(const ParameterValues& values, const Polygon& /*sheet*/) {
  PatternDesign d;
  d.count = static_cast<int>(values.at("count"));
  d.rules = {"run 0,1 step 1,0 repeat 2 mountain", "run 0,2 step 1,0 repeat 2 valley",
             "run 1,0 step 0,1 repeat 2 valley alternating", "run 2,0 step 0,1 repeat 2 mountain alternating",
             "tile 2,0 0,2"};
  FamilyDrawing out{d, {}};
  out.goals_of = [](const Segment& crease) -> CreaseGoals {
    const Point along = crease.to - crease.from;
    return {{std::abs(along.x()) > std::abs(along.y()) ? 1 : 2, 180}}; // level ones, then the others through layers
  };
  return out;
}

} // namespace

PatternFamily map_family() {
  return {"map",
          "A map",
          FamilyGroup::tessellation,
          true,
          {{"count", "Cells across", ParameterType::integer, 2, 32, 4, "Folds both ways; the packet is one cell."}},
          draw_map};
}

} // namespace uc
