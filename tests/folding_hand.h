// A hand that folds a plan of parallel lines, with errors drawn at random: written apart from the core's own replay.
#pragma once

#include "measure/measured.h"

#include <optional>
#include <random>
#include <vector>

namespace uc::testing {

struct SimulatedHand {
  double sigma_mm = 0.25;
  double guess_sigma_mm = 2;
  double ruler_mm = 0.15;
  double zero_mm = 0;  // standard error of where the ruler is laid
  double size_mm = 0;  // and of the sheet
  double short_mm = 0; // every edge that moves stops so far short
};

/// An error added to one step, in mm.
struct Slip {
  std::size_t step = 0;
  double mm = 0;
};

/// Folds the first `done` steps of the best plan and reads every line that is there.
inline MeasuredFamily folded_by(const SimulatedHand& hand, int parts, std::mt19937& random,
                                Method method = Method::best, std::optional<std::size_t> done = {},
                                std::optional<Slip> slip = {}) {
  MeasuredFamily m;
  m.task.parts = parts;
  m.task.sigma_mm = hand.sigma_mm;
  m.task.guess_sigma_mm = hand.guess_sigma_mm;
  m.steps = plan_division(m.task, method).steps;
  if (done) m.steps.resize(std::min(*done, m.steps.size()));
  m.ruler_sigma_mm = hand.ruler_mm;
  std::normal_distribution<double> normal;
  std::vector<std::optional<double>> off(static_cast<std::size_t>(parts) + 1);
  off.front() = 0;
  off.back() = 0;
  for (std::size_t i = 0; i < m.steps.size(); ++i) {
    const GridStep& s = m.steps[i];
    double& made = off[static_cast<std::size_t>(s.makes)].emplace(off[static_cast<std::size_t>(s.makes)].value_or(0));
    const double a = off[static_cast<std::size_t>(s.a)].value_or(0);
    const double b = off[static_cast<std::size_t>(s.b)].value_or(0);
    switch (s.kind) {
    case StepKind::guess:
      made = hand.guess_sigma_mm * normal(random);
      break;
    case StepKind::bring: // short: the crease stays back towards the edge that came
      made = (a + b) / 2 + hand.sigma_mm * normal(random) + (s.a < s.b ? -1 : 1) * hand.short_mm;
      break;
    case StepKind::through:
      made = 2 * a - b + hand.sigma_mm * normal(random) + (s.b < s.makes ? -1 : 1) * hand.short_mm;
      break;
    }
    if (slip && slip->step == i) made += slip->mm;
  }
  const double zero = hand.zero_mm * normal(random);
  const double size = hand.size_mm * normal(random);
  for (int k = 1; k < parts; ++k) {
    if (!off[static_cast<std::size_t>(k)]) continue;
    m.lines.push_back(k);
    m.deviation_mm.push_back(*off[static_cast<std::size_t>(k)] + zero + size * k / parts +
                             hand.ruler_mm * normal(random));
  }
  return m;
}

} // namespace uc::testing
