#include "precision/line_errors.h"

#include <algorithm>

namespace uc {

LineErrors::LineErrors(int lines)
    : known_(static_cast<std::size_t>(lines), 0), covariance_(Eigen::MatrixXd::Zero(lines, lines)),
      coefficients_(static_cast<std::size_t>(lines)) {}

int LineErrors::add_error(double variance) {
  error_variance_.push_back(variance);
  return error_count() - 1;
}

void LineErrors::set_exact(int line) {
  known_[static_cast<std::size_t>(line)] = 1;
  coefficients_[static_cast<std::size_t>(line)].clear();
  covariance_.row(line).setZero();
  covariance_.col(line).setZero();
}

void LineErrors::set_independent(int line, double variance) {
  set_exact(line);
  auto& own = coefficients_[static_cast<std::size_t>(line)];
  own.assign(static_cast<std::size_t>(add_error(variance)) + 1, 0.0);
  own.back() = 1;
  covariance_(line, line) = variance;
}

void LineErrors::bring(int a, int b, int makes, double fold_variance) { combine(a, 0.5, b, 0.5, makes, fold_variance); }
void LineErrors::through(int a, int b, int makes, double fold_variance) { combine(a, 2, b, -1, makes, fold_variance); }

double LineErrors::variance_of_bring(int a, int b, double fold_variance) const {
  return (variance(a) + variance(b) + 2 * covariance(a, b)) / 4 + fold_variance;
}
double LineErrors::variance_of_through(int a, int b, double fold_variance) const {
  return 4 * variance(a) + variance(b) - 4 * covariance(a, b) + fold_variance;
}

void LineErrors::combine(int a, double weight_a, int b, double weight_b, int makes, double fold_variance) {
  const Eigen::VectorXd row = weight_a * covariance_.row(a) + weight_b * covariance_.row(b);
  const double own = weight_a * row[a] + weight_b * row[b] + fold_variance;
  const auto& from_a = coefficients_[static_cast<std::size_t>(a)];
  const auto& from_b = coefficients_[static_cast<std::size_t>(b)];
  std::vector<double> made(static_cast<std::size_t>(add_error(fold_variance)) + 1, 0.0);
  for (std::size_t i = 0; i < from_a.size(); ++i) made[i] += weight_a * from_a[i];
  for (std::size_t i = 0; i < from_b.size(); ++i) made[i] += weight_b * from_b[i];
  made.back() = 1;
  coefficients_[static_cast<std::size_t>(makes)] = std::move(made);
  covariance_.row(makes) = row.transpose();
  covariance_.col(makes) = row;
  covariance_(makes, makes) = own;
  known_[static_cast<std::size_t>(makes)] = 1;
}

Eigen::VectorXd LineErrors::coefficients(int line) const {
  const auto& own = coefficients_[static_cast<std::size_t>(line)];
  Eigen::VectorXd all = Eigen::VectorXd::Zero(error_count());
  for (std::size_t i = 0; i < own.size(); ++i) all[static_cast<Eigen::Index>(i)] = own[i];
  return all;
}

} // namespace uc
