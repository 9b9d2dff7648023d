#include "form/smallest_set.h"

#include <algorithm>

namespace uc {
namespace {

bool hit(const std::vector<int>& set, const std::vector<int>& chosen) {
  return std::any_of(set.begin(), set.end(),
                     [&](int i) { return std::find(chosen.begin(), chosen.end(), i) != chosen.end(); });
}

bool extend(const std::vector<std::vector<int>>& sets, std::vector<int>& chosen, std::size_t most, int* steps) {
  if (steps && --*steps <= 0) return false;
  const std::vector<int>* open = nullptr;
  for (const auto& set : sets) {
    if (!hit(set, chosen) && (!open || set.size() < open->size())) open = &set;
  }
  if (!open) return true;
  if (chosen.size() == most) return false;
  for (const int i : *open) {
    chosen.push_back(i);
    if (extend(sets, chosen, most, steps)) return true;
    chosen.pop_back();
  }
  return false;
}

} // namespace

std::optional<std::vector<int>> least_hitting_set(const std::vector<std::vector<int>>& sets, std::size_t most,
                                                  int* steps) {
  for (std::size_t size = 0; size <= most; ++size) {
    if (steps && *steps <= 0) break;
    std::vector<int> chosen;
    if (extend(sets, chosen, size, steps)) {
      std::sort(chosen.begin(), chosen.end());
      return chosen;
    }
  }
  return std::nullopt;
}

SmallestSet smallest_contradiction(int count, std::vector<int> known,
                                   const std::function<Enlarged(const std::vector<int>&)>& enlarge) {
  std::vector<std::vector<int>> cuts;
  std::sort(known.begin(), known.end());
  while (!known.empty()) {
    int steps = 2'000'000;
    const auto candidate = least_hitting_set(cuts, known.size() - 1, &steps);
    if (!candidate) return {known, steps > 0};
    const Enlarged grown = enlarge(*candidate);
    if (grown.late) return {known, false};
    if (!grown.fits) return {*candidate, true};
    std::vector<int> cut;
    for (int i = 0; i < count; ++i) {
      if (std::find(grown.set.begin(), grown.set.end(), i) == grown.set.end()) cut.push_back(i);
    }
    if (cut.empty()) return {known, false}; // everything fits: nothing is contradictory
    cuts.push_back(std::move(cut));
  }
  return {known, true};
}

} // namespace uc
