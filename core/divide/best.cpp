// The most accurate plan. Why it is near the optimum: any fold adds an error of variance 1 (in s²) of its own. A fold
// that brings a raw edge to line p leaves 1 + V(p)/4; a fold between two creased lines leaves at least 1 + 1/2, since
// creased lines have variance of at least 1 and, made by bringing, no negative covariance; a fold through a crease
// leaves at least 2. So chains of raw-edge folds are optimal: 4/3 (1 - 4^-k) for N = 2^k, and any other N tends to 4/3
// from above along the cycles of halving modulo its odd part. A good start mark acts as a third edge, which is why the
// settling below looks at all pairs of lines and not only at raw edges.
#include "divide/steps.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <queue>
#include <tuple>

namespace uc {
namespace {

constexpr double limit_variance = 4.0 / 3.0;
constexpr double tie = 1e-9;

struct Candidate {
  double variance;
  int preference; // 0 raw edge, 1 other bring, 2 through
  GridStep step;
  bool operator>(const Candidate& o) const {
    const double d = variance - o.variance;
    if (std::abs(d) > tie) return d > 0;
    return std::tie(preference, step.makes, step.a) > std::tie(o.preference, o.step.makes, o.step.a);
  }
};
using Queue = std::priority_queue<Candidate, std::vector<Candidate>, std::greater<>>;

/// Where the lines stand: settled ones are final and may serve as references.
class Settling {
public:
  explicit Settling(StepBuilder& plan) : plan_(plan), settled_(static_cast<std::size_t>(plan.parts()) + 1, 0) {
    settled_.front() = settled_.back() = 1;
  }
  [[nodiscard]] bool is(int line) const { return settled_[static_cast<std::size_t>(line)]; }
  void mark(int line) { settled_[static_cast<std::size_t>(line)] = 1; }

  /// Makes lines in the order of their variance (Dijkstra 1959) as long as it stays within `bound`.
  void spread(double bound) {
    Queue queue;
    for (int p = 0; p <= plan_.parts(); ++p) {
      if (is(p)) offer(p, bound, queue);
    }
    while (!queue.empty()) {
      const Candidate next = queue.top();
      queue.pop();
      if (is(next.step.makes)) continue;
      if (next.step.kind == StepKind::bring)
        plan_.bring(next.step.a, next.step.b);
      else
        plan_.add(next.step);
      mark(next.step.makes);
      offer(next.step.makes, bound, queue);
    }
  }

private:
  void offer(int p, double bound, Queue& queue) const {
    const LineErrors& e = plan_.errors();
    const auto push = [&](StepKind kind, int a, int b, int makes, double variance) {
      if (makes <= 0 || makes >= plan_.parts() || is(makes) || !plan_.allowed(makes) || variance > bound) return;
      const bool edge = plan_.is_edge(a) || plan_.is_edge(b);
      queue.push({variance, kind == StepKind::through ? 2 : edge ? 0 : 1, {kind, a, b, makes}});
    };
    for (int q = 0; q <= plan_.parts(); ++q) {
      if (!is(q) || q == p) continue;
      if ((p + q) % 2 == 0) {
        push(StepKind::bring, p, q, (p + q) / 2, e.variance_of_bring(p, q, 1));
      }
      if (!plan_.is_edge(p)) push(StepKind::through, p, q, 2 * p - q, e.variance_of_through(p, q, 1));
      if (!plan_.is_edge(q)) push(StepKind::through, q, p, 2 * q - p, e.variance_of_through(q, p, 1));
    }
  }

  StepBuilder& plan_;
  std::vector<char> settled_;
};

/// How a halving cycle may be begun and what that costs.
struct Seed {
  int line = -1;
  int a = -1; // a bring of a onto b, or a guess when negative, or the start mark when both are -2
  int b = -1;
  double variance = std::numeric_limits<double>::infinity();
  int folds = std::numeric_limits<int>::max();
  [[nodiscard]] int rank() const { return a >= 0 ? 1 : a == -2 ? 0 : 2; }
  bool operator<(const Seed& o) const {
    return std::tuple(folds, rank(), variance, line) < std::tuple(o.folds, o.rank(), o.variance, o.line);
  }
};

/// Halvings until a seed's variance has fallen to the goal.
int halvings_needed(double variance, double goal) {
  int n = 0;
  for (; variance > goal && n < 60; ++n) variance = 1 + variance / 4;
  return n;
}

class CyclePlanner {
public:
  CyclePlanner(StepBuilder& plan, Settling& settled, const DivideTask& task)
      : plan_(plan), settled_(settled), task_(task) {}

  /// The cycles of halving on the odd grid of which no line is settled and all may be touched.
  [[nodiscard]] std::vector<std::vector<int>> open_cycles() const {
    std::vector<std::vector<int>> cycles;
    std::vector<char> seen(static_cast<std::size_t>(plan_.parts()) + 1, 0);
    for (int first = plan_.unit(); first < plan_.parts(); first += plan_.unit()) {
      if (seen[static_cast<std::size_t>(first)]) continue;
      std::vector<int> cycle;
      bool open = true;
      for (int line = first; line >= 0 && !seen[static_cast<std::size_t>(line)]; line = plan_.halved(line)) {
        seen[static_cast<std::size_t>(line)] = 1;
        open = open && !settled_.is(line) && plan_.allowed(line);
        cycle.push_back(line);
      }
      if (open) cycles.push_back(std::move(cycle));
    }
    return cycles;
  }

  [[nodiscard]] Seed best_seed(const std::vector<int>& cycle, double goal) const {
    const int length = static_cast<int>(cycle.size());
    const auto folds = [&](double variance, bool is_fold) {
      const int n = std::max(halvings_needed(variance, goal), is_fold ? 0 : 1);
      if (n == 0) return length;
      return n - 1 + length + (is_fold ? 1 : 0);
    };
    Seed best;
    for (const int line : cycle) {
      if (task_.start && task_.start->line == line) {
        best = std::min(best, Seed{line, -2, -2, plan_.variance(line), folds(plan_.variance(line), false)});
      }
      for (int a = std::max(0, 2 * line - plan_.parts()); a < line; ++a) {
        const int b = 2 * line - a;
        if (!settled_.is(a) || !settled_.is(b)) continue;
        const double variance = plan_.errors().variance_of_bring(a, b, 1);
        best = std::min(best, Seed{line, a, b, variance, folds(variance, true)});
      }
    }
    const double g = plan_.guess_variance();
    return std::min(best, Seed{cycle.front(), -1, -1, g, folds(g, false)});
  }

  void run(const std::vector<int>& cycle, const Seed& seed, double goal) {
    if (seed.a >= 0) plan_.bring(seed.a, seed.b);
    if (seed.a == -1) plan_.guess(seed.line);
    const int length = static_cast<int>(cycle.size());
    int good = seed.a != -1 && plan_.variance(seed.line) <= goal ? 1 : 0;
    for (int line = seed.line; good < length;) {
      plan_.bring(plan_.edge_for(line), line);
      line = plan_.halved(line);
      good = plan_.variance(line) <= goal ? good + 1 : 0;
    }
    for (const int line : cycle) settled_.mark(line);
  }

private:
  StepBuilder& plan_;
  Settling& settled_;
  const DivideTask& task_;
};

std::vector<GridStep> plan_cycles(const DivideTask& task, double goal) {
  StepBuilder plan(task);
  Settling settled(plan);
  if (task.start && plan.variance(task.start->line) <= limit_variance) settled.mark(task.start->line);
  settled.spread(limit_variance + tie);
  CyclePlanner planner(plan, settled, task);
  for (auto cycles = planner.open_cycles(); !cycles.empty(); cycles = planner.open_cycles()) {
    Seed best;
    const std::vector<int>* chosen = nullptr;
    int least_extra = std::numeric_limits<int>::max();
    for (const auto& cycle : cycles) {
      const Seed seed = planner.best_seed(cycle, goal);
      const int extra = seed.folds - static_cast<int>(cycle.size());
      if (extra < least_extra || (extra == least_extra && seed.variance < best.variance - tie)) {
        least_extra = extra;
        best = seed;
        chosen = &cycle;
      }
    }
    planner.run(*chosen, best, goal);
    settled.spread(goal);
  }
  settled.spread(goal);
  // A start mark that was too coarse to rely on still serves lines that nothing better reaches.
  if (task.start) settled.mark(task.start->line);
  settled.spread(std::numeric_limits<double>::max());
  return plan.steps();
}

} // namespace

std::vector<GridStep> plan_best(const DivideTask& task, double variance_goal) {
  return plan_cycles(task, std::max(variance_goal, limit_variance * (1 + 1e-12)));
}

std::vector<GridStep> plan_iterated(const DivideTask& task) {
  constexpr double within = 1.05; // of the least error: what a folder who iterates by feel stops at
  return plan_cycles(task, within * within * limit_variance);
}

} // namespace uc
