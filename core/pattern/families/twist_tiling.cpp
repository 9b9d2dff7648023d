// Twist tilings: every tile of an edge-to-edge tiling by regular polygons shrinks by k and turns by a about its centre;
// the sides that met become the two ends of a pleat. The pleat's creases make the angle f = atan((cos a - k) / sin a)
// with the sides, so k = cos a - sin a tan f. At each corner of a tile lie its own angle, the supplement of it, f and
// 180 - f, hence Kawasaki. With f the least of them, the two creases beside it are opposite and the other two alike;
// so a pleat is one mountain and one valley, its two ends are opposite, and which way round is free for each edge of
// the tiling. Where tiles can be two-coloured all sides of a tile are alike, else those of the polygons left at the
// vertices, where these can be. An n-gon with all sides alike folds flat up to f = 90 - 180 / n.
#include "base/quantity.h"
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"
#include "pattern/families/tilings.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace uc {
namespace {

struct Half { // one side of a tile, on an edge of the tiling
  std::size_t tile = 0;
  int side = 0;
};
using TileKey = std::pair<long long, long long>;
TileKey tile_key(const Point& p) { return {std::llround(p.x() * 4096), std::llround(p.y() * 4096)}; }

/// Colours for the corners of the tiling so that those of an edge differ, as far as that goes.
std::map<TileKey, bool> coloured_corners(const std::vector<Tile>& tiles) {
  std::map<TileKey, std::vector<TileKey>> beside;
  for (const Tile& t : tiles) {
    for (int i = 0; i < t.sides; ++i) beside[tile_key(t.corner(i))].push_back(tile_key(t.corner(i + 1)));
  }
  std::map<TileKey, bool> colour;
  for (const auto& [first, unused] : beside) {
    if (!colour.emplace(first, false).second) continue;
    std::vector<TileKey> open{first};
    while (!open.empty()) {
      const TileKey at = open.back();
      open.pop_back();
      for (const TileKey& next : beside[at])
        if (colour.emplace(next, !colour[at]).second) open.push_back(next);
    }
  }
  return colour;
}

Result<FamilyDrawing> draw_tiling(const ParameterValues& values, const Polygon& sheet) {
  const Tiling tiling = all_tilings()[static_cast<std::size_t>(values.at("tiling"))];
  const double a = Degrees{values.at("turn")}.radians();
  const double f = Degrees{values.at("slant")}.radians();
  const double k = std::cos(a) - std::sin(a) * std::tan(f);
  const double sense = values.at("sense") == 0 ? 1 : -1;
  const Box box = bounding_box(sheet);
  const double edge = box.size().x() / values.at("edges");
  const Point reach = box.size() / edge / 2 + Point{6, 6}; // tiles of twelve sides reach far
  const std::vector<Tile> tiles = tiles_over(tiling, reach);

  const Isometry turned = Isometry::rotation_about(Point::Zero(), sense * a);
  const auto place = [&](const Tile& t, int corner) -> Point {
    return box.centre() + edge * (t.centre + k * (turned.linear * (t.corner(corner) - t.centre)));
  };
  std::map<TileKey, std::vector<Half>> edges;
  for (std::size_t t = 0; t < tiles.size(); ++t)
    for (int i = 0; i < tiles[t].sides; ++i)
      edges[tile_key((tiles[t].corner(i) + tiles[t].corner(i + 1)) / 2)].push_back({t, i});
  const std::map<TileKey, bool> colours =
      tiling.alike == Tiling::Alike::corners ? coloured_corners(tiles) : std::map<TileKey, bool>{};

  CreaseLines lines(sheet);
  for (const auto& [at, halves] : edges) {
    if (halves.size() != 2) continue; // beyond the sheet
    const Tile& one = tiles[halves[0].tile];
    const Tile& other = tiles[halves[1].tile];
    const Point v = place(one, halves[0].side);
    const Point w = place(one, halves[0].side + 1);
    const Point v2 = place(other, halves[1].side + 1);
    const Point w2 = place(other, halves[1].side);
    const bool acute_at_v = (w - v).dot(v2 - v) > 0;
    // The side of the first tile is like the pleat's crease at its obtuse end.
    bool mountain = one.second;
    if (tiling.alike == Tiling::Alike::corners)
      mountain = colours.at(tile_key(one.corner(halves[0].side + (acute_at_v ? 1 : 0))));
    else if (one.second == other.second) // neither can be: the one further to the right, then up
      mountain = std::pair{one.centre.x(), one.centre.y()} > std::pair{other.centre.x(), other.centre.y()};
    const EdgeKind side = mountain ? EdgeKind::mountain : EdgeKind::valley;
    lines.add(v, w, side);
    lines.add(v2, w2, opposite(side));
    lines.add(v, v2, acute_at_v ? opposite(side) : side);
    lines.add(w, w2, acute_at_v ? side : opposite(side));
  }
  const Tile& middle = *std::min_element(tiles.begin(), tiles.end(), [](const Tile& one, const Tile& other) {
    return one.centre.norm() < other.centre.norm() - 1e-9;
  });
  HeldFlat held{"middle tile", {}};
  for (int i = 0; i < middle.sides; ++i) held.part.push_back(place(middle, i));
  FamilyDrawing out{lines.design(), {}, {held}};
  out.figures.pleat_mm = k * edge * std::sin(f);
  out.figures.more = {{"shrunk_to", k}, {"edge_mm", edge}};
  return out;
}

} // namespace

PatternFamily twist_tiling_family() {
  std::vector<std::string> names;
  names.reserve(all_tilings().size());
  for (const Tiling& t : all_tilings()) names.push_back(t.name);
  return {
      "twist-tiling",
      "Twisted tilings",
      FamilyGroup::tessellation,
      true,
      {{"tiling", "Tiling", ParameterType::choice, 0, static_cast<double>(names.size()) - 1, 0,
        "By the polygons round a corner.", names},
       {"edges", "Edges across", ParameterType::number, 2, 24, 6, "The tiling's edge is the sheet's width over this."},
       {"turn", "Turn", ParameterType::degrees, 10, 45, 30, "How far each tile turns: more makes wider pleats."},
       {"slant", "Slant of the pleats", ParameterType::degrees, 8, 28, 20,
        "Between a tile's side and the pleat; up to 28, so that tiles of twelve sides can have neighbours."},
       {"sense", "Sense", ParameterType::choice, 0, 1, 0, "Which way tiles turn, seen from above.", {"left", "right"}}},
      draw_tiling};
}

} // namespace uc
