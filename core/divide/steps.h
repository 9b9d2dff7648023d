// A plan while it is being made: the steps so far together with the exact errors they leave, in units of s = 1.
#pragma once

#include "divide/plan.h"

#include <algorithm>

namespace uc {

/// Largest odd divisor.
int odd_part(int n);

class StepBuilder {
public:
  explicit StepBuilder(const DivideTask& task);

  [[nodiscard]] int parts() const { return parts_; }
  [[nodiscard]] bool allowed(int line) const { return allowed_[static_cast<std::size_t>(line)]; }
  [[nodiscard]] bool known(int line) const { return errors_.known(line); }
  [[nodiscard]] bool is_edge(int line) const { return line == 0 || line == parts_; }
  [[nodiscard]] double variance(int line) const { return errors_.variance(line); }
  [[nodiscard]] double guess_variance() const { return guess_variance_; }
  [[nodiscard]] const LineErrors& errors() const { return errors_; }
  [[nodiscard]] const std::vector<GridStep>& steps() const { return steps_; }

  /// Folds between a and b; the side with less paper is the one that moves.
  void bring(int a, int b) {
    const bool low_moves = a + b <= parts_;
    add({StepKind::bring, low_moves ? std::min(a, b) : std::max(a, b), low_moves ? std::max(a, b) : std::min(a, b),
         (a + b) / 2});
  }
  void through(int a, int b) { add({StepKind::through, a, b, 2 * a - b}); }
  void guess(int line) { add({StepKind::guess, line, line, line}); }
  void add(const GridStep& step);

  /// Spacing of the odd grid: the coarsest lines that no halving of the whole sheet reaches.
  [[nodiscard]] int unit() const { return unit_; }
  /// The next line of a halving cycle of the odd grid, made by bringing edge_for(line) onto `line`; -1 off that grid.
  [[nodiscard]] int halved(int line) const { return line % unit_ == 0 ? (line + edge_for(line)) / 2 : -1; }
  [[nodiscard]] int edge_for(int line) const { return line / unit_ % 2 == 0 ? 0 : parts_; }

private:
  int parts_;
  int unit_;
  double guess_variance_;
  std::vector<char> allowed_;
  LineErrors errors_;
  std::vector<GridStep> steps_;
};

std::vector<GridStep> plan_best(const DivideTask& task, double variance_goal);
std::vector<GridStep> plan_edges(const DivideTask& task);
std::vector<GridStep> plan_neighbours(const DivideTask& task);
std::vector<GridStep> plan_stepping(const DivideTask& task);
std::vector<GridStep> plan_iterated(const DivideTask& task);

/// Drops steps that no creased line needs, and marks as pinches those made again later or left out.
std::vector<GridStep> without_idle_steps(const DivideTask& task, const std::vector<GridStep>& steps);
/// Drops steps that need a line which may not be touched, with all that follow from them.
std::vector<GridStep> without_forbidden_steps(const DivideTask& task, const std::vector<GridStep>& steps);

struct Handling {
  std::vector<GridStep> steps;
  int turn_overs = 0;
  int rotations = 0;
};
/// Orders steps for few turn-overs, then few half turns, without changing what any fold is made from. A hand that
/// brings paper over from either side needs no half turns.
Handling with_little_handling(const DivideTask& task, const std::vector<GridStep>& steps, bool either_side);

} // namespace uc
