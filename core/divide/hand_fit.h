// What measured grids say about the hand: its standard error by maximum likelihood, and which moves caused an error.
#pragma once

#include "divide/plan.h"

#include <array>
#include <optional>
#include <vector>

namespace uc {

/// Deviations measured on one family of one folded grid.
struct MeasuredFamily {
  DivideTask task;
  std::vector<GridStep> steps;
  std::vector<int> lines;
  std::vector<double> deviation_mm; // measured minus ideal position, one per line
  double ruler_sigma_mm = 0.15;     // error of the measuring itself
};

struct HandFit {
  double sigma_mm = 0;
  double standard_error_mm = 0; // from the observed information
  int families = 0;
  int measurements = 0;
};

/// Maximum likelihood of s, the guess and ruler errors held fixed: deviations are normal with covariance
/// s² A Aᵀ + G² B Bᵀ + r² I, where A and B are the coefficients over fold and guess errors. Needs two measurements.
Result<HandFit> fit_hand(const std::vector<MeasuredFamily>& measured);

struct Blame {
  std::size_t step = 0;
  double error_mm = 0; // most likely error of that fold
};
/// What moved a line most: one fold, a guess by eye, or the start that was given.
struct Cause {
  enum class Kind { fold, guess, start } kind = Kind::fold;
  std::size_t step = 0;       // of folds and guesses
  double contribution_mm = 0; // its share of the line's deviation: coefficient times most likely error
};
struct LineVerdict {
  int line = 0;
  double deviation_mm = 0;
  double tolerance_mm = 0; // 1.96 standard errors, ruler included
  bool within = true;
  /// Making the line again from its measured parents: how far off it would be, expected root mean square.
  double after_refold_mm = 0;
  bool refold = false;
  std::array<int, 2> refold_from{}; // the lines to bring together for it
};
struct Diagnosis {
  std::vector<LineVerdict> lines;
  int worst = -1;           // index into lines, by deviation over tolerance
  std::vector<Blame> blame; // largest first
  /// Of the worst line, when it is off: the largest contribution, if that is half of the deviation or more.
  std::optional<Cause> cause;
};
/// Compares measured lines with their budget; the blame is the posterior mean of each fold's error given all
/// measurements (linear Gaussian model).
Diagnosis diagnose(const MeasuredFamily& measured);

} // namespace uc
