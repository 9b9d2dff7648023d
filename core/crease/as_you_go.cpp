#include "crease/as_you_go.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>

namespace uc {

AsYouGo as_you_go(const CreasePattern& pattern, const LineMaking& making, const std::vector<CarrierLine>& wanted) {
  AsYouGo out;
  out.twists = twists_of(pattern);
  out.shares.resize(making.lines.size());
  const std::vector<int> needed_by = first_needed_by(pattern, out.twists);
  const double tolerance = 4 * snap_tolerance(pattern);
  for (std::size_t i = 0; i < making.lines.size(); ++i) {
    if (making.lines[i].carrier < 0) continue;
    const Line& carrier = wanted[at(making.lines[i].carrier)].line;
    const Point along = making.construction[making.lines[i].items.back()].line.direction();
    std::vector<TwistShare>& shares = out.shares[i];
    for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
      if (!folds(pattern.edges[e].kind)) continue;
      const Segment s = pattern.segment(CreaseId(e));
      if (std::max(std::abs(carrier.distance(s.from)), std::abs(carrier.distance(s.to))) > tolerance) continue;
      const auto [low, high] = std::minmax({along.dot(s.from), along.dot(s.to)});
      const int twist = needed_by[e] < 0 ? nearest_twist(out.twists, s.middle()) : needed_by[e];
      shares.push_back({low, high, pattern.edges[e].kind, twist});
    }
    std::sort(shares.begin(), shares.end(), [](const auto& a, const auto& b) { return a.low < b.low; });
  }
  return out;
}

} // namespace uc
