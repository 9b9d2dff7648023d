// The twists of a pattern, sinks among them: facets that turn as the sheet closes, with a pleat running off from each
// side. Who creases as he goes makes one after another.
#pragma once

#include "form/crease_pattern.h"

namespace uc {

struct Twist {
  Point centre = Point::Zero();
  int sides = 3;
  std::vector<VertexId> corners; // of the facet, counter-clockwise
};

/// Facets without a raw edge whose sides are all mountains or all valleys and from whose sides pleats run off aslant:
/// parallel creases of opposite kinds. From the middle of the sheet outward, counter-clockwise among equals.
std::vector<Twist> twists_of(const CreasePattern& pattern);

/// Per edge of the pattern the first twist, by index, that cannot be formed without it: its facet's sides, and the
/// pleats that run off from its corners, each as far as the next twist or the edge of the sheet. -1 for edges no twist
/// needs.
std::vector<int> first_needed_by(const CreasePattern& pattern, const std::vector<Twist>& twists);

/// The twist a place of the sheet belongs to: the nearest; of equally near ones the first.
int nearest_twist(const std::vector<Twist>& twists, const Point& place);

} // namespace uc
