// The lamp over a piece, and how much of its light comes to a place: what the window and pictures made without one
// light by.
#pragma once

#include "solid/polyhedron.h"

#include <utility>

namespace uc {

struct Lamp {
  double azimuth_deg = 120; // counter-clockwise from the right, where the light comes from
  double height_deg = 45;   // above the table
  double ambient = 0.45;    // of the light that comes from everywhere
  bool shadows = false;
  /// Of a spot lamp's cone, from side to side; what is farther from the lamp gets less. 0: light from far away, in one
  /// direction everywhere.
  double spread_deg = 0;
  /// Towards the lamp, from the middle.
  [[nodiscard]] Point3 direction() const;
  /// The cosine of half the spot's angle.
  [[nodiscard]] double rim() const;
  friend bool operator==(const Lamp&, const Lamp&) = default;
};

/// The same lamp over the left shoulder of whoever looks from `eye`: nothing that is seen lies in the dark.
Lamp at_eye(Lamp lamp, const Point3& eye);

/// What a lamp shines on: lengths are told over `reach_mm`, than which it is smaller.
struct Lit {
  Point3 middle = Point3::Zero();
  double reach_mm = 1;
  static constexpr double scene_reaches = 0.4; // from the middle to the farthest of it
  static constexpr double spot_reaches = 0.8;  // from the middle to a spot lamp
};

/// Towards the lamp from a place, and the share of its light that comes there: 1 in the middle.
std::pair<Point3, double> light_at(const Lamp& lamp, const Lit& lit, const Point3& place);

} // namespace uc
