// A making of lines told as moves: how much of each line is creased, from which side, in which order.
#pragma once

#include "crease/as_you_go.h"
#include "crease/precrease.h"

namespace uc {

using Intervals = std::vector<std::pair<double, double>>; // along a line, mm
Intervals joined(Intervals intervals);
double length_of(const Intervals& intervals);

/// How much of a line is creased by each of its items, and where the pattern wants it.
struct LineExtent {
  std::vector<Intervals> items;
  Intervals uses; // of the last item: what other folds look at
  Intervals wanted;
};

/// A line is creased where the pattern has creases (from edge to edge for the school `everything`) and pinched where
/// other lines are aligned with it or cross it to make a mark.
std::vector<LineExtent> line_extents(const LineMaking& making, const std::vector<CarrierLine>& wanted,
                                     CreaseSchool school, const HandProfile& hand);

/// Whole lines come before those creased in part, as far as these do not serve them; then the order keeps rotations
/// few and goes from the most exact lines to the least. The sheet is turned over once at most: creases that are
/// mountains only, and on which nothing else rests, are folded from the underside, and there all others are worked
/// again where they are to be mountains. As one goes, all that one twist needs comes before what the next needs;
/// `turns` is looked at then only.
Programme precrease_programme(const LineMaking& making, const std::vector<CarrierLine>& wanted,
                              const std::vector<LineExtent>& extents, const AsYouGo& turns, const PrecreaseSpec& spec,
                              const HandProfile& hand);

} // namespace uc
