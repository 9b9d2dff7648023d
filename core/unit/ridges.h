// Which way the ridges of units are folded that stand for edges: it follows from the angle inside the solid between a
// unit's two facets, the dihedral angle and what the facets rise over both faces.
#pragma once

#include "programme/move.h"
#include "programme/phrase.h"
#include "unit/unit_family.h"

namespace uc {

struct Ridge {
  double angle_deg = 180; // inside the solid
  int units = 0;
  /// Seen from outside: a mountain below 180 degrees, a valley above, undirected for no ridge.
  [[nodiscard]] Fold fold() const;
};

/// One for each angle, ascending; none for families whose units stand for something else.
std::vector<Ridge> ridges_of(const Polyhedron& solid, const UnitFamily& family);

/// "Fold the ridge of each unit as a valley, seen from outside: to 141 degrees." One sentence for each kind of fold.
std::vector<std::string> ridge_texts(const std::vector<Ridge>& ridges, const TextStyle& style = {});

} // namespace uc
