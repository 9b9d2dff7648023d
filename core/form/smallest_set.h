// The smallest set of things that cannot all hold, by hitting sets: whatever is taken out of the whole to make it fit
// must meet every contradictory set, so a least set that meets all such cuts and still does not fit is a smallest one.
#pragma once

#include <cstddef>
#include <functional>
#include <optional>
#include <vector>

namespace uc {

/// A least set of indices that meets every one of `sets` (none of them empty) and has at most `most` members; nullopt
/// when it would need more. The search counts `steps` down, when they are given, and gives up (nullopt) at 0.
std::optional<std::vector<int>> least_hitting_set(const std::vector<std::vector<int>>& sets, std::size_t most,
                                                  int* steps = nullptr);

struct SmallestSet {
  std::vector<int> indices; // ascending
  bool proved = false;      // none has fewer members; false when time ran out before that was clear
};

/// What became of a set that was to be enlarged until nothing more fits.
struct Enlarged {
  bool late = false; // time was up
  bool fits = false; // whether the set fitted at all
  std::vector<int> set;
};
/// `known` is a set out of 0 .. count-1 that does not fit.
SmallestSet smallest_contradiction(int count, std::vector<int> known,
                                   const std::function<Enlarged(const std::vector<int>&)>& enlarge);

} // namespace uc
