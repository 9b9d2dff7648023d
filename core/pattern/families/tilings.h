// The seven edge-to-edge tilings by regular polygons with edges of length 1 that twists are made of.
#pragma once

#include "geometry/plane.h"

#include <string>
#include <vector>

namespace uc {

struct Tile {
  int sides = 4;
  Point centre = Point::Zero();
  double normal = 0;   // direction of the middle of side 0, in radians
  bool second = false; // of the second colour
  /// Side i runs from corner i to corner i + 1, counter-clockwise.
  [[nodiscard]] Point corner(int i) const;
};

struct Tiling {
  enum class Alike { tiles, corners }; // what has all its sides alike
  std::string name;                    // 4.8.8
  Point u = Point::Zero();             // the lattice
  Point v = Point::Zero();
  std::vector<Tile> tiles; // of one cell
  Alike alike = Alike::tiles;
  bool checkered = false; // cells change colours in turn
};

const std::vector<Tiling>& all_tilings();
/// Every tile whose centre is within the box of these half sizes about the origin.
std::vector<Tile> tiles_over(const Tiling& tiling, const Point& half_size);

} // namespace uc
