// Zigzag rows (Miura 1985, with any angle and height): upright pleats, crossed by level zigzags that make the angle a
// with them. At each vertex the angles are a, a, 180 - a, 180 - a, so Kawasaki holds; zigzags keep their direction,
// uprights change theirs at each (Maekawa). With every crease closed a column is one parallelogram; the packet is a
// strip of columns slid along by c / tan a, where c is the column's width.
#include "base/quantity.h"
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <cmath>

namespace uc {
namespace {

Result<FamilyDrawing> draw_zigzags(const ParameterValues& values, const Polygon& sheet) {
  const Box box = bounding_box(sheet);
  const int columns = static_cast<int>(values.at("columns"));
  const int rows = static_cast<int>(values.at("rows"));
  const double width = box.size().x() / columns;
  const double height = box.size().y() / rows;
  const double rise = width / std::tan(Degrees{values.at("angle")}.radians());
  const auto place = [&](int i, int j) -> Point {
    return box.low + Point{i * width, j * height + (i % 2 == 1 ? rise : 0) - rise / 2};
  };
  const int beyond = static_cast<int>(std::ceil(rise / height)) + 1;
  CreaseLines lines(Polygon{box.low, {box.high.x(), box.low.y()}, box.high, {box.low.x(), box.high.y()}});
  for (int j = -beyond; j <= rows + beyond; ++j) {
    const bool odd = (j + 2 * beyond) % 2 == 1;
    for (int i = 0; i < columns; ++i) {
      lines.add(place(i, j), place(i + 1, j), odd ? EdgeKind::mountain : EdgeKind::valley);
      const bool mountain = (i % 2 == 1) == odd;
      if (i > 0) lines.add(place(i, j), place(i, j + 1), mountain ? EdgeKind::mountain : EdgeKind::valley);
    }
  }
  FamilyDrawing out{lines.design(), {}};
  out.figures.pleat_mm = std::min(width, height * std::sin(Degrees{values.at("angle")}.radians()));
  return out;
}

} // namespace

PatternFamily zigzag_row_family() {
  return {"zigzag-row",
          "Zigzag rows",
          FamilyGroup::tessellation,
          true,
          {{"columns", "Columns", ParameterType::integer, 2, 64, 8, "Upright pleats over the sheet."},
           {"rows", "Rows", ParameterType::integer, 1, 64, 8, "Zigzags over the height of the sheet."},
           {"angle", "Angle", ParameterType::degrees, 40, 85, 65,
            "Between zigzag and upright: the nearer to 90, the more it becomes a map."}},
          draw_zigzags};
}

} // namespace uc
