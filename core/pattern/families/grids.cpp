// Grids: the lines of square cells, of the same cells on their corner, or of equilateral triangles, over a sheet or
// over a part of it, every line or every second, third ... one. They are pre-creases, all folded alike, and do not fold
// flat.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <cmath>

namespace uc {
namespace {

/// The sheet without the cells that are left bare along its four edges.
Result<Polygon> creased_part(const ParameterValues& values, const Box& box) {
  const double cell = box.size().x() / values.at("count");
  const Point low = box.low + cell * Point{values.at("bare_left"), values.at("bare_bottom")};
  const Point high = box.high - cell * Point{values.at("bare_right"), values.at("bare_top")};
  if (!(low.x() + cell / 2 < high.x() && low.y() + cell / 2 < high.y()))
    return Error{fmt::format("the bare margins leave no cell of the {} across; make them narrower or count larger",
                             values.at("count"))};
  return Polygon{low, {high.x(), low.y()}, high, {low.x(), high.y()}};
}

template <PatternGrid grid> Result<FamilyDrawing> draw_grid(const ParameterValues& values, const Polygon& sheet) {
  const auto part = creased_part(values, bounding_box(sheet));
  if (!part) return Error{part.error()};
  const int count = static_cast<int>(values.at("count"));
  const int every = static_cast<int>(values.at("every"));
  const EdgeKind kind = values.at("direction") == 0 ? EdgeKind::valley : EdgeKind::mountain;
  const double cell = bounding_box(sheet).size().x() / count;
  CreaseLines lines(sheet);
  for (const Segment& s : grid_lines(grid, count, sheet)) {
    const Line line = Line::through(s.from, s.to);
    // How far from the line of its direction through the first corner, in spacings.
    const double spacing =
        grid == PatternGrid::square ? cell : cell * (grid == PatternGrid::diagonal ? std::sqrt(0.5) : std::sqrt(0.75));
    const long number = std::lround(line.distance(bounding_box(sheet).low) / spacing);
    if (number % every != 0) continue;
    for (const Segment& within : clip(line, *part, 1e-9 * cell)) lines.add(within.from, within.to, kind);
  }
  // Lines end at the rim of the part, which is creased where it lies inside the paper.
  for (std::size_t i = 0; i < 4; ++i) {
    const Point from = (*part)[i];
    const Point to = (*part)[(i + 1) % 4];
    const char* bare[] = {"bare_bottom", "bare_right", "bare_top", "bare_left"};
    if (values.at(bare[i]) > 0) lines.add(from, to, kind);
  }
  FamilyDrawing out{lines.design(), {}};
  out.usual_part = 0; // it is creased and lies open
  out.figures.pleat_mm = cell * every;
  return out;
}

std::vector<Parameter> grid_parameters(double most = 256) {
  const auto bare = [](const char* name, const char* title) {
    return Parameter{name, title, ParameterType::integer, 0, 64, 0, "So many cells stay without creases there."};
  };
  return {
      {"count", "Cells across", ParameterType::integer, 2, most, 16, "The cell is the sheet's width over this count."},
      {"every", "Fold every", ParameterType::integer, 1, 8, 1, "1 folds each line, 2 each second one."},
      bare("bare_left", "Bare on the left"),
      bare("bare_right", "Bare on the right"),
      bare("bare_bottom", "Bare at the bottom"),
      bare("bare_top", "Bare at the top"),
      {"direction",
       "Folded as",
       ParameterType::choice,
       0,
       1,
       0,
       "All lines alike; turn the sheet over for the other.",
       {"valley", "mountain"}}};
}

} // namespace

PatternFamily square_grid_family() {
  return {"square-grid", "Square grid", FamilyGroup::grid, false, grid_parameters(), draw_grid<PatternGrid::square>};
}
PatternFamily diagonal_grid_family() {
  return {"diagonal-grid", "Diagonal grid",   FamilyGroup::grid,
          false,           grid_parameters(), draw_grid<PatternGrid::diagonal>};
}
PatternFamily equilateral_grid_family() {
  return {"equilateral-grid",
          "Triangle grid",
          FamilyGroup::grid,
          false,
          grid_parameters(200), // lines in three directions cross more often than any pattern may
          draw_grid<PatternGrid::equilateral>};
}

} // namespace uc
