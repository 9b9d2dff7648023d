// How long a hand takes over one fold or pinch, learnt from moves that were timed.
#pragma once

#include "precision/hand_profile.h"

#include <vector>

namespace uc {

struct TimedMove {
  bool pinch = false;
  double seconds = 0;
};

struct Pace {
  double fold_seconds = 0;
  double pinch_seconds = 0;
  int folds = 0; // behind them
  int pinches = 0;
};

/// The mean of what was timed together with so many moves of the assumed pace (the prior); one move counts at most
/// five times what is assumed, since nobody folds while the telephone rings.
Pace learnt_pace(const std::vector<TimedMove>& moves, const HandProfile& assumed);
constexpr int moves_assumed = 12;

} // namespace uc
