// What a closed sheet does when the hands let go of it: creases spring back as far as the paper remembers to be flat,
// the sheet sags under its own weight and stands on the ground.
#pragma once

#include "collapse/closing.h"
#include "paper/stock.h"

namespace uc {

/// Stiffnesses of a stock for a mesh whose mean edge is `unit_mm` long. Facets bend as a plate of the paper's thickness
/// does, t²/(12 (1 - 0.3²)) over the edge squared; a crease is as soft as a strip of paper of some 30 mm, less where
/// creases are remembered well (rules of the house, not measured).
FoldStiffness stiffness_of(const Stock& stock, double unit_mm);

/// The share of its angle that a crease keeps when it is let go: a rule of the house, not measured.
double kept_angle(const Stock& stock);

/// Weight of a vertex's part of the sheet over the stiffness of a bar, for paper of 3 GPa (the usual order of
/// magnitude).
double weight_of(const Stock& stock, const FoldMesh& mesh);

/// The state that follows when `from` is let go on a table. None when it was stopped.
std::optional<CollapseState> let_go(const FoldMesh& mesh, const CollapseState& from, const Stock& stock,
                                    const Progress* progress = nullptr);

} // namespace uc
