#include "form/pair_index.h"

#include "base/index.h"

#include <algorithm>

namespace uc {
namespace {

/// Calls use(first, second) for every pair, by its lesser face; calls begun(first) before, which says whether to go on.
template <class Begun, class Use>
void for_each_pair(int faces, const std::vector<std::vector<FaceId>>& stacks, Begun&& begun, Use&& use) {
  std::vector<std::vector<int>> held_by(at(faces)); // stacks that hold a face
  for (std::size_t s = 0; s < stacks.size(); ++s) {
    for (const int f : stacks[s]) held_by[at(f)].push_back(static_cast<int>(s));
  }
  std::vector<int> seen_with(at(faces), -1);
  for (int f = 0; f < faces; ++f) {
    if (!begun(f)) return;
    for (const int s : held_by[at(f)]) {
      const auto& stack = stacks[at(s)];
      for (auto g = std::upper_bound(stack.begin(), stack.end(), f); g != stack.end(); ++g) {
        if (seen_with[at(*g)] == f) continue;
        seen_with[at(*g)] = f;
        use(f, *g);
      }
    }
  }
}

} // namespace

PairIndex::PairIndex(int faces, const std::vector<std::vector<FaceId>>& stacks, const Progress* progress) {
  first_of_.assign(at(faces) + 1, 1);
  const auto ascending = [&](std::size_t from) {
    std::sort(second_.begin() + static_cast<std::ptrdiff_t>(from), second_.end());
  };
  for_each_pair(
      faces, stacks,
      [&](int f) {
        if (f > 0) ascending(first_of_[at(f) - 1]);
        first_of_[at(f)] = second_.size();
        return f % 256 != 0 || !progress || !progress->stopped();
      },
      [&](int, int g) { second_.emplace_back(g); });
  if (faces > 0) ascending(first_of_[at(faces) - 1]);
  first_of_[at(faces)] = second_.size();
}

std::size_t PairIndex::count(int faces, const std::vector<std::vector<FaceId>>& stacks) {
  std::size_t pairs = 0;
  for_each_pair(
      faces, stacks, [](int) { return true; }, [&](int, int) { ++pairs; });
  return pairs;
}

std::array<FaceId, 2> PairIndex::operator[](std::size_t pair) const {
  const auto row = std::upper_bound(first_of_.begin(), first_of_.end(), pair);
  return {FaceId(row - first_of_.begin() - 1), second_[pair]};
}

Literal PairIndex::above(FaceId upper, FaceId lower) const {
  const int low = std::min(upper, lower);
  const int high = std::max(upper, lower);
  const auto begin = second_.begin() + static_cast<std::ptrdiff_t>(first_of_[at(low)]);
  const auto end = second_.begin() + static_cast<std::ptrdiff_t>(first_of_[at(low) + 1]);
  const auto found = std::lower_bound(begin, end, high);
  if (found == end || *found != high) return 0;
  const auto pair = static_cast<Literal>(found - second_.begin());
  return upper < lower ? pair : -pair;
}

void StackTable::lay_out(const PairIndex& pairs, const std::vector<FaceId>& faces) {
  size_ = faces.size();
  faces_ = faces;
  table_.assign(size_ * size_, 0);
  if (!faces.empty() && place_.size() <= at(faces.back())) place_.resize(at(faces.back()) + 1);
  for (std::size_t i = 0; i < size_; ++i) {
    place_[at(faces[i])] = i;
    // Both the pairs of this face and the rest of the stack ascend.
    std::size_t pair = pairs.first_of_[at(faces[i])];
    const std::size_t end = pairs.first_of_[at(faces[i]) + 1];
    for (std::size_t k = i + 1; k < size_; ++k) {
      while (pair < end && pairs.second_[pair] < faces[k]) ++pair;
      if (pair == end || pairs.second_[pair] != faces[k]) continue;
      table_[i * size_ + k] = static_cast<Literal>(pair);
      table_[k * size_ + i] = -static_cast<Literal>(pair);
    }
  }
}

} // namespace uc
