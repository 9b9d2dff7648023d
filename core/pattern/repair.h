// What would mend a broken vertex: a crease to turn the other way, to swing or to leave out, a vertex to move, a crease
// to add. Every proposal has been tried on the pattern.
#pragma once

#include "form/local_proof.h"

namespace uc {

struct VertexRepair {
  enum class Kind { redirect, swing, move, add, leave_out, join };
  Kind kind = Kind::redirect;
  VertexId vertex;          // where it is done; -1 for join
  CreaseId edge;            // that is redirected, swung or left out
  double degrees = 0;       // swing: counter-clockwise about the vertex; add: direction of the new crease
  Point to = Point::Zero(); // move: where the vertex goes; swing, add: where the crease ends; join: the crossing
  double shift_mm = 0;      // move: how far; swing: how far the crease's end goes
  int left_over = 0;        // violations the whole pattern has afterwards
};

/// Ways to mend one violation, best first: those that leave the fewest violations in the whole pattern, then the
/// smallest shift. At most `most`.
std::vector<VertexRepair> repairs_of(const CreasePattern& pattern, const PatternGraph& graph,
                                     const LocalViolation& violation, std::size_t most = 6);

/// The pattern with a repair made; new ends on other creases split them.
CreasePattern repaired(const CreasePattern& pattern, const VertexRepair& repair);

} // namespace uc
