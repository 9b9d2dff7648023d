// Whether every vertex of a crease pattern can fold flat on its own: even degree, Kawasaki-Justin, Maekawa-Justin and
// big-little-big (Kawasaki 1989, Justin 1986, Hull 1994). Necessary for the whole to fold, not sufficient.
#pragma once

#include "base/names.h"

#include "form/crease_pattern.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

enum class LocalRule { even_degree, kawasaki, maekawa, big_little_big, crossing, dangling };
template <>
inline constexpr auto
    enum_words<LocalRule> = std::to_array<Word<LocalRule>>({{LocalRule::even_degree, "even-degree"},
                                                            {LocalRule::kawasaki, "kawasaki"},
                                                            {LocalRule::maekawa, "maekawa"},
                                                            {LocalRule::big_little_big, "big-little-big"},
                                                            {LocalRule::crossing, "crossing"},
                                                            {LocalRule::dangling, "dangling"}});

struct LocalViolation {
  LocalRule rule = LocalRule::kawasaki;
  std::optional<VertexId> vertex; // none for a crossing
  Point at = Point::Zero();
  double defect_deg = 0;       // Kawasaki: |a1 - a2 + a3 - ...|; 0 for the other rules
  std::vector<CreaseId> edges; // of the pattern, that take part
};

/// Angles that differ by less are equal, in degrees.
constexpr double angle_tolerance_deg = 5e-3;

/// Every rule that is broken at an interior vertex, by vertex. At a vertex of odd degree only that is said, at the end
/// of a single crease only that it is dangling. Undirected creases count as what suits best. Linear in the edges.
std::vector<LocalViolation> local_violations(const CreasePattern& pattern, const PatternGraph& graph);

/// Violations for edges that cross.
std::vector<LocalViolation> crossing_violations(const std::vector<SegmentCrossing>& crossings);

} // namespace uc
