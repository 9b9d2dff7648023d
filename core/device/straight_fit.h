// A straight line through places that scatter, some of which are wrong.
#pragma once

#include <Eigen/Core>

#include <optional>
#include <vector>

namespace uc {

struct StraightFit {
  double offset = 0; // value at t = 0
  double slope = 0;
  Eigen::Matrix2d covariance = Eigen::Matrix2d::Zero(); // of (offset, slope)
  double scatter = 0;                                   // standard deviation of one place about the line
  int used = 0;                                         // places that count more than half
  [[nodiscard]] double at(double t) const { return offset + slope * t; }
  [[nodiscard]] double variance_at(double t) const {
    return covariance(0, 0) + 2 * t * covariance(0, 1) + t * t * covariance(1, 1);
  }
};

/// Least squares with Tukey's biweight (Holland and Welsch 1977), begun from the median of the slopes between places
/// half the length apart (Siegel 1982 in spirit). Empty with fewer than four places, or when fewer than half of them
/// agree.
std::optional<StraightFit> straight_fit(const std::vector<double>& t, const std::vector<double>& value,
                                        double least_scatter);

} // namespace uc
