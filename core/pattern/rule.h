// Rules draw a crease pattern on a grid: lines, runs of steps, mirror images, turned and shifted copies, reflections in
// an outline, and single creases. A rule is a line of text, kept as typed, so a list of rules can be read, edited and
// drawn again on another grid.
#pragma once

#include "base/names.h"

#include "form/crease_pattern.h"

#include <string>
#include <vector>

namespace uc {

enum class PatternGrid { square, diagonal, equilateral };
template <>
inline constexpr auto enum_words<PatternGrid> = std::to_array<Word<PatternGrid>>(
    {{PatternGrid::square, "square"}, {PatternGrid::diagonal, "diagonal"}, {PatternGrid::equilateral, "equilateral"}});

/// The points of a grid over a sheet, from its lower left corner: square cells of width / count; the same set on its
/// corner, with steps along the diagonals; or triangles with sides of width / count.
struct GridFrame {
  Point origin = Point::Zero();
  Eigen::Matrix2d step = Eigen::Matrix2d::Identity(); // columns: one step in i, one in j
  [[nodiscard]] Point at(const Point& ij) const { return origin + step * ij; }
  [[nodiscard]] Point index(const Point& mm) const;
  /// The grid point nearest to a place.
  [[nodiscard]] Point nearest(const Point& mm) const;
};
GridFrame grid_frame(PatternGrid grid, int count, const Polygon& sheet);
/// The lines of the grid within the sheet.
std::vector<Segment> grid_lines(PatternGrid grid, int count, const Polygon& sheet);

constexpr int most_grid_count = 256;
constexpr int most_rule_repeats = 1024;

struct PatternRule {
  enum class Kind { crease, run, line, ray, mirror, turn, copy, tile, reflect, relief, direct, remove };
  Kind kind = Kind::crease;
  std::vector<Point> points; // grid coordinates, in the order of the text
  int repeat = 1;            // of the steps; into how many for turn; how many more for copy; outlines of relief
  int apart = 1;             // cells between outlines of relief
  bool grid = false;         // relief: with the grid lines that are not folded
  std::optional<EdgeKind> edge;
  bool alternating = false;
  int first = 0; // which rules are meant by mirror, turn, copy, tile and reflect, from 1; 0: all before
  int last = 0;
};

/// Reads one rule:
///   crease 0,0 8,8 mountain            run 0,4 step 1,0 repeat 16 valley alternating
///   run 0,0 step 1,1 step 1,-1 repeat 16 mountain   (a zigzag)
///   line 0,2 along 1,0 mountain        (from edge to edge)
///   ray 4,4 along 1,1 valley           (to the edge or the next crease)
///   mirror 8,0 8,16                    turn 8,8 into 4 [alternating]
///   copy 2,0 times 7 [alternating]     reflect 4,4 12,4 8,12 [alternating]
///   relief 16,8 8,16 4,12 12,4 nested 2 step 2 [grid]   (level pleats over the sheet, upright within the outline)
///   tile 4,0 1,4 [alternating]         (copies by both steps, all over the sheet)
///   direct 3,5 valley                  remove 3,5          (the crease nearest there)
/// With `alternating` the sides of what reflects become creases that change direction where a crease meets them.
/// `of 2` or `of 2-4` after mirror, turn, copy, tile and reflect names the rules that are meant.
Result<PatternRule> parse_rule(const std::string& text);
std::string rule_text(const PatternRule& rule);

} // namespace uc
