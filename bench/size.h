// How large a benchmark is. `bench/run --tenth` asks for a tenth, which is quick enough to look at whenever a change
// lands and still shows what has become ten times slower or ends in an error.
#pragma once

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <vector>

namespace uc::bench {

inline double share() {
  const char* asked = std::getenv("UC_BENCH_SHARE");
  return asked ? std::clamp(std::atof(asked), 0.001, 1.0) : 1;
}

/// A number of things, at least one.
inline int sized(int full) { return std::max(1, static_cast<int>(std::lround(full * share()))); }

/// Of a row of sizes those up to its share of the largest, the smallest in any case. `power` says how the work grows
/// with the size.
inline std::vector<int> sized(const std::vector<int>& row, double power = 1) {
  std::vector<int> out;
  for (const int n : row) {
    if (out.empty() || std::pow(n, power) <= share() * std::pow(row.back(), power)) out.push_back(n);
  }
  return out;
}

} // namespace uc::bench
