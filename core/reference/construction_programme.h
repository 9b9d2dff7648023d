// A construction told as moves, so that references and polygons are run, drawn, printed and logged like any programme.
#pragma once

#include "precision/hand_profile.h"
#include "programme/programme.h"
#include "reference/route.h"

namespace uc {

/// The id of an item of the construction that has its ids from `plan`.
constexpr ElementId item_id(ElementId plan, int item) { return {plan.source, plan.plan, item}; }
/// Ids of the reference at a place in the project's list.
constexpr ElementId reference_plan(int place = 0) { return {ElementSource::reference, place, 0}; }

/// Moves for everything in the construction, in its order, then a move that names the wanted marks. `plan` keeps the
/// ids of several constructions on one sheet apart.
Programme programme_of(const Construction& construction, const std::vector<CreaseNeed>& needs,
                       const std::vector<int>& results, const HandProfile& hand, ElementId plan = reference_plan());
Programme programme_of(const Route& route, const HandProfile& hand, ElementId plan = reference_plan());

/// Ends the moves with the cut along the marks in `outline`, in place of a look at each of them.
void add_cut(Programme& programme, const Construction& construction, const std::vector<int>& outline,
             const ConstructionErrors& errors);

/// The place of the move that makes an item of the construction; none when there is none.
std::optional<std::size_t> move_making(const Programme& programme, int item, ElementId plan = reference_plan());

} // namespace uc
