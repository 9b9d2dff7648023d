#include "unit/assembly.h"

#include "base/index.h"

#include <algorithm>
#include <tuple>

namespace uc {

std::vector<AssemblyStep> assembly_order(const UnitGraph& graph) {
  const std::size_t n = graph.units.size();
  std::vector<std::vector<UnitId>> beside(n);
  for (const auto& [a, b] : graph.joints) {
    beside[at(a)].push_back(b);
    beside[at(b)].push_back(a);
  }
  std::vector<std::vector<int>> rings_of(n);
  std::vector<int> lacking;
  for (std::size_t r = 0; r < graph.rings.size(); ++r) {
    lacking.push_back(static_cast<int>(graph.rings[r].units.size()));
    for (const int u : graph.rings[r].units) rings_of[at(u)].push_back(static_cast<int>(r));
  }
  std::vector<char> placed(n, 0);
  std::vector<char> reachable(n, 0);
  std::vector<UnitId> open; // reachable, not placed
  std::vector<AssemblyStep> out;
  int closed = 0;
  while (out.size() < n) {
    UnitId best;
    std::tuple<int, int, int, int> score;
    const auto consider = [&](UnitId u) {
      int closes = 0;
      int nearest = 1 << 20;
      for (const int r : rings_of[at(u)]) {
        closes += lacking[at(r)] == 1;
        nearest = std::min(nearest, lacking[at(r)]);
      }
      int joints = 0;
      for (const int v : beside[at(u)]) joints += placed[at(v)];
      const std::tuple own{closes, -nearest, joints, -u};
      if (best < 0 || own > score) best = u, score = own;
    };
    for (const UnitId u : open) consider(u);
    for (UnitId u(0); best < 0 && at(u) < n; ++u)
      if (!placed[at(u)]) best = u; // the first, or another part
    AssemblyStep step;
    step.add = best;
    placed[at(best)] = 1;
    std::erase(open, best);
    for (const UnitId v : beside[at(best)])
      if (!placed[at(v)] && !std::exchange(reachable[at(v)], 1)) open.push_back(v);
    for (const int r : rings_of[at(best)]) {
      if (--lacking[at(r)] > 0) continue;
      step.closes.push_back(r);
      ++closed;
    }
    step.rings_closed = closed;
    out.push_back(std::move(step));
  }
  return out;
}

} // namespace uc
