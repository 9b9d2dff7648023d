// Where letters and numbers stand in a drawing: by what they name, clear of each other, of points, arrows and lines as
// far as there is room.
#pragma once

#include "geometry/polygon.h"

#include <vector>

namespace uc {

/// A name and what it stands by, on the page; y goes down.
struct PlacedLabel {
  Point at = Point::Zero();   // what it names
  Point size = Point::Zero(); // of its letters
  Point away = Point::Zero(); // the way it would rather go, as long as 1
};

struct LabelObstacles {
  std::vector<Segment> lines;
  std::vector<Segment> arrows;
  std::vector<Point> dots;
  double dot_radius = 0;
  Box room; // of the page
};

/// The middles of the labels, one after another: each takes the place of eight directions and three distances where it
/// covers least, a place nearby before one that is far.
std::vector<Point> label_places(const std::vector<PlacedLabel>& labels, const LabelObstacles& obstacles);

} // namespace uc
