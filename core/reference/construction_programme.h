// A construction told as moves, so that references and polygons are run, drawn, printed and logged like any programme.
#pragma once

#include "precision/hand_profile.h"
#include "programme/programme.h"
#include "reference/route.h"

namespace uc {

/// Ids of the elements of construction number `n` of a project; grids use those below.
constexpr int construction_ids = 100'000;

/// Moves for everything in the construction, in its order, then a move that names the wanted marks. `number` keeps the
/// ids of several constructions on one sheet apart.
Programme programme_of(const Construction& construction, const std::vector<CreaseNeed>& needs,
                       const std::vector<int>& results, const HandProfile& hand, int number = 0);
Programme programme_of(const Route& route, const HandProfile& hand, int number = 0);

/// Ends the moves with the cut along the marks in `outline`, in place of a look at each of them.
void add_cut(Programme& programme, const Construction& construction, const std::vector<int>& outline,
             const ConstructionErrors& errors);

/// Id of an item of construction `number`.
constexpr int element_id_of(int item, int number = 0) { return construction_ids * (number + 1) + item; }
/// The move that makes a crease of the construction; null when there is none.
const Move* move_making(const Programme& programme, int item, int number = 0);

/// A, B, ... Z, A2, B2, ...
std::string mark_label(int index);

} // namespace uc
