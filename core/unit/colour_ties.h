// What the colours of units may have to keep to: rotations of the solid that take the units of one colour to those of
// one colour, and bands of units that follow each other straight on round it.
#pragma once

#include "unit/joints.h"

namespace uc {

/// Where a rotation takes each vertex of the solid.
using VertexTurn = std::vector<VertexId>;
/// Every rotation that takes the solid onto itself, the one that moves nothing first.
std::vector<VertexTurn> rotations_of(const Polyhedron& solid);
/// How often a rotation is done until nothing has moved.
int order_of(const VertexTurn& turn);

using Ties = std::vector<std::array<UnitId, 2>>;

/// Where a rotation takes each unit.
using UnitTurn = std::vector<UnitId>;

/// The rotation of this order about one axis; of all, those that generate the rest when the order is 0. Fails where the
/// solid has no such rotation, and says which it has.
Result<std::vector<UnitTurn>> unit_turns(const Polyhedron& solid, const UnitGraph& graph, int order);

/// At each corner, edges that lie opposite have one colour: closed bands run round the solid. Fails for units that are
/// no edges and at corners with an odd number of them.
Result<Ties> band_ties(const Polyhedron& solid, const UnitGraph& graph);

} // namespace uc
