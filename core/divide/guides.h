// Guides: lines that a corner is led along when it is brought to a line of a grid. A corner brought to a line does not
// fix the crease, which may still turn; brought there while the guide lies on itself it does, for the crease is then
// square to the guide.
#pragma once

#include "geometry/polygon.h"

#include <optional>
#include <vector>

namespace uc {

/// How a guide comes onto the bare sheet.
struct GuideFold {
  enum class Way {
    edge,            // it is a side of the sheet: nothing to fold
    corner_onto,     // one corner brought onto another
    through_corners, // creased through two corners
    edges_onto       // one side of a corner onto the other, through the corner
  };
  Way way = Way::edge;
  std::vector<int> corners; // of the area: the two brought together or creased through; the one between the edges
  std::vector<int> edges;   // edge i runs from corner i to corner i+1
};

/// The line through a corner of a convex area square to a direction of lines, when it can be folded by the area's own
/// corners and sides alone; nothing else.
std::optional<GuideFold> guide_fold(const Polygon& area, const Line& guide);

} // namespace uc
