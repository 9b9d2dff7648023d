// A collapse as moves: one for each stage, with the state to reach, and what the stock asks for at the end.
#pragma once

#include "collapse/closing_plan.h"
#include "paper/stock.h"
#include "pattern/design.h"
#include "programme/programme.h"

namespace uc {

/// Clips, damping and waiting that help a stock to keep its shape, as moves with their cautions. A rule of the house:
/// damp shaping where the paper takes it, else clips for half an hour where creases spring back or the paper is stiff.
std::vector<Move> setting_moves(const Stock& stock);

/// The states at the ends of the stages, as far as the plan's end or else as the family is usually closed; then the
/// corners that are pushed over there, and the hands that let go. Fails for sheets that cannot move as one, for corners
/// that cannot be pushed, and when it is stopped.
Result<Programme> closing_programme(const DrawnPattern& pattern, const ClosingPlan& plan, const Stock& stock,
                                    Progress* progress = nullptr);

} // namespace uc
