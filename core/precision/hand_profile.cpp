#include "precision/hand_profile.h"

#include "base/quantity.h"

#include <cmath>

namespace uc {

double creep_mm(const HandProfile& hand, int layers, double caliper_mm) {
  return layers > 1 ? (layers - 1) * caliper_mm * hand.creep : 0;
}

Result<HandProfile> checked(const HandProfile& hand) {
  if (!(hand.sigma_mm >= least_sigma_mm && hand.sigma_mm <= greatest_sigma_mm)) {
    return Error{"A crease error of " + format_number(hand.sigma_mm, 4) +
                 " mm cannot be planned with; type 0.001 to 100 mm (0.25 mm is usual)."};
  }
  if (!(hand.guess_sigma_mm >= least_sigma_mm && hand.guess_sigma_mm <= 10 * greatest_sigma_mm)) {
    return Error{"An eye error of " + format_number(hand.guess_sigma_mm, 4) +
                 " mm cannot be planned with; type 0.001 to 1000 mm (2 mm is usual)."};
  }
  if (!(hand.creep >= 0 && hand.creep <= 5)) return Error{"The creep factor must be 0 to 5 (0.5 is usual)."};
  for (const double seconds : {hand.fold_seconds, hand.pinch_seconds, hand.turn_seconds, hand.rotate_seconds}) {
    if (!(seconds >= 0 && seconds <= 3600)) return Error{"A move takes 0 to 3600 seconds; type the time of one move."};
  }
  return hand;
}

} // namespace uc
