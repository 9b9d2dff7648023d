// One direction of a folded grid as a ruler found it, and the independent errors that moved its lines: what a hand is
// fitted from and a sheet judged by.
#pragma once

#include "divide/plan.h"

#include <Eigen/Core>

#include <vector>

namespace uc {

/// Deviations measured on one direction of one grid. Where the ruler's zero lay, and how long the sheet truly is, is
/// not known.
struct MeasuredFamily {
  DivideTask task;
  std::vector<GridStep> steps;      // those that were made
  std::vector<int> lines;           // may stand several times, and the edges among them
  std::vector<double> deviation_mm; // measured minus planned position, one per line
  double ruler_sigma_mm = 0.15;     // error of one reading
};

/// What can be off by itself.
struct ErrorSource {
  enum class Kind { fold, guess, start };
  Kind kind = Kind::fold;
  std::size_t step = 0; // of folds and guesses
  double sigma_mm = 0;  // of guesses and the start; 0: the hand's own
  /// Where a crease comes to lie when the edge that moves always stops short: -1 nearer line 0, 1 farther. 0 for what
  /// is no fold.
  double short_way = 0;
};

struct ErrorRows {
  std::vector<ErrorSource> sources;
  Eigen::MatrixXd rows; // measured lines by sources: how far a line goes with each
};
ErrorRows error_rows(const MeasuredFamily& measured);

/// The steps among `numbers` done that can have been made: those whose lines were there. Line 0, the last and the start
/// are. `kept` tells their places in `steps`.
std::vector<GridStep> possible_steps(const DivideTask& task, const std::vector<GridStep>& steps,
                                     const std::vector<std::size_t>& done, std::vector<std::size_t>& kept);

} // namespace uc
