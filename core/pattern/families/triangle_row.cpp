// Rows of triangles on the equilateral grid. All angles are 60 degrees, so Kawasaki holds with every assignment in
// which at each vertex four creases go one way and two the other; every triangle comes to lie on one. Folded: level
// creases to and fro, then one slant a mountain and the other a valley right across, through all layers of the strip.
// Arched: level mountains, all slants valleys; the sheet rolls up into a tube long before it is closed.
#include "pattern/families/all.h"

#include <cmath>

namespace uc {
namespace {

enum Slants { folded, arched };

Result<FamilyDrawing> draw_triangles(const ParameterValues& values, const Polygon& /*sheet*/) {
  PatternDesign d;
  d.grid = PatternGrid::equilateral;
  d.count = static_cast<int>(values.at("count"));
  if (static_cast<int>(values.at("slants")) == arched) {
    d.rules = {"crease 0,0 1,0 mountain", "crease 0,0 0,1 valley", "crease 1,0 0,1 valley", "tile 1,0 0,1"};
    return FamilyDrawing{d, {}};
  }
  d.rules = {"crease 0,0 1,0 mountain",
             "crease 0,1 1,1 valley",
             "crease 0,0 0,1 mountain",
             "crease 0,1 0,2 mountain",
             "crease 1,0 0,1 valley",
             "crease 1,1 0,2 valley",
             "tile 1,0 0,2"};
  FamilyDrawing out{d, {}};
  out.goals_of = [](const Segment& crease) -> CreaseGoals {
    const Point along = crease.to - crease.from;
    return {{std::abs(along.x()) > std::abs(along.y()) ? 1 : 2, 180}}; // slants stand at 60 degrees
  };
  return out;
}

} // namespace

PatternFamily triangle_row_family() {
  return {
      "triangle-row",
      "Rows of triangles",
      FamilyGroup::tessellation,
      true,
      {{"count", "Triangles across", ParameterType::integer, 2, 64, 6, "Sides are the sheet's width over this count."},
       {"slants",
        "Slants",
        ParameterType::choice,
        0,
        1,
        0,
        "Folded through all layers of the pleated rows, or all valleys: then the sheet arches into a tube.",
        {"fold", "arch"}}},
      draw_triangles};
}

} // namespace uc
