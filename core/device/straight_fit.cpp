#include "device/straight_fit.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

double median(std::vector<double> values) {
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

} // namespace

std::optional<StraightFit> straight_fit(const std::vector<double>& t, const std::vector<double>& value,
                                        double least_scatter) {
  const std::size_t n = t.size();
  if (n < 4) return std::nullopt;
  std::vector<double> slopes;
  for (std::size_t i = 0; i + n / 2 < n; ++i) slopes.push_back((value[i + n / 2] - value[i]) / (t[i + n / 2] - t[i]));
  StraightFit fit;
  fit.slope = median(slopes);
  std::vector<double> rest(n);
  for (std::size_t i = 0; i < n; ++i) rest[i] = value[i] - fit.slope * t[i];
  fit.offset = median(rest);
  constexpr double tukey = 4.685;
  std::vector<double> weight(n, 1);
  for (int step = 0; step < 12; ++step) {
    for (std::size_t i = 0; i < n; ++i) rest[i] = std::abs(value[i] - fit.at(t[i]));
    const double scale = std::max(least_scatter, 1.4826 * median(rest));
    Eigen::Matrix2d normal = Eigen::Matrix2d::Zero();
    Eigen::Vector2d right = Eigen::Vector2d::Zero();
    fit.used = 0;
    for (std::size_t i = 0; i < n; ++i) {
      const double u = rest[i] / (tukey * scale);
      weight[i] = u < 1 ? std::pow(1 - u * u, 2) : 0;
      fit.used += weight[i] > 0.5;
      const Eigen::Vector2d row(1, t[i]);
      normal += weight[i] * row * row.transpose();
      right += weight[i] * value[i] * row;
    }
    if (fit.used < 4 || 2 * static_cast<std::size_t>(fit.used) < n) return std::nullopt;
    const Eigen::Vector2d solved = normal.ldlt().solve(right);
    fit.offset = solved(0);
    fit.slope = solved(1);
    double squares = 0;
    for (std::size_t i = 0; i < n; ++i) squares += weight[i] * std::pow(value[i] - fit.at(t[i]), 2);
    double sum = 0;
    for (const double w : weight) sum += w;
    // The biweight leaves out a tenth of a normal scatter's squares.
    fit.scatter = std::max(least_scatter, 1.07 * std::sqrt(squares / std::max(1.0, sum - 2)));
    fit.covariance = fit.scatter * fit.scatter * normal.inverse();
  }
  return fit;
}

} // namespace uc
