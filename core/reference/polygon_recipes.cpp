// Ways to fold regular polygons. All are written for a square; a rectangle is first given the crease that makes one.
#include "base/quantity.h"
#include "reference/polygon.h"
#include "reference/recipe_hand.h"
#include "reference/rosette.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <tuple>

namespace uc {
namespace {

using std::numbers::pi;

/// The square the recipes work in: the sheet itself, or what one crease leaves of a rectangle.
struct Square : Hand {
  int bottom, right, top, left;
  int bl, br, tr, tl;
  double side;
  int across = -1;  // the horizontal middle
  int upright = -1; // the vertical middle
  int centre = -1;
  int east = -1; // middle of the right side
  Rosette::Marking marking;

  Square(const Polygon& sheet, Rosette::Marking vertices) : Hand(sheet), marking(vertices) {
    bottom = c.edge(0), right = c.edge(1), top = c.edge(2), left = c.edge(3);
    bl = c.corner(0), br = c.corner(1), tr = c.corner(2), tl = c.corner(3);
    const Point size = bounding_box(sheet).size();
    side = size.minCoeff();
    if (std::abs(size.x() - size.y()) < 1e-9 * size.norm()) return;
    const int corner = o3(left, bottom, ray(bl, 45));
    if (size.x() > size.y()) {
      tr = cross(corner, top);
      right = o4(tr, bottom);
      br = cross(right, bottom);
    } else {
      tr = cross(corner, right);
      top = o4(tr, left);
      tl = cross(top, left);
    }
  }
  void find_centre() {
    upright = o3(right, left);
    across = o3(top, bottom);
    centre = cross(upright, across);
    east = cross(across, right);
  }
};

using Vertices = Result<std::vector<int>>;
Vertices completed(Square& s, Rosette& rosette) {
  if (s.failed()) return recipe_does_not_fit();
  return rosette.complete(1e-9 * s.side, s.marking);
}

Vertices square(Square& s) {
  if (s.failed()) return recipe_does_not_fit();
  return std::vector<int>{s.bl, s.br, s.tr, s.tl};
}

Vertices triangle_on_a_side(Square& s) {
  const int upright = s.o3(s.right, s.left);
  const int across = s.o3(s.top, s.bottom);
  const int slope = s.o5(s.tl, across, s.bl, s.ray(s.bl, 60));
  const int apex = s.cross(slope, upright);
  if (s.failed()) return recipe_does_not_fit();
  return std::vector<int>{s.bl, s.br, apex};
}

Vertices triangle_in_a_corner(Square& s) {
  const int upright = s.o3(s.right, s.left);
  const int across = s.o3(s.top, s.bottom);
  const int low = s.o5(s.br, across, s.bl, s.ray(s.bl, 15));
  const int high = s.o5(s.tl, upright, s.bl, s.ray(s.bl, 75));
  const int a = s.cross(low, s.right);
  const int b = s.cross(high, s.top);
  if (s.failed()) return recipe_does_not_fit();
  return std::vector<int>{s.bl, a, b};
}

/// Hexagon, triangle, dodecagon around the centre: thirds of the turn come from a quarter line.
Vertices thirds(Square& s, int sides) {
  s.find_centre();
  Rosette r(s.c, sides, s.centre, s.across, s.east);
  const int west_quarter = s.o3(s.left, s.upright);
  const int sixty = s.o5(s.east, west_quarter, s.centre, s.ray(s.centre, 60));
  const int down = s.o5(s.east, west_quarter, s.centre, s.ray(s.centre, -60));
  if (sides == 6) s.o3(s.right, s.upright);
  const int step = sides / 3; // index of 60°
  if (s.failed()) return recipe_does_not_fit();
  r.know_line(step, sixty);
  r.know_line(-step, down);
  if (sides % 4 == 0) r.know_line(sides / 2, s.upright);
  return completed(s, r);
}

/// Hexagon and dodecagon that touch all four sides: a vertex at 15° on the right one.
Vertices touching_at_15_degrees(Square& s, int sides) {
  s.find_centre();
  const int east_quarter = s.o3(s.right, s.upright);
  const int thirty = s.o5(s.east, east_quarter, s.centre, s.ray(s.centre, 30));
  const int fifteen = s.o3(s.across, thirty, s.ray(s.centre, 15));
  const int rising = s.o1(s.bl, s.tr);
  const int falling = sides == 6 ? s.o1(s.tl, s.br) : -1;
  const int first = s.cross(fifteen, s.right);
  if (s.failed()) return recipe_does_not_fit();
  Rosette r(s.c, sides, s.centre, fifteen, first);
  r.know_line(sides / 6, rising);
  if (sides == 6) {
    r.know_line(4, falling);
  } else {
    r.know_line(1, thirty);
    r.know_line(5, s.upright);
    r.know_line(11, s.across);
  }
  return completed(s, r);
}

Vertices wide_octagon(Square& s) {
  s.find_centre();
  const int diagonal = s.o1(s.bl, s.tr);
  const int slight = s.o3(s.across, diagonal, s.ray(s.centre, 22.5));
  const int first = s.cross(slight, s.right);
  if (s.failed()) return recipe_does_not_fit();
  Rosette r(s.c, 8, s.centre, slight, first);
  r.know_line(1, diagonal);
  r.know_line(3, s.upright);
  r.know_line(7, s.across);
  return completed(s, r);
}
Vertices halves(Square& s, int sides) {
  s.find_centre();
  const int diagonal = s.o1(s.bl, s.tr);
  if (s.failed()) return recipe_does_not_fit();
  Rosette r(s.c, sides, s.centre, s.across, s.east);
  r.know_line(sides / 4, diagonal);
  r.know_line(sides / 2, s.upright);
  return completed(s, r);
}

/// The line square to the axis at cos 72° of the radius, on which two vertices of a pentagon lie: halving the angle at
/// the middle of the upper radius finds it.
int golden_line(Square& s) {
  const int high = s.o3(s.top, s.across);
  const int m = s.cross(high, s.upright);
  const int slant = s.o1(m, s.east);
  if (s.failed()) return -1;
  const Point at = s.c[s.centre].point + Point{std::cos(72 * pi / 180) * s.side / 2, 0};
  const int half = s.o3(s.upright, slant, Line::through(s.c[m].point, at));
  return s.o4(s.cross(half, s.across), s.across);
}
int at_36_degrees(Square& s, int golden, double degrees = 36) {
  return s.o5(s.east, golden, s.centre, s.ray(s.centre, degrees));
}

Vertices pentagon_in_the_circle(Square& s) {
  s.find_centre();
  const int golden = golden_line(s);
  const int up = at_36_degrees(s, golden);
  const int down = at_36_degrees(s, golden, -36);
  if (s.failed()) return recipe_does_not_fit();
  Rosette r(s.c, 5, s.centre, s.across, s.east);
  r.know_line(1, up);
  r.know_line(4, down);
  return completed(s, r);
}
/// Fifths of the turn and what halving and thirds make of them.
Vertices fifths(Square& s, int sides) {
  s.find_centre();
  const int slight = at_36_degrees(s, golden_line(s));
  const int sixty = sides % 3 == 0 ? s.o5(s.east, s.o3(s.left, s.upright), s.centre, s.ray(s.centre, 60)) : s.across;
  if (s.failed()) return recipe_does_not_fit();
  Rosette r(s.c, sides, s.centre, s.across, s.east);
  r.know_line(sides / 5, slight);
  if (sides % 3 == 0) r.know_line(sides / 3, sixty);
  if (sides % 2 == 0) r.know_line(sides / 2, s.upright);
  return completed(s, r);
}
/// The decagon that touches all four sides: its rays lie halfway between those of the pentagon and the middle.
Vertices turned_decagon(Square& s) {
  s.find_centre();
  const int slight = at_36_degrees(s, golden_line(s));
  const int steep = s.o3(s.across, slight, s.ray(s.centre, 108));
  const int first_ray = s.o3(steep, s.upright, s.ray(s.centre, 99));
  const int first = s.cross(first_ray, s.top);
  const int diagonal = s.o1(s.tl, s.br);
  if (s.failed()) return recipe_does_not_fit();
  Rosette r(s.c, 10, s.centre, first_ray, first);
  r.know_line(2, diagonal); // 99° + 36°
  return completed(s, r);
}

/// Half the sheet, the crossing of one half's diagonals, the far end of the middle brought to it.
Vertices quick_pentagon(Square& s) {
  s.find_centre();
  const int fall = s.o1(s.tl, s.br);
  const int west = s.cross(s.across, s.left);
  const int north = s.cross(s.upright, s.top);
  const int rise = s.o1(west, north);
  const int upper = s.cross(fall, rise);
  const int ray = s.o2(s.east, upper);
  const int hub = s.cross(ray, s.across);
  const int drop = s.o4(upper, s.across);
  const int climb = s.o1(s.bl, s.tr);
  const int lower = s.cross(drop, climb);
  const int mirrored = s.o2(s.east, lower);
  if (s.failed()) return recipe_does_not_fit();
  const double slight = std::atan2(3, 1) / 2 * 180 / pi;
  const int up = s.o3(s.across, ray, s.ray(hub, slight));
  const int down = s.o3(s.across, mirrored, s.ray(hub, -slight));
  const int high = s.cross(s.o4(s.east, up), ray);
  const int low = s.cross(s.o4(s.east, down), mirrored);
  if (s.failed()) return recipe_does_not_fit();
  return std::vector<int>{s.east, high, upper, lower, low};
}

/// In units of a quarter of the side, with the centre as origin: (0, 1/2) brought onto y = -1/2 and (-1, -1) onto x =
/// 0. The creases cross y = 0 at cos of the sevenths of the turn, for they solve u³ + u² - 2u - 1 = 0, u = 2 cos (by
/// O6; Gleason 1988, Geretschläger 1997).
Vertices heptagon_in_the_circle(Square& s) {
  s.find_centre();
  const int west = s.o3(s.left, s.upright);
  const int east = s.o3(s.right, s.upright);
  const int south = s.o3(s.bottom, s.across);
  const int north = s.o3(s.top, s.across);
  const int high = s.cross(s.o3(north, s.across), s.upright);
  const int low = s.o3(south, s.across);
  const int corner = s.cross(west, south);
  const int tip = s.cross(east, s.across);
  if (s.failed()) return recipe_does_not_fit();
  const double u = 2 * std::cos(4 * pi / 7);
  const Point at = s.c[s.centre].point + Point{u * s.side / 8, 0};
  const int cubic = s.o6(high, low, corner, s.upright, Line::through(at, at + Point{1, u}));
  const int upright = s.o4(s.cross(cubic, s.across), s.across);
  const int up = s.o5(tip, upright, s.centre, s.ray(s.centre, 360.0 / 7));
  const int down = s.o5(tip, upright, s.centre, s.ray(s.centre, -360.0 / 7));
  if (s.failed()) return recipe_does_not_fit();
  Rosette ring(s.c, 7, s.centre, s.across, s.east);
  ring.know_line(2, up);
  ring.know_line(-2, down);
  return completed(s, ring);
}

/// A third of 60°: the corner onto the lower quarter line, the middle of its side onto the line at 60° (O6).
Vertices enneagon_in_the_circle(Square& s) {
  s.find_centre();
  const int low = s.o3(s.bottom, s.across);
  const int sixty = s.o5(s.tl, s.across, s.bl, s.ray(s.bl, 60));
  const int west = s.cross(s.across, s.left);
  if (s.failed()) return recipe_does_not_fit();
  // The corner lands at 20°; the crease is the upright between.
  const Point landing = s.c[s.bl].point + Point{s.side / 4 / std::tan(pi / 9), s.side / 4};
  const Point middle = (s.c[s.bl].point + landing) / 2;
  const Point along = landing - s.c[s.bl].point;
  const int third = s.o6(s.bl, low, west, sixty, Line::through(middle, middle + Point{-along.y(), along.x()}));
  const int twenty = s.o4(s.centre, third);
  if (s.failed()) return recipe_does_not_fit();
  Rosette r(s.c, 9, s.centre, s.across, s.east);
  r.know_line(1, twenty);
  return completed(s, r);
}

/// The line at so many sixteenths of the radius from the centre, by halving.
int sixteenth(Square& s, int count) {
  int low = s.upright;
  int high = count > 0 ? s.right : s.left;
  int low_at = 0;
  int high_at = 16;
  while (true) {
    const int middle = s.o3(low, high);
    const int at = (low_at + high_at) / 2;
    if (s.failed() || at == std::abs(count)) return middle;
    if (std::abs(count) < at)
      high = middle, high_at = at;
    else
      low = middle, low_at = at;
  }
}

/// One ray from a line at sixteenths of the radius, the others by halving angles between it and the middle.
Vertices by_sixteenths(Square& s, int sides, int ray_index, int count) {
  s.find_centre();
  const int upright = sixteenth(s, count);
  const double degrees = std::acos(count / 16.0) / 2 * 180 / pi;
  const int ray = s.o5(s.east, upright, s.centre, s.ray(s.centre, degrees));
  if (s.failed()) return recipe_does_not_fit();
  Rosette r(s.c, sides, s.centre, s.across, s.east);
  r.know_line(ray_index, ray);
  if (sides % 2 == 0) r.know_line(sides / 2, s.upright);
  return r.complete(0, s.marking);
}

std::optional<PolygonMethod> quick_by_sixteenths(const Polygon& sheet, int sides, Rosette::Marking marking,
                                                 double sigma_mm) {
  std::optional<PolygonMethod> best;
  for (int j = 1; 2 * j < sides; ++j) {
    for (int count = -15; count <= 15; ++count) {
      if (count == 0) continue;
      const double off = std::acos(count / 16.0) / 2 - j * pi / sides;
      if (std::abs(off) > 0.9 * pi / 180) continue;
      Square s(sheet, marking);
      const auto vertices = by_sixteenths(s, sides, j, count);
      if (!vertices) continue;
      auto judged = judged_polygon("quick, by sixteenths", s.c, *vertices, sigma_mm);
      if (!judged) continue;
      if (judged->angle_error_deg > 2) continue; // no polygon a folder would call regular
      const auto badness = [](const PolygonMethod& m) { return m.angle_error_deg + 0.05 * m.creases; };
      if (!best || badness(*judged) < badness(*best)) best = std::move(judged).value();
    }
  }
  return best;
}

/// Said of a recipe whose vertices are marked where edges land.
constexpr const char* landed_suffix = ", marked where edges land";

/// Nobody can fold a polygon whose vertices lie further off than this part of a side.
constexpr double foldable_share = 0.25;

struct PolygonRecipe {
  int sides;
  const char* name;
  Vertices (*fold)(Square&);
};
const PolygonRecipe recipes[] = {
    {3, "on one side", triangle_on_a_side},
    {3, "in a corner", triangle_in_a_corner},
    {3, "around the centre", [](Square& s) { return thirds(s, 3); }},
    {4, "square", square},
    {5, "around the centre", pentagon_in_the_circle},
    {5, "quick, half's diagonals", quick_pentagon},
    {6, "around the centre", [](Square& s) { return thirds(s, 6); }},
    {6, "touching all sides", [](Square& s) { return touching_at_15_degrees(s, 6); }},
    {7, "around the centre", heptagon_in_the_circle},
    {8, "touching all sides", wide_octagon},
    {8, "around the centre", [](Square& s) { return halves(s, 8); }},
    {9, "around the centre", enneagon_in_the_circle},
    {10, "around the centre", [](Square& s) { return fifths(s, 10); }},
    {10, "touching all sides", turned_decagon},
    {12, "around the centre", [](Square& s) { return thirds(s, 12); }},
    {12, "touching all sides", [](Square& s) { return touching_at_15_degrees(s, 12); }},
    {15, "around the centre", [](Square& s) { return fifths(s, 15); }},
    {16, "around the centre", [](Square& s) { return halves(s, 16); }},
    {20, "around the centre", [](Square& s) { return fifths(s, 20); }},
    {24, "around the centre", [](Square& s) { return thirds(s, 24); }},
};

void add_recipes(const Polygon& sheet, int sides, Rosette::Marking marking, double sigma_mm,
                 std::vector<PolygonMethod>& found) {
  for (const PolygonRecipe& recipe : recipes) {
    if (recipe.sides != sides) continue;
    Square s(sheet, marking);
    const auto vertices = recipe.fold(s);
    if (!vertices) continue;
    if (auto m = judged_polygon(recipe.name, s.c, *vertices, sigma_mm)) found.push_back(std::move(m).value());
  }
  const bool thin = std::none_of(found.begin(), found.end(), [](const auto& m) { return m.exact; });
  if (sides == 7 || sides == 9 || thin) {
    if (auto m = quick_by_sixteenths(sheet, sides, marking, sigma_mm)) found.push_back(std::move(*m));
  }
}

/// What the recipes and, where they do not reach the largest, its references give; with landings only what uses one.
void add_methods(const Polygon& sheet, const LargestPolygon& largest, Rosette::Marking marking, double sigma_mm,
                 const SheetIndex* index, std::vector<PolygonMethod>& methods) {
  const int sides = static_cast<int>(largest.vertices.size());
  std::vector<PolygonMethod> found;
  if (sheet.size() == 4 && edge_id(sheet, 0) == "bottom") add_recipes(sheet, sides, marking, sigma_mm, found);
  const bool reached = std::any_of(
      found.begin(), found.end(), [&](const PolygonMethod& m) { return m.side_min_mm > largest.side_mm * (1 - 1e-9); });
  if (index && !reached) {
    if (auto m = polygon_by_references(sheet, largest, marking, sigma_mm, *index))
      found.push_back(std::move(m).value());
  }
  for (PolygonMethod& m : found) {
    if (marking == Rosette::Marking::landings && !m.lands()) continue;
    if (m.lands()) m.name += landed_suffix;
    methods.push_back(std::move(m));
  }
}

} // namespace

Result<std::vector<PolygonMethod>> polygon_methods(const Polygon& sheet, int sides, double sigma_mm,
                                                   const SheetIndex* index) {
  if (sides < least_sides || sides > most_sides)
    return Error{
        fmt::format("A polygon of {} sides cannot be planned; type {} to {}.", sides, least_sides, most_sides)};
  const LargestPolygon largest = largest_polygon(sheet, sides);
  std::vector<PolygonMethod> methods;
  for (const auto marking : {Rosette::Marking::creases, Rosette::Marking::landings})
    add_methods(sheet, largest, marking, sigma_mm, index, methods);
  for (PolygonMethod& m : methods) m.largest = m.side_min_mm > largest.side_mm * (1 - 2e-4);
  const bool any = !methods.empty();
  std::erase_if(methods, [](const PolygonMethod& m) { return m.shape_mm > foldable_share * m.side_min_mm; });
  std::stable_sort(methods.begin(), methods.end(), [](const PolygonMethod& a, const PolygonMethod& b) {
    return std::tuple(a.shape_mm, a.creases) < std::tuple(b.shape_mm, b.creases);
  });
  if (methods.empty() && any)
    return Error{
        fmt::format("Folding errors would add up to more than a quarter of a side of this polygon; draw it from "
                    "the printed template, with sides of {} mm.",
                    format_number(largest.side_mm, 2))};
  if (methods.empty())
    return Error{"No way to fold this polygon from this sheet is known; take a square or a rectangle."};
  return methods;
}

} // namespace uc
