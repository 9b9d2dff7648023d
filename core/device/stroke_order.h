// In which order, and each from which end, a stylus draws strokes so that it travels little while it is lifted: a
// travelling-salesman tour over strokes. Nearest neighbours begin it; blocks are then turned round (Croes 1958) and
// moved elsewhere (Or 1976) while that shortens it, and short tours are shaken and mended again (Martin, Otto, Felten
// 1991).
#pragma once

#include "geometry/polygon.h"

#include <vector>

namespace uc {

/// Lifted travel from `home` over all strokes in their order and back, mm.
double lifted_travel(const std::vector<Segment>& strokes, const Point& home);

/// The same strokes, ordered and turned. The same input gives the same order.
std::vector<Segment> in_short_order(const std::vector<Segment>& strokes, const Point& home);

/// The strokes course by course: parallel ones one after the other from one side to the other, to and fro, so that none
/// is drawn between two that stand already. The courses follow each other as it travels least from one to the next.
/// Empty when the strokes run in more than `most_courses` directions.
constexpr std::size_t most_courses = 12;
std::vector<Segment> in_courses(const std::vector<Segment>& strokes, const Point& home);

} // namespace uc
