#include "unit/gape.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {

Gape gape_of(const UnitPlan& plan, const HandProfile& hand, double caliper_mm) {
  Gape out;
  for (const UnitRing& r : plan.graph.rings) out.ring = std::max(out.ring, static_cast<int>(r.units.size()));
  out.edge_sd_mm = hand.sigma_mm * std::sqrt(2.0);
  out.hand_mm = out.edge_sd_mm * std::sqrt(static_cast<double>(std::max(1, out.ring)));
  out.misfit_mm = 2 * plan.edge_mm * std::sin(plan.worst_miss_deg * std::numbers::pi / 360);
  out.together_mm = std::hypot(out.hand_mm, out.misfit_mm);
  out.layers_mm = plan.family->joint_layers * caliper_mm;
  return out;
}

} // namespace uc
