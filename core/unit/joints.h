// What the units of a plan stand for, which of them join, and the rings they close: round the vertices and faces of the
// solid.
#pragma once

#include "unit/unit_family.h"

#include <array>

namespace uc {

struct Unit {
  enum class Kind { edge, face, vertex, clip };
  Kind kind = Kind::edge;
  int index = 0;                      // of the edge, face or vertex
  std::array<VertexId, 2> vertices{}; // of an edge or clip
  double width_mm = 0;                // of its piece
  double height_mm = 0;
};

struct UnitRing {
  std::vector<UnitId> units; // in order
};

struct UnitGraph {
  std::vector<Unit> units;
  std::vector<std::array<UnitId, 2>> joints; // the lesser first, ascending
  std::vector<UnitId>
      tab_from; // per joint the unit whose tab goes into the other's pocket; empty where it does not matter
  std::vector<UnitRing> rings; // those that close, vertex rings first
};

/// Edge units join their neighbours round every face, face and vertex units across every edge, clips both faces at
/// theirs.
UnitGraph unit_graph(const Polyhedron& solid, const UnitFamily& family, const UnitSheet& sheet);

} // namespace uc
