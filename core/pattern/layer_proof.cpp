#include "pattern/layer_proof.h"

#include "pattern/layer_propagation.h"
#include "pattern/order_solver.h"

#include <algorithm>
#include <numeric>

namespace uc {
namespace {

std::size_t at(int i) { return static_cast<std::size_t>(i); }

/// Faces in order of their distance from some, over shared creases and, failing those, by number.
std::vector<int> outwards(const LayerConstraints& c, const std::vector<int>& around) {
  std::vector<std::vector<int>> next(at(c.faces));
  for (const auto& crease : c.creases) {
    const auto& [f, g] = c.pairs[at(std::abs(crease.literal))];
    next[at(f)].push_back(g);
    next[at(g)].push_back(f);
  }
  std::vector<char> seen(at(c.faces), 0);
  std::vector<int> out;
  const auto take = [&](int f) {
    if (seen[at(f)]) return;
    seen[at(f)] = 1;
    out.push_back(f);
  };
  for (const int f : around) take(f);
  for (std::size_t i = 0; i < out.size(); ++i) {
    const int f = out[i];
    for (const int g : next[at(f)]) take(g);
  }
  for (int f = 0; f < c.faces; ++f) take(f);
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

const char* name_of(LayerStatus status) {
  static constexpr const char* names[] = {"found", "impossible", "not-tried", "out-of-time"};
  return names[static_cast<int>(status)];
}

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
    return LayerOptions{std::max(0.0, options.seconds - used), options.progress};
  };
  LayerPropagation propagated(constraints);
  if (!propagated.run(true, options.progress)) {
    out.clash = clashing_faces(constraints, propagated.conflict(), left());
    return ended(LayerStatus::impossible);
  }
  OrderSolver solver(constraints, propagated);
  const auto fits = solver.solve(deadline);
  out.solver_seconds = solver.solver_seconds();
  if (!fits) return ended(LayerStatus::out_of_time);
  if (!*fits) {
    std::vector<int> around;
    for (const auto& p : propagated.parities()) {
      const auto& [f, g] = constraints.pairs[at(p.roots.front())];
      around = {f, g};
      break;
    }
    out.clash = clashing_faces(constraints, around, left());
    return ended(LayerStatus::impossible);
  }
  out.first_above.assign(constraints.pairs.size(), 0);
  for (std::size_t p = 1; p < constraints.pairs.size(); ++p)
    out.first_above[p] = static_cast<char>(solver.is_true(static_cast<Literal>(p)));
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
  const auto fits = solver.solve(deadline, kept);
  if (!fits || !*fits) return late();
  out.status = LayerStatus::found;
  out.solver_seconds = solver.solver_seconds();
  out.first_above.assign(constraints.pairs.size(), 0);
  for (std::size_t p = 1; p < constraints.pairs.size(); ++p)
    out.first_above[p] = static_cast<char>(solver.is_true(static_cast<Literal>(p)));
  return out;
}

std::vector<int> clashing_faces(const LayerConstraints& constraints, const std::vector<int>& around,
                                const LayerOptions& options) {
  const Deadline deadline = Deadline::in(options.seconds, options.progress);
  const std::vector<int> order = outwards(constraints, around);
  for (std::size_t n = std::min<std::size_t>(order.size(), 12);; n = std::min(2 * n, order.size())) {
    std::vector<int> faces(order.begin(), order.begin() + static_cast<std::ptrdiff_t>(n));
    OrderSolver solver(constraints, faces, OrderSolver::Switches::faces);
    const auto fits = solver.solve(deadline, faces);
    if (!fits) return {};
    if (!*fits) {
      const auto least = reduced(solver, solver.needed(faces), deadline);
      return least ? *least : std::vector<int>{};
    }
    if (n == order.size()) return {};
  }
}

std::optional<std::vector<int>> contradictory_creases(const LayerConstraints& constraints,
                                                      const LayerOptions& options) {
  const Deadline deadline = Deadline::in(options.seconds, options.progress);
  OrderSolver solver(constraints, {}, OrderSolver::Switches::creases);
  const auto bare = solver.solve(deadline);
  if (!bare) return std::nullopt;
  if (!*bare) return std::vector<int>{};
  std::vector<int> all(constraints.fixed.size());
  std::iota(all.begin(), all.end(), 0);
  const auto fits = solver.solve(deadline, all);
  if (!fits) return std::nullopt;
  if (*fits) return std::vector<int>{};
  const auto least = reduced(solver, solver.needed(all), deadline);
  if (!least) return std::nullopt;
  std::vector<int> edges;
  for (const int i : *least) edges.push_back(constraints.fixed[at(i)].edge);
  return edges;
}

} // namespace uc
