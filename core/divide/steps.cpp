#include "divide/steps.h"

#include <algorithm>
#include <bit>

namespace uc {

StepBuilder::StepBuilder(const DivideTask& task)
    : parts_(task.parts), unit_(task.parts / odd_part(task.parts)),
      guess_variance_(task.guess_sigma_mm * task.guess_sigma_mm / (task.sigma_mm * task.sigma_mm)),
      allowed_(static_cast<std::size_t>(task.parts) + 1, 1), errors_(task.parts + 1) {
  errors_.set_exact(0);
  errors_.set_exact(parts_);
  for (const int line : task.untouchable) {
    if (!is_edge(line)) allowed_[static_cast<std::size_t>(line)] = 0;
  }
  if (task.start) {
    const double s = task.start->sigma_mm / task.sigma_mm;
    errors_.set_independent(task.start->line, s * s);
  }
}

void StepBuilder::add(const GridStep& step) {
  switch (step.kind) {
  case StepKind::bring:
    errors_.bring(step.a, step.b, step.makes, 1);
    break;
  case StepKind::through:
    errors_.through(step.a, step.b, step.makes, 1);
    break;
  case StepKind::guess:
    errors_.set_independent(step.makes, guess_variance_);
    break;
  }
  steps_.push_back(step);
}

int odd_part(int n) {
  while (n % 2 == 0) n /= 2;
  return n;
}

namespace {

/// Every line whose doubled index is made already, by bringing a raw edge to it; level after level.
void halve_from_edges(StepBuilder& plan) {
  for (bool more = true; more;) {
    more = false;
    std::vector<GridStep> level;
    for (int line = 1; line < plan.parts(); ++line) {
      if (plan.known(line)) continue;
      const int edge = 2 * line <= plan.parts() ? 0 : plan.parts();
      const int parent = 2 * line - edge;
      if (plan.known(parent)) level.push_back({StepKind::bring, edge, parent, line});
    }
    for (const GridStep& step : level) plan.add(step), more = true;
  }
}

/// One round trip through the halving orbit of each line of the odd grid, each begun by a guess or the start mark.
void one_trip_per_orbit(StepBuilder& plan, const DivideTask& task) {
  const auto trip = [&](int seed, bool keep_seed) {
    for (int line = plan.halved(seed), from = seed; line >= 0; from = line, line = plan.halved(line)) {
      if (line == seed && keep_seed) break;
      if (line != seed && plan.known(line)) break;
      plan.bring(plan.edge_for(from), from);
      if (line == seed) break;
    }
  };
  if (task.start) trip(task.start->line, true);
  for (int seed = plan.unit(); seed < plan.parts(); seed += plan.unit()) {
    if (plan.known(seed)) continue;
    plan.guess(seed);
    trip(seed, false);
  }
}

} // namespace

std::vector<GridStep> plan_edges(const DivideTask& task) {
  StepBuilder plan(task);
  one_trip_per_orbit(plan, task);
  halve_from_edges(plan);
  return plan.steps();
}

std::vector<GridStep> plan_neighbours(const DivideTask& task) {
  StepBuilder plan(task);
  one_trip_per_orbit(plan, task);
  for (int gap = plan.unit(); gap >= 2; gap /= 2) {
    for (int low = 0; low < plan.parts(); low += gap) {
      if (!plan.known(low + gap / 2)) plan.bring(low, low + gap);
    }
  }
  return plan.steps();
}

std::vector<GridStep> plan_stepping(const DivideTask& task) {
  StepBuilder plan(task);
  // Halving reaches the first line only when the count is a power of two; else it is a guess from the edge.
  if (std::has_single_bit(static_cast<unsigned>(plan.parts()))) {
    for (int line = plan.parts() / 2; line >= 1; line /= 2) {
      if (!plan.known(line)) plan.bring(0, 2 * line);
    }
  }
  if (task.start) {
    for (int line = task.start->line; line % 2 == 0 && !plan.known(line / 2); line /= 2) plan.bring(0, line);
  }
  if (!plan.known(1)) plan.guess(1);
  for (int line = 2; line < plan.parts(); ++line) {
    if (!plan.known(line)) plan.through(line - 1, line - 2);
  }
  return plan.steps();
}

std::vector<GridStep> without_idle_steps(const DivideTask& task, const std::vector<GridStep>& steps) {
  std::vector<char> left_out(static_cast<std::size_t>(task.parts) + 1, 0);
  for (const int line : task.left_out) left_out[static_cast<std::size_t>(line)] = 1;
  std::vector<char> needed(left_out.size(), 0);
  std::vector<char> remade(left_out.size(), 0);
  for (const int line : task.untouchable) left_out[static_cast<std::size_t>(line)] = 1;
  for (std::size_t line = 0; line < needed.size(); ++line) needed[line] = !left_out[line];
  std::vector<GridStep> kept;
  for (auto step = steps.rbegin(); step != steps.rend(); ++step) {
    const auto makes = static_cast<std::size_t>(step->makes);
    if (!needed[makes]) continue;
    GridStep copy = *step;
    copy.pinch = left_out[makes] || remade[makes];
    remade[makes] = 1;
    needed[makes] = 0;
    if (step->kind != StepKind::guess) {
      needed[static_cast<std::size_t>(step->a)] = 1;
      needed[static_cast<std::size_t>(step->b)] = 1;
    }
    kept.push_back(copy);
  }
  std::reverse(kept.begin(), kept.end());
  return kept;
}

std::vector<GridStep> without_forbidden_steps(const DivideTask& task, const std::vector<GridStep>& steps) {
  StepBuilder plan(task);
  for (const GridStep& step : steps) {
    const bool reached = step.kind == StepKind::guess || (plan.known(step.a) && plan.known(step.b));
    if (plan.allowed(step.makes) && reached) plan.add(step);
  }
  return plan.steps();
}

} // namespace uc
