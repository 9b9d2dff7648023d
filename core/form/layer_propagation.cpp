#include "form/layer_propagation.h"

#include "base/index.h"

#include <algorithm>
#include <cstdint>
#include <cstdlib>
#include <numeric>

namespace uc {
LayerPropagation::LayerPropagation(const LayerConstraints& constraints) : constraints_(constraints) {
  parent_.resize(constraints.pairs.size() + 1); // the last stands for "true"
  std::iota(parent_.begin(), parent_.end(), 0);
}

Literal LayerPropagation::root(Literal l) const {
  while (parent_[at(std::abs(l))] != std::abs(l)) l = l > 0 ? parent_[at(l)] : -parent_[at(-l)];
  return l;
}

Literal LayerPropagation::find(Literal l) {
  const Literal top = root(l);
  for (Literal v = std::abs(l), up = l > 0 ? top : -top; parent_[at(v)] != v;) {
    const Literal next = parent_[at(v)];
    parent_[at(v)] = up;
    if (next < 0) up = -up;
    v = std::abs(next);
  }
  return top;
}

void LayerPropagation::blame(std::initializer_list<Literal> literals) {
  conflict_.clear();
  for (const Literal l : literals) {
    if (l == 0 || std::abs(l) == constant_true()) continue;
    for (const FaceId f : constraints_.pairs[at(std::abs(l))]) {
      if (std::find(conflict_.begin(), conflict_.end(), f) == conflict_.end()) conflict_.push_back(f);
    }
  }
}

bool LayerPropagation::merge(Literal a, Literal b, bool& changed) {
  const Literal x = find(a);
  const Literal y = find(b);
  if (x == y) return true;
  if (x == -y) {
    blame({a, b});
    return false;
  }
  changed = true;
  // "True" stays a root.
  if (std::abs(x) == constant_true())
    parent_[at(std::abs(y))] = y > 0 ? x : -x;
  else
    parent_[at(std::abs(x))] = x > 0 ? y : -y;
  return true;
}

bool LayerPropagation::stopped(std::size_t& steps) const {
  constexpr std::size_t steps_between = 16384;
  return ++steps % steps_between == 0 && progress_ && progress_->stopped();
}

bool LayerPropagation::run(bool directions, const Progress* progress) {
  progress_ = progress;
  bool changed = false;
  std::size_t steps = 0;
  for (const auto& [a, b] : constraints_.equal) {
    if (stopped(steps)) return true;
    if (!merge(a, b, changed)) return false;
  }
  if (directions) {
    for (const auto& f : constraints_.fixed) {
      if (!merge(f.literal, constant_true(), changed)) return false;
    }
  }
  // What directions settle in the stacks settles most parities at once; only what is left of the others is kept.
  for (std::size_t i = 0; directions && i < constraints_.stacks.size(); ++i) {
    if (progress && progress->stopped()) return true;
    if (!close_stack(i, changed)) return false;
  }
  parities_.clear();
  for (const auto& e : constraints_.even) {
    if (stopped(steps)) return true;
    Parity p{e, 4, false};
    bool left = true;
    if (!reduce(p, left, changed)) return false;
    if (left) parities_.push_back(p);
  }
  return settle();
}

bool LayerPropagation::settle() {
  std::size_t round = 0;
  for (bool changed = true; changed; ++round) {
    changed = false;
    bool reduced = true;
    while (reduced) {
      if (progress_ && progress_->stopped()) return true;
      reduced = false;
      if (!reduce_parities(reduced)) return false;
      changed = changed || reduced;
    }
    for (std::size_t s = 0; s < constraints_.stacks.size(); ++s) {
      if (progress_ && progress_->stopped()) return true;
      if (!close_stack(s, changed)) return false;
    }
  }
  return true;
}

bool LayerPropagation::reduce(Parity& parity, bool& left, bool& changed) {
  const Parity before = parity;
  parity.count = 0;
  for (const Literal l : before.roots()) {
    const Literal r = find(l);
    if (r < 0) parity.odd = !parity.odd;
    if (std::abs(r) == constant_true())
      parity.odd = !parity.odd; // a true one
    else
      parity.root[parity.count++] = std::abs(r);
  }
  std::sort(parity.root.begin(), parity.root.begin() + parity.count);
  std::uint8_t single = 0;
  for (std::uint8_t i = 0; i < parity.count;) {
    if (i + 1 < parity.count && parity.root[i] == parity.root[i + 1])
      i += 2;
    else
      parity.root[single++] = parity.root[i++];
  }
  parity.count = single;
  std::fill(parity.root.begin() + single, parity.root.end(), 0);
  left = single > 2;
  bool fits = true;
  if (single == 0)
    fits = !parity.odd;
  else if (single == 1)
    fits = merge(parity.root[0], parity.odd ? constant_true() : -constant_true(), changed);
  else if (single == 2)
    fits = merge(parity.root[0], parity.odd ? -parity.root[1] : parity.root[1], changed);
  if (fits) return true;
  conflict_.clear();
  for (const Literal l : before.roots()) {
    for (const FaceId f : constraints_.pairs[at(std::abs(l))]) conflict_.push_back(f);
  }
  return false;
}

bool LayerPropagation::reduce_parities(bool& changed) {
  std::size_t kept = 0;
  std::size_t steps = 0;
  for (std::size_t i = 0; i < parities_.size(); ++i) {
    if (stopped(steps)) return true; // the caller asks again before it goes on
    Parity p = parities_[i];
    bool left = true;
    if (!reduce(p, left, changed)) return false;
    if (left) parities_[kept++] = p;
  }
  parities_.resize(kept);
  std::sort(parities_.begin(), parities_.end());
  parities_.erase(std::unique(parities_.begin(), parities_.end()), parities_.end());
  return true;
}

/// Whatever lies above something that lies above a third lies above the third; nothing lies above itself.
bool LayerPropagation::close_stack(std::size_t stack, bool& changed) {
  const std::vector<FaceId>& faces = constraints_.stacks[stack];
  const std::size_t n = faces.size();
  const std::size_t words = (n + 63) / 64;
  std::vector<std::uint64_t> below(n * words, 0);
  const auto has = [&](std::size_t i, std::size_t k) { return (below[i * words + k / 64] >> (k % 64)) & 1U; };
  table_.lay_out(constraints_.pairs, faces);
  std::size_t unknown = 0;
  for (std::size_t i = 0; i < n; ++i) {
    for (std::size_t k = i + 1; k < n; ++k) {
      const Literal r = find(table_.above(i, k));
      if (r == constant_true())
        below[i * words + k / 64] |= std::uint64_t{1} << (k % 64);
      else if (r == -constant_true())
        below[k * words + i / 64] |= std::uint64_t{1} << (i % 64);
      else
        ++unknown;
    }
  }
  for (std::size_t k = 0; k < n; ++k) {
    for (std::size_t i = 0; i < n; ++i) {
      if (!has(i, k)) continue;
      for (std::size_t w = 0; w < words; ++w) below[i * words + w] |= below[k * words + w];
    }
  }
  for (std::size_t i = 0; i < n; ++i) {
    if (!has(i, i)) continue;
    conflict_.clear();
    for (std::size_t k = 0; k < n; ++k) { // those on a cycle with it
      if (has(i, k) && has(k, i)) conflict_.push_back(faces[k]);
    }
    return false;
  }
  if (unknown == 0) return true;
  for (std::size_t i = 0; i < n; ++i) {
    for (std::size_t k = i + 1; k < n; ++k) {
      if (!has(i, k) && !has(k, i)) continue;
      const Literal l = table_.above(i, k);
      if (known(l)) continue;
      if (!merge(has(i, k) ? l : -l, constant_true(), changed)) return false;
    }
  }
  return true;
}

} // namespace uc
