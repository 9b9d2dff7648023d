// Twisted squares, each in a cross of pleats, on the lattice of steps 6,1 and -1,6. A pleat is one mountain and one
// valley; both squares it joins draw it, each from its own side, so what is a mountain to one would be a valley to the
// other: neighbouring squares are of opposite directions, and the tiling alternates. At a corner of a square the least
// angle lies between its side and the pleat's crease beside it, so these two are opposite. The lattice is laid out from
// the middle of the sheet, so that the rim cuts as few squares as may be, and alike on all sides.
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

Result<FamilyDrawing> draw_square_twists(const ParameterValues& values, const Polygon& sheet) {
  PatternDesign d;
  d.count = static_cast<int>(values.at("count"));
  const GridFrame frame = grid_frame(d.grid, d.count, sheet);
  // An odd number of squares across or upwards has one in the middle, an even number has two about it.
  const auto even = [](double cells) { return static_cast<int>(cells / 6 + 1e-6) % 2 == 0 && cells > 6 ? 0.5 : 0.0; };
  const Point size = frame.index(bounding_box(sheet).high) - frame.index(bounding_box(sheet).low);
  const Point wanted =
      frame.index(bounding_box(sheet).centre()) + even(size.x()) * Point{6, 1} + even(size.y()) * Point{-1, 6};
  const Point middle{std::round(wanted.x()), std::round(wanted.y())};
  const auto from_middle = [&](int right, int up) {
    return fmt::format("{:.0f},{:.0f}", middle.x() + right, middle.y() + up);
  };
  d.rules = {fmt::format("run {} step 1,1 step -1,1 step -1,-1 step 1,-1 repeat 4 valley", from_middle(0, -1)),
             fmt::format("crease {} {} valley", from_middle(0, -1), from_middle(0, -6)),
             fmt::format("crease {} {} mountain", from_middle(1, 0), from_middle(1, -5)),
             fmt::format("turn {} into 4 of 2-3", from_middle(0, 0)), "tile 6,1 -1,6 alternating"};
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
