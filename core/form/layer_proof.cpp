#include "form/layer_proof.h"

#include "base/index.h"
#include "form/layer_components.h"
#include "form/order_solver.h"
#include "form/smallest_set.h"

#include <algorithm>
#include <numeric>

namespace uc {
namespace {

/// Faces in order of their distance from some, over shared creases and, failing those, by number.
std::vector<FaceId> outwards(const LayerConstraints& c, const std::vector<FaceId>& around) {
  std::vector<std::vector<FaceId>> next(at(c.faces));
  for (const auto& crease : c.creases) {
    const auto [f, g] = c.pairs[at(std::abs(crease.literal))];
    next[at(f)].push_back(g);
    next[at(g)].push_back(f);
  }
  std::vector<char> seen(at(c.faces), 0);
  std::vector<FaceId> out;
  const auto take = [&](FaceId f) {
    if (seen[at(f)]) return;
    seen[at(f)] = 1;
    out.push_back(f);
  };
  for (const FaceId f : around) take(f);
  for (std::size_t i = 0; i < out.size(); ++i) {
    const FaceId f = out[i];
    for (const FaceId g : next[at(f)]) take(g);
  }
  for (FaceId f(0); f < c.faces; ++f) take(f);
  return out;
}

/// What is left when everything that is not needed for the contradiction has been taken away, one by one.
std::optional<std::vector<int>> reduced(OrderSolver& solver, std::vector<int> set, const Deadline& deadline) {
  std::vector<int> needed; // each of these has been shown to be
  while (!set.empty()) {
    const int tried = set.back();
    set.pop_back();
    std::vector<int> without = needed;
    without.insert(without.end(), set.begin(), set.end());
    const auto fits = solver.solve(deadline, without);
    if (!fits) return std::nullopt;
    if (*fits) {
      needed.push_back(tried);
      continue;
    }
    const std::vector<int> core = solver.needed(without);
    std::erase_if(set, [&](int i) { return std::find(core.begin(), core.end(), i) == core.end(); });
  }
  std::sort(needed.begin(), needed.end());
  return needed;
}

} // namespace

namespace {

/// Replaces what is kept by as many as can be kept: what is given up must meet every set that cannot be kept together
/// (Davies and Bacchus 2011). Whether that was proved within a few seconds.
bool keep_most(OrderSolver& solver, std::size_t count, std::vector<int>& kept, const Deadline& deadline) {
  const auto given_up = [&](const std::vector<int>& set) {
    std::vector<char> in(count, 0);
    for (const int i : set) in[at(i)] = 1;
    std::vector<int> out;
    for (int i = 0; i < static_cast<int>(count); ++i) {
      if (!in[at(i)]) out.push_back(i);
    }
    return out;
  };
  const auto stop = std::min(deadline.end, std::chrono::steady_clock::now() + std::chrono::seconds(5));
  const Deadline soon{stop, deadline.progress};
  std::vector<std::vector<int>> cores;
  int steps = 2'000'000;
  const std::size_t worst = count - kept.size();
  while (!soon.passed()) {
    const auto dropped = least_hitting_set(cores, worst - 1, &steps);
    if (!dropped) return steps > 0; // what was kept is the most already
    const std::vector<int> tried = given_up(*dropped);
    const auto fits = solver.solve(soon, tried);
    if (!fits) return false;
    if (*fits) {
      kept = tried;
      return true;
    }
    cores.push_back(solver.needed(tried));
    if (cores.back().empty()) return false;
  }
  return false;
}

} // namespace

LayerOrder ordered_layers(const LayerConstraints& constraints, const LayerOptions& options) {
  const auto start = std::chrono::steady_clock::now();
  const Deadline deadline = Deadline::in(options.seconds, options.progress);
  LayerOrder out;
  const auto ended = [&](LayerStatus status) {
    out.status = status;
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
  };
  const auto left = [&] {
    const double used = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    LayerOptions rest = options;
    rest.seconds = std::max(0.0, options.seconds - used);
    rest.cache = nullptr;
    return rest;
  };
  LayerPropagation propagated(constraints);
  if (!propagated.run(true, options.progress)) {
    if (options.clash) out.clash = clashing_faces(constraints, propagated.conflict(), left());
    return ended(LayerStatus::impossible);
  }
  if (deadline.passed()) return ended(LayerStatus::out_of_time);
  std::vector<char> truth(at(propagated.constant_true()) + 1, 0);
  truth.back() = 1;
  const auto learn = [&](const LayerComponent& c, const std::vector<char>& answer) {
    for (std::size_t i = 0; i < c.roots.size(); ++i)
      truth[at(std::abs(c.roots[i]))] = static_cast<char>((answer[i] != 0) == (c.roots[i] > 0));
  };
  const auto components = components_of(constraints, propagated, options.progress);
  if (deadline.passed()) return ended(LayerStatus::out_of_time);
  for (const LayerComponent& c : components) {
    if (c.stacks.empty() && c.parities.empty()) continue; // free
    ++out.components;
    if (const auto* known = options.cache ? options.cache->find(c) : nullptr) {
      ++out.reused;
      learn(c, *known);
      continue;
    }
    OrderSolver solver(constraints, propagated, &c);
    const auto fits = solver.solve(deadline);
    out.solver_seconds += solver.solver_seconds();
    if (!fits) return ended(LayerStatus::out_of_time);
    if (!*fits) {
      const auto [f, g] = constraints.pairs[at(std::abs(c.roots.front()))];
      if (options.clash) out.clash = clashing_faces(constraints, {f, g}, left());
      return ended(LayerStatus::impossible);
    }
    std::vector<char> answer;
    for (const Literal r : c.roots) answer.push_back(static_cast<char>(solver.is_true(r)));
    learn(c, answer);
    if (options.cache) options.cache->keep(c, std::move(answer));
  }
  out.first_above.assign(constraints.pairs.size(), 0);
  for (std::size_t p = 1; p < constraints.pairs.size(); ++p) {
    const Literal r = propagated.root(static_cast<Literal>(p));
    out.first_above[p] = static_cast<char>((truth[at(std::abs(r))] != 0) == (r > 0));
  }
  return ended(LayerStatus::found);
}

LayerOrder ordered_layers(const LayerConstraints& constraints, const std::vector<DirectionPair>& wished, bool all,
                          const LayerOptions& options) {
  const Deadline deadline = Deadline::in(options.seconds, options.progress);
  LayerOrder out;
  out.status = LayerStatus::impossible;
  LayerPropagation propagated(constraints);
  if (!propagated.run(true, options.progress)) return out;
  OrderSolver solver(constraints, propagated);
  solver.add_switched(wished);
  std::vector<int> kept(wished.size());
  std::iota(kept.begin(), kept.end(), 0);
  std::vector<int> dropped;
  const auto late = [&] {
    out.status = LayerStatus::out_of_time;
    return out;
  };
  while (true) {
    const auto fits = solver.solve(deadline, kept);
    if (!fits) return late();
    if (*fits) break;
    const std::vector<int> core = solver.needed(kept);
    if (all || core.empty()) return out;
    std::erase(kept, core.back());
    dropped.push_back(core.back());
  }
  // Some were dropped for the sake of others that went later.
  for (const int i : dropped) {
    kept.push_back(i);
    const auto fits = solver.solve(deadline, kept);
    if (!fits) return late();
    if (!*fits) kept.pop_back();
  }
  out.most_wishes = dropped.empty() || (options.prove_most && keep_most(solver, wished.size(), kept, deadline));
  const auto fits = solver.solve(deadline, kept);
  if (!fits || !*fits) return late();
  out.status = LayerStatus::found;
  out.solver_seconds = solver.solver_seconds();
  out.first_above.assign(constraints.pairs.size(), 0);
  for (std::size_t p = 1; p < constraints.pairs.size(); ++p)
    out.first_above[p] = static_cast<char>(solver.is_true(static_cast<Literal>(p)));
  return out;
}

std::vector<FaceId> clashing_faces(const LayerConstraints& constraints, const std::vector<FaceId>& around,
                                   const LayerOptions& options) {
  const Deadline deadline = Deadline::in(options.seconds, options.progress);
  const std::vector<FaceId> order = outwards(constraints, around);
  for (std::size_t n = std::min<std::size_t>(order.size(), 12);; n = std::min(2 * n, order.size())) {
    std::vector<FaceId> faces(order.begin(), order.begin() + static_cast<std::ptrdiff_t>(n));
    OrderSolver solver(constraints, faces, OrderSolver::Switches::faces);
    const std::vector<int> on = numbers_of(faces);
    const auto fits = solver.solve(deadline, on);
    if (!fits) return {};
    if (!*fits) {
      const auto least = reduced(solver, solver.needed(on), deadline);
      return least ? ids_of<FaceId>(*least) : std::vector<FaceId>{};
    }
    if (n == order.size()) return {};
  }
}

std::optional<Contradiction> contradictory_creases(const LayerConstraints& constraints, const LayerOptions& options) {
  const Deadline deadline = Deadline::in(options.seconds, options.progress);
  OrderSolver solver(constraints, {}, OrderSolver::Switches::creases);
  const auto bare = solver.solve(deadline);
  if (!bare) return std::nullopt;
  if (!*bare) return Contradiction{};
  std::vector<int> all(constraints.fixed.size());
  std::iota(all.begin(), all.end(), 0);
  const auto fits = solver.solve(deadline, all);
  if (!fits) return std::nullopt;
  if (*fits) return Contradiction{};
  const auto least = reduced(solver, solver.needed(all), deadline);
  if (!least) return std::nullopt;
  const auto holds = [&](int i) { return solver.is_true(constraints.fixed[at(i)].literal); };
  const auto smallest = smallest_contradiction(static_cast<int>(all.size()), *least, [&](std::vector<int> set) {
    Enlarged out;
    auto answer = solver.solve(deadline, set);
    out.late = !answer;
    out.fits = answer && *answer;
    if (!out.fits) return out;
    // Whatever the answer happens to satisfy is kept; the rest is tried one by one.
    std::vector<int> rest;
    const auto keep_held = [&](const std::vector<int>& candidates) {
      rest.clear();
      for (const int i : candidates) {
        if (std::find(set.begin(), set.end(), i) != set.end()) continue;
        if (holds(i))
          set.push_back(i);
        else
          rest.push_back(i);
      }
    };
    keep_held(all);
    while (!rest.empty()) {
      const int tried = rest.back();
      std::vector<int> others(rest.begin(), rest.end() - 1);
      set.push_back(tried);
      answer = solver.solve(deadline, set);
      if (!answer) {
        out.late = true;
        return out;
      }
      if (*answer) {
        keep_held(others);
      } else {
        set.pop_back();
        rest = std::move(others);
      }
    }
    out.set = std::move(set);
    return out;
  });
  Contradiction out;
  out.smallest = smallest.proved;
  for (const int i : smallest.indices) out.edges.push_back(constraints.fixed[at(i)].edge);
  return out;
}

} // namespace uc
