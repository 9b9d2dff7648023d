#include "measure/pace.h"

#include <algorithm>

namespace uc {

Pace learnt_pace(const std::vector<TimedMove>& moves, const HandProfile& assumed) {
  const auto mean = [&](bool pinch, double usual, int& count) {
    double sum = moves_assumed * usual;
    count = 0;
    for (const TimedMove& m : moves) {
      if (m.pinch != pinch || !(m.seconds > 0)) continue;
      sum += std::min(m.seconds, 5 * usual);
      ++count;
    }
    return sum / (moves_assumed + count);
  };
  Pace pace;
  pace.fold_seconds = mean(false, assumed.fold_seconds, pace.folds);
  pace.pinch_seconds = mean(true, assumed.pinch_seconds, pace.pinches);
  return pace;
}

} // namespace uc
