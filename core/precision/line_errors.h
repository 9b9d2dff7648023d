// The error budget of parallel lines: every line's position is linear in independent errors, so the lines keep their
// coefficients over those errors and all variances and covariances are exact (no sampling, no linearisation).
#pragma once

#include <Eigen/Core>

#include <vector>

namespace uc {

class LineErrors {
public:
  /// `lines` lines, none known yet.
  explicit LineErrors(int lines);

  void set_exact(int line);
  /// A mark with an error of its own: a guess, or a reference made elsewhere. Variance in mm².
  void set_independent(int line, double variance);
  /// Line a brought onto line b creases (a+b)/2 + e.
  void bring(int a, int b, int makes, double fold_variance);
  /// The sheet folded on line a, marked where b lands: 2a - b + e.
  void through(int a, int b, int makes, double fold_variance);

  [[nodiscard]] bool known(int line) const { return known_[static_cast<std::size_t>(line)]; }
  [[nodiscard]] double variance(int line) const { return covariance_(line, line); }
  [[nodiscard]] double covariance(int a, int b) const { return covariance_(a, b); }
  /// Variance that bring(a, b) or through(a, b) would give.
  [[nodiscard]] double variance_of_bring(int a, int b, double fold_variance) const;
  [[nodiscard]] double variance_of_through(int a, int b, double fold_variance) const;

  /// Number of independent errors so far, in the order in which they entered.
  [[nodiscard]] int error_count() const { return static_cast<int>(error_variance_.size()); }
  [[nodiscard]] double error_variance(int error) const { return error_variance_[static_cast<std::size_t>(error)]; }
  /// Coefficients of a line over the errors, error_count() long.
  [[nodiscard]] Eigen::VectorXd coefficients(int line) const;

private:
  void combine(int a, double weight_a, int b, double weight_b, int makes, double fold_variance);
  int add_error(double variance);

  std::vector<char> known_;
  Eigen::MatrixXd covariance_;
  std::vector<double> error_variance_;
  std::vector<std::vector<double>> coefficients_; // per line, shorter than error_count() when trailing zeros
};

} // namespace uc
