// Rows of triangles: level mountains and valleys along both slants of the equilateral grid. All angles are 60 degrees,
// and at each vertex two mountains meet four valleys, so every rule holds; every triangle comes to lie on one.
#include "pattern/families/all.h"

namespace uc {
namespace {

Result<FamilyDrawing> draw_triangles(const ParameterValues& values, const Polygon& /*sheet*/) {
  PatternDesign d;
  d.grid = PatternGrid::equilateral;
  d.count = static_cast<int>(values.at("count"));
  d.rules = {"crease 0,0 1,0 mountain", "crease 0,0 0,1 valley", "crease 1,0 0,1 valley", "tile 1,0 0,1"};
  return FamilyDrawing{d, {}};
}

} // namespace

PatternFamily triangle_row_family() {
  return {
      "triangle-row",
      "Rows of triangles",
      FamilyGroup::tessellation,
      true,
      {{"count", "Triangles across", ParameterType::integer, 2, 64, 8, "Sides are the sheet's width over this count."}},
      draw_triangles};
}

} // namespace uc
