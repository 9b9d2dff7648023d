// Which of several ways are worth a thought: those that no other beats in everything that counts.
#pragma once

#include <algorithm>
#include <array>
#include <cstddef>
#include <numeric>
#include <vector>

namespace uc {

/// Indices of the ways that no other is at least as good as in both figures and better in one, by the first figure.
/// Less is better; of equal ways the earliest counts. O(n log n).
inline std::vector<std::size_t> frontier_of(const std::vector<std::array<double, 2>>& ways) {
  std::vector<std::size_t> order(ways.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return ways[a] < ways[b]; });
  std::vector<std::size_t> best;
  for (const std::size_t i : order) {
    if (best.empty() || ways[i][1] < ways[best.back()][1]) best.push_back(i);
  }
  return best;
}

} // namespace uc
