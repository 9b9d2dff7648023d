// How a flat page is seen by a scanner or a camera: straight lines stay straight. Fitted to places whose distance is
// known, with the uncertainty that their residuals tell (Hartley and Zisserman 2003, chapter 4).
#pragma once

#include "base/result.h"
#include "geometry/plane.h"

#include <Eigen/Core>

#include <vector>

namespace uc {

class Homography {
public:
  using Covariance = Eigen::Matrix<double, 8, 8>;
  Homography() : m_(Eigen::Matrix3d::Identity()) {}
  explicit Homography(const Eigen::Matrix3d& m) : m_(m / m(2, 2)) {}
  /// Brings `from` to `to` with least squared distance there; four places at least, no three on a line. Of four the
  /// fit says nothing about its own error.
  static Result<Homography> fitted(const std::vector<Point>& from, const std::vector<Point>& to);

  [[nodiscard]] Point operator()(const Point& p) const {
    const Eigen::Vector3d h = m_ * Eigen::Vector3d(p.x(), p.y(), 1);
    return h.head<2>() / h.z();
  }
  [[nodiscard]] Homography inverse() const;
  [[nodiscard]] Homography after(const Homography& first) const { return Homography(m_ * first.m_); }
  /// Derivatives of the place p is brought to, by p.
  [[nodiscard]] Eigen::Matrix2d derivative(const Point& p) const;
  /// The same by the eight entries of the matrix, row after row without the last.
  [[nodiscard]] Eigen::Matrix<double, 2, 8> by_entries(const Point& p) const;
  /// Of those entries; zero where nothing is known of it.
  [[nodiscard]] const Covariance& covariance() const { return covariance_; }
  /// Root of the mean squared residual, in the units of `to`.
  [[nodiscard]] double rms() const { return rms_; }

private:
  Eigen::Matrix3d m_;
  Covariance covariance_ = Covariance::Zero();
  double rms_ = 0;
};

} // namespace uc
