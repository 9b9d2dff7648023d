// A grid on a sheet: which families of parallel lines it has, where they run on this outline, and which parts of them
// are creased. Knows geometry only; how the lines are folded is the plan's business.
#pragma once

#include "base/names.h"

#include "divide/plan.h"
#include "paper/sheet.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

enum class GridAxis { x, y, both, diagonal, equilateral };
template <>
inline constexpr auto enum_words<GridAxis> = std::to_array<Word<GridAxis>>({{GridAxis::x, "x"},
                                                                            {GridAxis::y, "y"},
                                                                            {GridAxis::both, "both"},
                                                                            {GridAxis::diagonal, "diagonal"},
                                                                            {GridAxis::equilateral, "equilateral"}});

enum class ExtentRule { full, to_diagonals, inset };
template <>
inline constexpr auto enum_words<ExtentRule> = std::to_array<Word<ExtentRule>>(
    {{ExtentRule::full, "full"}, {ExtentRule::to_diagonals, "to-diagonals"}, {ExtentRule::inset, "inset"}});

enum class DirectionRule { valley, alternating, both_ways };
template <>
inline constexpr auto
    enum_words<DirectionRule> = std::to_array<Word<DirectionRule>>({{DirectionRule::valley, "valley"},
                                                                    {DirectionRule::alternating, "alternating"},
                                                                    {DirectionRule::both_ways, "both-ways"}});

/// What the folder wishes for.
struct GridSpec {
  int parts = 8;
  GridAxis axis = GridAxis::both;
  Method method = Method::best;
  DirectionRule direction = DirectionRule::valley;
  ExtentRule extent = ExtentRule::full;
  int inset = 1;               // stop lines, in units from both sides, for ExtentRule::inset
  std::vector<Box> keep_clean; // areas without any crease, mm
  std::vector<int> left_out;   // lines without crease, in every direction
  bool pinches_allowed = true; // where no crease is wanted, a pinch at the raw edge may still serve as a reference
  std::optional<StartMark> start;
  bool operator==(const GridSpec& o) const;
};

/// One direction of the grid: lines with this normal, line k at low + k/parts * extent_mm.
struct Family {
  std::string name; // x, y, rising, falling, 0, 60, 120
  Point normal{1, 0};
  double low = 0;
  double extent_mm = 0;
  std::string low_place; // what lies on line 0: "left" and so on
  std::string high_place;
  bool low_is_corner = false;
  bool high_is_corner = false;
  std::optional<Line> low_guide; // that the corner is led along, where it is one and the guide can be folded
  std::optional<Line> high_guide;
};

struct GridLayout {
  Polygon area; // where the grid lies: the sheet, or the hexagon to be cut from it first
  bool cut_first = false;
  bool meets = true; // false when the three directions of an equilateral grid have no common points
  std::vector<Family> families;
};

GridLayout lay_out(const Sheet& sheet, const GridSpec& spec);

Line line_at(const Family& family, int index, int parts);
/// Where line `index` of a family is creased on the area; empty when nothing of it may be.
std::vector<Segment> crease_spans(const GridLayout& layout, const Family& family, int index, const GridSpec& spec);
/// Where on the sheet something lies that way from the middle: "left", "upper-left" and so on.
std::string place_of(const Point& outward);
/// The short marks that may stand in for the line, across the guides or at the raw edges where there are none; empty
/// when the areas to keep clean forbid both.
std::vector<Segment> pinch_spans(const GridLayout& layout, const Family& family, int index, const GridSpec& spec);

/// The one-dimensional task of one direction: what the extents and areas leave for it.
DivideTask task_for(const GridLayout& layout, const Family& family, const GridSpec& spec, const HandProfile& hand);

Status check_spec(const GridSpec& spec, const HandProfile& hand);

} // namespace uc
