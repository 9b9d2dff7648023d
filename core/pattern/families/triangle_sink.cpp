// Triangle sinks on the equilateral grid: about a grid point three of its six neighbours form a triangle, and from each
// side a pleat one row wide runs off along the grid at 30 degrees to the side. At a corner of the triangle lie 60, 30,
// 120 and 150 degrees, so Kawasaki holds; the creases beside the 30 are opposite and the other two alike. A neighbour
// is the same sink turned by half a turn about the middle of the pleat they share: mountains for valleys, the other
// hand. One and its three neighbours make a threefold group, and all of them the lattice of hexagons. One, two or four
// are drawn whole or not at all; of the lattice, which runs over the rim, the whole ones are counted.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>
#include <numbers>
#include <utility>

namespace uc {
namespace {

constexpr int least_apart = 2;
constexpr int most_apart = 12;
enum Group { single, both_hands, threefold, lattice };

struct Sink {
  Point centre = Point::Zero(); // in sides of the grid's triangles
  bool turned = false;
};
using Key = std::pair<long, long>;
Key key_of(const Point& p) { return {std::lround(p.x() * 4), std::lround(p.y() * 8)}; }

Point direction(double degrees) {
  return {std::cos(degrees * std::numbers::pi / 180), std::sin(degrees * std::numbers::pi / 180)};
}
double heading(const Sink& s, int pleat) { return 120.0 * pleat + (s.turned ? 180 : 0); }
Point corner(const Sink& s, int i) { return s.centre + direction(heading(s, i)); }
Sink neighbour(const Sink& s, int pleat, double apart) {
  const double h = heading(s, pleat);
  return {s.centre + apart * direction(h) + std::sqrt(0.75) * direction(h + 90), !s.turned};
}

/// Those that are drawn, from the one in the middle.
std::map<Key, Sink> sinks_of(Group group, double apart, double reach) {
  const Sink middle;
  std::map<Key, Sink> out{{key_of(middle.centre), middle}};
  std::vector<Sink> open{middle};
  while (!open.empty() && group != single) {
    const Sink s = open.back();
    open.pop_back();
    for (int i = 0; i < (group == both_hands ? 1 : 3); ++i) {
      const Sink next = neighbour(s, i, apart);
      if (next.centre.norm() > reach || !out.emplace(key_of(next.centre), next).second) continue;
      if (group == lattice) open.push_back(next);
    }
  }
  return out;
}

bool whole_on(const Polygon& sheet, const Sink& s, const Point& origin, double grid) {
  for (int i = 0; i < 3; ++i) {
    const Point from = origin + grid * corner(s, i);
    const Point along = (origin + grid * corner(s, i + 1) - from) / grid;
    const double length = std::sqrt(3.0) * grid;
    const auto parts = clip(Line::through(from, from + along), sheet);
    if (std::none_of(parts.begin(), parts.end(), [&](const Segment& part) {
          const double a = (part.from - from).dot(along) / along.norm();
          const double b = (part.to - from).dot(along) / along.norm();
          return std::min(a, b) <= 1e-6 * grid && std::max(a, b) >= length - 1e-6 * grid;
        }))
      return false;
  }
  return true;
}

/// Grid points between neighbours, at most, so that all of a group lie on the sheet; none at all: 0.
int farthest_apart(Group group, const Polygon& sheet, const Point& origin, double grid) {
  for (int apart = most_apart; apart >= least_apart; --apart) {
    const auto sinks = sinks_of(group, apart + 0.5, std::numeric_limits<double>::infinity());
    if (std::all_of(sinks.begin(), sinks.end(), [&](const auto& s) { return whole_on(sheet, s.second, origin, grid); }))
      return apart;
  }
  return 0;
}

Result<FamilyDrawing> draw_sinks(const ParameterValues& values, const Polygon& sheet) {
  const Box box = bounding_box(sheet);
  const double grid = box.size().x() / values.at("count");
  const double apart = values.at("apart") + 0.5;
  const Group group = static_cast<Group>(static_cast<int>(values.at("group")));
  const std::map<Key, Sink> sinks = sinks_of(group, apart, box.size().norm() / grid / 2 + 2 * apart);
  // The grid point nearest to the middle of the sheet.
  const GridFrame frame = grid_frame(PatternGrid::equilateral, static_cast<int>(values.at("count")), sheet);
  const Point origin = frame.at(frame.nearest(box.centre()));
  const auto place = [&](const Point& p) -> Point { return origin + grid * p; };
  const auto whole =
      std::count_if(sinks.begin(), sinks.end(), [&](const auto& s) { return whole_on(sheet, s.second, origin, grid); });
  if (group != lattice && whole < static_cast<long>(sinks.size())) {
    const int most = farthest_apart(group, sheet, origin, grid);
    return Error{most == 0
                     ? std::string("count: the sinks of this group do not lie on the sheet; type more triangles "
                                   "across")
                     : fmt::format("apart: sinks of this group lie off the sheet; type up to {}, or more triangles "
                                   "across",
                                   most)};
  }
  CreaseLines lines(sheet);
  for (const auto& [key, s] : sinks) {
    const EdgeKind side = s.turned ? EdgeKind::mountain : EdgeKind::valley;
    for (int i = 0; i < 3; ++i) {
      const Point from = corner(s, i);
      const Point to = corner(s, i + 1);
      lines.add(place(from), place(to), side);
      const auto other = sinks.find(key_of(neighbour(s, i, apart).centre));
      if (other == sinks.end()) {
        lines.ray(place(from), direction(heading(s, i)), side);
        lines.ray(place(to), direction(heading(s, i)), opposite(side));
      } else if (!s.turned) { // drawn once, by one of the two
        lines.add(place(from), place(corner(other->second, 1 + i)), side);
        lines.add(place(to), place(corner(other->second, i)), opposite(side));
      }
    }
  }
  const Sink middle;
  HeldFlat held{"triangle", {}};
  for (int i = 0; i < 3; ++i) held.part.push_back(place(corner(middle, i)));
  FamilyDrawing out{lines.design(), {}, {held}};
  out.figures.pleat_mm = grid * std::sqrt(0.75);
  out.figures.more = {{"grid_mm", grid}, {"sinks", static_cast<double>(whole)}};
  return out;
}

} // namespace

PatternFamily triangle_sink_family() {
  return {
      "triangle-sink",
      "Triangle sinks",
      FamilyGroup::tessellation,
      true,
      {{"count", "Triangles across", ParameterType::integer, 6, 96, 24, "The grid's triangles over the sheet's width."},
       {"group",
        "Group",
        ParameterType::choice,
        0,
        3,
        3,
        "How many sinks, joined by their pleats.",
        {"single", "both-hands", "threefold", "lattice"}},
       {"apart", "Apart", ParameterType::integer, least_apart, most_apart, 4,
        "Grid steps and a half between neighbouring sinks."}},
      draw_sinks};
}

} // namespace uc
