// Twisted squares, each in a cross of pleats, on the lattice of steps 6,1 and -1,6. A pleat is one mountain and one
// valley; both squares it joins draw it, each from its own side, so what is a mountain to one would be a valley to the
// other: neighbouring squares are of opposite directions, and the tiling alternates. At a corner of a square the least
// angle lies between its side and the pleat's crease beside it, so these two are opposite.
#include "pattern/families/all.h"

namespace uc {
namespace {

Result<FamilyDrawing> draw_square_twists(const ParameterValues& values, const Polygon& sheet) {
  PatternDesign d;
  d.count = static_cast<int>(values.at("count"));
  d.rules = {"run 4,3 step 1,1 step -1,1 step -1,-1 step 1,-1 repeat 4 valley", "crease 4,3 4,-2 valley",
             "crease 5,4 5,-1 mountain", "turn 4,4 into 4 of 2-3", "tile 6,1 -1,6 alternating"};
  const GridFrame frame = grid_frame(d.grid, d.count, sheet);
  const Point wanted = frame.index(bounding_box(sheet).centre());
  Point middle{4, 4};
  for (int i = -d.count; i <= d.count; ++i) {
    for (int j = -d.count; j <= d.count; ++j) {
      const Point p{4 + 6 * i - j, 4 + i + 6 * j};
      if ((p - wanted).norm() < (middle - wanted).norm()) middle = p;
    }
  }
  HeldFlat held{"middle square", {}};
  for (const Point& corner : {Point{0, -1}, Point{1, 0}, Point{0, 1}, Point{-1, 0}})
    held.part.push_back(frame.at(middle + corner));
  return FamilyDrawing{d, {}, {held}};
}

} // namespace

PatternFamily square_twists_family() {
  return {"square-twists",
          "Square twists",
          FamilyGroup::tessellation,
          true,
          {{"count", "Cells across", ParameterType::integer, 6, 96, 18,
            "A twist stands every six cells; its square is as wide as a cell's diagonal."}},
          draw_square_twists};
}

} // namespace uc
