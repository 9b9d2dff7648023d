#include "divide/plan.h"

#include "divide/steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace uc {
namespace {

/// 0.9 % above the limit of the standard error, so that the promised 1 % holds with room for rounding.
constexpr double best_goal = 1.009 * 1.009 * 4 / 3;

double worst_variance(const DivideTask& task, const std::vector<GridStep>& steps) {
  const LineErrors errors = replay(task, steps);
  double worst = 0;
  for (int line = 1; line < task.parts; ++line) {
    if (errors.known(line)) worst = std::max(worst, errors.variance(line));
  }
  return worst / (task.sigma_mm * task.sigma_mm);
}

std::vector<GridStep> steps_of(const DivideTask& task, Method method) {
  switch (method) {
  case Method::edges:
    return plan_edges(task);
  case Method::neighbours:
    return plan_neighbours(task);
  case Method::stepping:
    return plan_stepping(task);
  case Method::iterated:
    return plan_iterated(task);
  case Method::best:
    break;
  }
  double goal = best_goal;
  for (const Method other : {Method::edges, Method::neighbours, Method::stepping, Method::iterated}) {
    const auto steps = without_forbidden_steps(task, steps_of(task, other));
    const double worst = worst_variance(task, steps);
    if (worst > 4.0 / 3.0) goal = std::min(goal, worst);
  }
  return plan_best(task, goal);
}

std::vector<char> without_crease(const DivideTask& task) {
  std::vector<char> marked(static_cast<std::size_t>(task.parts) + 1, 0);
  for (const auto& lines : {task.left_out, task.untouchable}) {
    for (const int line : lines) marked[static_cast<std::size_t>(line)] = 1;
  }
  return marked;
}

void find_missing(GridPlan& plan, const LineErrors& errors) {
  const std::vector<char> left_out = without_crease(plan.task);
  std::vector<char> untouchable(left_out.size(), 0);
  for (const int line : plan.task.untouchable) untouchable[static_cast<std::size_t>(line)] = 1;
  for (int line = 1; line < plan.task.parts; ++line) {
    if (left_out[static_cast<std::size_t>(line)] || errors.known(line)) continue;
    int needs = line;
    for (int hops = 0; hops < plan.task.parts && !untouchable[static_cast<std::size_t>(needs)]; ++hops) {
      needs = 2 * needs % plan.task.parts;
    }
    plan.missing.push_back({line, untouchable[static_cast<std::size_t>(needs)] ? needs : 2 * line % plan.task.parts});
  }
}

} // namespace

Status check_task(const DivideTask& task) {
  if (task.parts < least_parts || task.parts > greatest_parts) {
    return Error{fmt::format("{} parts cannot be planned; type a count from {} to {}.", task.parts, least_parts,
                             greatest_parts)};
  }
  HandProfile hand;
  hand.sigma_mm = task.sigma_mm;
  hand.guess_sigma_mm = task.guess_sigma_mm;
  if (const auto ok = checked(hand); !ok) return Error{ok.error()};
  if (task.start) {
    if (task.start->line < 1 || task.start->line >= task.parts) {
      return Error{fmt::format("The start mark {}/{} is not inside the sheet; type a mark from 1/{} to {}/{}.",
                               task.start->line, task.parts, task.parts, task.parts - 1, task.parts)};
    }
    if (!(task.start->sigma_mm >= 0 && task.start->sigma_mm <= 1000)) {
      return Error{"The start mark's error must be 0 to 1000 mm."};
    }
  }
  for (const auto& lines : {task.left_out, task.untouchable}) {
    for (const int line : lines) {
      if (line >= 0 && line <= task.parts) continue;
      return Error{fmt::format("Line {} does not exist; leave out lines from 1 to {}.", line, task.parts - 1)};
    }
  }
  return Done{};
}

LineErrors replay(const DivideTask& task, const std::vector<GridStep>& steps) {
  LineErrors errors(task.parts + 1);
  errors.set_exact(0);
  errors.set_exact(task.parts);
  if (task.start) errors.set_independent(task.start->line, task.start->sigma_mm * task.start->sigma_mm);
  const double fold = task.sigma_mm * task.sigma_mm;
  for (const GridStep& step : steps) {
    switch (step.kind) {
    case StepKind::bring:
      errors.bring(step.a, step.b, step.makes, fold);
      break;
    case StepKind::through:
      errors.through(step.a, step.b, step.makes, fold);
      break;
    case StepKind::guess:
      errors.set_independent(step.makes, task.guess_sigma_mm * task.guess_sigma_mm);
      break;
    }
  }
  return errors;
}

GridPlan plan_division(const DivideTask& task, Method method, const HandProfile& hand) {
  GridPlan plan;
  plan.method = method;
  plan.task = task;
  auto steps = without_forbidden_steps(task, steps_of(task, method));
  Handling handled = with_little_handling(task, without_idle_steps(task, steps), hand.either_side);
  plan.steps = std::move(handled.steps);
  plan.turn_overs = handled.turn_overs;
  plan.rotations = handled.rotations;

  const LineErrors errors = replay(task, plan.steps);
  find_missing(plan, errors);
  plan.line_sigma_mm.assign(static_cast<std::size_t>(task.parts) + 1, 0);
  const std::vector<char> left_out = without_crease(task);
  int creased = 0;
  for (int line = 1; line < task.parts; ++line) {
    const bool wanted = !left_out[static_cast<std::size_t>(line)];
    auto& sigma = plan.line_sigma_mm[static_cast<std::size_t>(line)];
    if (!wanted || !errors.known(line)) {
      sigma = std::numeric_limits<double>::quiet_NaN();
      continue;
    }
    sigma = std::sqrt(errors.variance(line));
    plan.mean_sigma_mm += sigma;
    ++creased;
    if (sigma > plan.worst_sigma_mm) plan.worst_sigma_mm = sigma, plan.worst_line = line;
  }
  if (creased > 0) plan.mean_sigma_mm /= creased;

  double seconds = plan.turn_overs * hand.turn_seconds + plan.rotations * hand.rotate_seconds;
  for (const GridStep& step : plan.steps) {
    if (step.kind == StepKind::guess)
      ++plan.guesses;
    else
      ++plan.creases;
    seconds += step.pinch ? hand.pinch_seconds : hand.fold_seconds;
  }
  plan.minutes = seconds / 60;
  return plan;
}

} // namespace uc
