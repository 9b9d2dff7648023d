// The outlines of a relief, which lie on the lines and diagonals of the square grid, one within the other.
#pragma once

#include "base/result.h"
#include "geometry/polygon.h"

namespace uc {

/// `nested` outlines, in cells, counter-clockwise, the typed one first and without corners that turn nothing; from one
/// to the next each side moves in by `step` cells. Fails, with one sentence, for corners between cells, sides that are
/// neither level, upright nor at 45 degrees, outlines that cross themselves, and where no room is left within.
Result<std::vector<Polygon>> relief_outlines(const Polygon& typed, int nested, int step);

} // namespace uc
