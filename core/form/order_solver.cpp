#include "form/order_solver.h"

#include "base/index.h"
#include "form/layer_components.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <cstdlib>

namespace uc {
OrderSolver::OrderSolver(const LayerConstraints& constraints, const LayerPropagation& propagated,
                         const LayerComponent* component)
    : constraints_(constraints), propagated_(&propagated), used_(at(constraints.faces), 1),
      stacks_(component ? component->stacks : constraints.stacks) {
  const Literal yes = propagated.constant_true();
  first_switch_ = yes + 1;
  add({yes});
  if (component) {
    for (const std::size_t p : component->parities)
      add_parity(propagated.parities()[p].roots(), propagated.parities()[p].odd);
    return;
  }
  for (const auto& p : propagated.parities()) add_parity(p.roots(), p.odd);
  // Stacks in which everything is known hold no more cycles.
  StackTable table;
  std::erase_if(stacks_, [&](const std::vector<FaceId>& s) {
    table.lay_out(constraints.pairs, s);
    for (std::size_t i = 0; i < s.size(); ++i) {
      for (std::size_t k = i + 1; k < s.size(); ++k) {
        if (!propagated.known(table.above(i, k))) return false;
      }
    }
    return true;
  });
}

OrderSolver::OrderSolver(const LayerConstraints& constraints, const std::vector<FaceId>& faces, Switches switches)
    : constraints_(constraints), switches_(switches), used_(at(constraints.faces), faces.empty() ? 1 : 0) {
  first_switch_ = static_cast<int>(constraints.pairs.size()) + 1;
  for (const int f : faces) used_[at(f)] = 1;
  const auto within = [&](auto&& literals) {
    return std::all_of(std::begin(literals), std::end(literals), [&](Literal l) {
      const auto [a, b] = constraints.pairs[at(std::abs(l))];
      return used_[at(a)] && used_[at(b)];
    });
  };
  for (const auto& [a, b] : constraints.equal) {
    if (!within(std::array{a, b})) continue;
    add({a, -b});
    add({-a, b});
  }
  for (const auto& e : constraints.even) {
    if (within(e)) add_parity(e, false);
  }
  for (std::size_t i = 0; i < constraints.fixed.size(); ++i) {
    const Literal l = constraints.fixed[i].literal;
    if (!within(std::array{l})) continue;
    if (switches == Switches::creases) {
      solver_.add(-switch_of(static_cast<int>(i)));
      solver_.add(l);
      solver_.add(0);
    } else {
      add({l});
    }
  }
  for (const auto& s : constraints.stacks) {
    std::vector<FaceId> kept;
    std::copy_if(s.begin(), s.end(), std::back_inserter(kept), [&](int f) { return used_[at(f)] != 0; });
    if (kept.size() > 2) stacks_.push_back(std::move(kept));
  }
}

void OrderSolver::add_switched(const std::vector<DirectionPair>& pairs) {
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    const Literal a = mapped(pairs[i].first);
    const Literal b = pairs[i].same ? mapped(pairs[i].second) : -mapped(pairs[i].second);
    for (const int sign : {1, -1}) {
      solver_.add(-switch_of(static_cast<int>(i)));
      solver_.add(-sign * a);
      solver_.add(sign * b);
      solver_.add(0);
    }
  }
}

Literal OrderSolver::mapped(Literal l) const { return propagated_ ? propagated_->root(l) : l; }

void OrderSolver::guard(std::initializer_list<Literal> literals) {
  if (switches_ != Switches::faces) return;
  std::array<int, 8> faces{};
  std::size_t n = 0;
  for (const Literal l : literals) {
    for (const int f : constraints_.pairs[at(std::abs(l))]) {
      if (std::find(faces.begin(), faces.begin() + n, f) == faces.begin() + n) faces[n++] = f;
    }
  }
  for (std::size_t i = 0; i < n; ++i) solver_.add(-switch_of(faces[i]));
}

void OrderSolver::add(std::initializer_list<Literal> clause) {
  guard(clause);
  for (const Literal l : clause) solver_.add(l);
  solver_.add(0);
}

void OrderSolver::add_parity(std::span<const Literal> roots, bool odd) {
  const std::size_t n = roots.size();
  for (unsigned mask = 0; mask < 1U << n; ++mask) {
    // Forbid every assignment of the wrong parity; bit i says that literal i is true.
    const bool is_odd = __builtin_popcount(mask) % 2 != 0;
    if (is_odd == odd) continue;
    if (n == 4 && switches_ == Switches::faces) guard({roots[0], roots[1], roots[2], roots[3]});
    for (std::size_t i = 0; i < n; ++i) solver_.add((mask >> i) & 1U ? -roots[i] : roots[i]);
    solver_.add(0);
  }
}

bool OrderSolver::is_true(Literal l) const {
  const Literal m = mapped(l);
  // Asked for a variable no clause holds, the solver gives the same for both signs.
  return solver_.is_true(m) == (m > 0);
}

void OrderSolver::prefer_order(const std::vector<double>& rank) {
  std::vector<double> vote(constraints_.pairs.size() + 1, 0); // per variable, over the pairs that it stands for
  for (std::size_t p = 1; p < constraints_.pairs.size(); ++p) {
    const auto [f, g] = constraints_.pairs[p];
    const Literal l = mapped(static_cast<Literal>(p));
    const double won = rank[at(f)] - rank[at(g)];
    vote[at(std::abs(l))] += l > 0 ? won : -won;
  }
  for (int v = 1; v < static_cast<int>(constraints_.pairs.size()); ++v) {
    if (vote[at(v)] != 0) solver_.prefer(vote[at(v)] > 0 ? v : -v);
  }
}

bool OrderSolver::forbid_cycles(const std::vector<char>& counts) {
  // The order of one answer, read stack by stack; clauses are added after all have been read.
  std::vector<std::array<Literal, 3>> cycles;
  std::vector<double> rank(counts.size(), 0); // over all stacks, the sum of shares won less one half
  std::vector<int> wins;
  std::vector<char> above;
  std::vector<FaceId> faces;
  for (const auto& stack : stacks_) {
    faces.clear();
    std::copy_if(stack.begin(), stack.end(), std::back_inserter(faces), [&](int f) { return counts[at(f)] != 0; });
    const std::size_t n = faces.size();
    wins.assign(n, 0);
    above.assign(n * n, 0);
    for (std::size_t i = 0; i < n; ++i) {
      for (std::size_t k = i + 1; k < n; ++k) {
        const bool up = is_true(constraints_.above(faces[i], faces[k]));
        above[i * n + k] = static_cast<char>(up);
        above[k * n + i] = static_cast<char>(!up);
        ++wins[up ? i : k];
      }
    }
    for (std::size_t i = 0; i < n; ++i)
      rank[at(faces[i])] += static_cast<double>(wins[i]) / static_cast<double>(n) - 0.5;
    // In an order every number of wins occurs once; who beats one with as many wins lies on a cycle with it.
    std::size_t found = 0;
    for (std::size_t i = 0; i < n && found < 4 * n; ++i) {
      for (std::size_t k = 0; k < n && found < 4 * n; ++k) {
        if (i == k || !above[i * n + k] || wins[i] > wins[k]) continue;
        for (std::size_t m = 0; m < n; ++m) {
          if (!above[k * n + m] || !above[m * n + i]) continue;
          cycles.push_back({constraints_.above(faces[i], faces[k]), constraints_.above(faces[k], faces[m]),
                            constraints_.above(faces[m], faces[i])});
          ++found;
          break;
        }
      }
    }
  }
  for (const auto& [p, q, r] : cycles) {
    for (const int sign : {1, -1}) {
      guard({p, q, r});
      for (const Literal l : {p, q, r}) solver_.add(-sign * mapped(l));
      solver_.add(0);
    }
  }
  if (!cycles.empty()) prefer_order(rank);
  return !cycles.empty();
}

std::optional<bool> OrderSolver::solve(const Deadline& deadline, const std::vector<int>& on) {
  std::vector<char> counts = used_;
  if (switches_ == Switches::faces) {
    counts.assign(counts.size(), 0);
    for (const int f : on) counts[at(f)] = 1;
  }
  std::optional<bool> answer;
  while (!deadline.passed()) {
    for (const int i : on) solver_.assume(switch_of(i));
    const auto start = std::chrono::steady_clock::now();
    const auto found = solver_.solve([&] { return deadline.passed(); });
    seconds_ += std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    if (found == false) answer = false;
    if (found != true) break;
    if (forbid_cycles(counts)) continue;
    answer = true;
    break;
  }
  return answer;
}

std::vector<int> OrderSolver::needed(const std::vector<int>& on) const {
  std::vector<int> out;
  std::copy_if(on.begin(), on.end(), std::back_inserter(out), [&](int i) { return solver_.needed(switch_of(i)); });
  return out;
}

} // namespace uc
