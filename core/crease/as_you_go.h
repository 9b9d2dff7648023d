// A pattern creased as one goes: which of the pieces of each line belong to which twist, so that one twist after
// another is creased and formed.
#pragma once

#include "crease/line_making.h"
#include "pattern/twists.h"

namespace uc {

/// A piece of a crease along a line, mm along the direction of the line's last making.
struct TwistShare {
  double low = 0;
  double high = 0;
  EdgeKind kind = EdgeKind::undirected;
  int twist = 0;
};

struct AsYouGo {
  std::vector<Twist> twists;                   // in the order in which they are formed
  std::vector<std::vector<TwistShare>> shares; // per line of the making, in order along it
};

/// A crease belongs to the first twist that cannot be formed without it; what no twist needs, to the nearest.
AsYouGo as_you_go(const CreasePattern& pattern, const LineMaking& making, const std::vector<CarrierLine>& wanted);

} // namespace uc
