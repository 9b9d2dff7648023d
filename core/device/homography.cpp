#include "device/homography.h"

#include <Eigen/Dense>

#include <cmath>

namespace uc {
namespace {

/// Moves points about their middle and scales them to a mean distance of sqrt 2, for figures of one size.
Eigen::Matrix3d normalising(const std::vector<Point>& points) {
  Point middle = Point::Zero();
  for (const Point& p : points) middle += p / static_cast<double>(points.size());
  double far = 0;
  for (const Point& p : points) far += (p - middle).norm() / static_cast<double>(points.size());
  const double scale = far > 0 ? std::sqrt(2.0) / far : 1;
  Eigen::Matrix3d t = Eigen::Matrix3d::Identity();
  t(0, 0) = t(1, 1) = scale;
  t.block<2, 1>(0, 2) = -scale * middle;
  return t;
}

} // namespace

Homography Homography::inverse() const { return Homography(m_.inverse()); }

Eigen::Matrix2d Homography::derivative(const Point& p) const {
  const Eigen::Vector3d h = m_ * Eigen::Vector3d(p.x(), p.y(), 1);
  const Point at = h.head<2>() / h.z();
  return (m_.block<2, 2>(0, 0) - at * m_.block<1, 2>(2, 0)) / h.z();
}

Eigen::Matrix<double, 2, 8> Homography::by_entries(const Point& p) const {
  const Eigen::Vector3d h = m_ * Eigen::Vector3d(p.x(), p.y(), 1);
  const Point at = h.head<2>() / h.z();
  Eigen::Matrix<double, 2, 8> d;
  d << p.x(), p.y(), 1, 0, 0, 0, -at.x() * p.x(), -at.x() * p.y(), //
      0, 0, 0, p.x(), p.y(), 1, -at.y() * p.x(), -at.y() * p.y();
  return d / h.z();
}

Result<Homography> Homography::fitted(const std::vector<Point>& from, const std::vector<Point>& to) {
  const auto count = static_cast<Eigen::Index>(from.size());
  if (count < 4 || from.size() != to.size()) return Error{"Four places at least must be known."};
  const Eigen::Matrix3d a = normalising(from);
  const Eigen::Matrix3d b = normalising(to);
  Eigen::MatrixXd rows(2 * count, 9);
  for (Eigen::Index i = 0; i < count; ++i) {
    const Eigen::Vector3d p = a * from[static_cast<std::size_t>(i)].homogeneous();
    const Eigen::Vector3d q = b * to[static_cast<std::size_t>(i)].homogeneous();
    rows.row(2 * i) << p.transpose(), 0, 0, 0, -q.x() * p.transpose();
    rows.row(2 * i + 1) << 0, 0, 0, p.transpose(), -q.y() * p.transpose();
  }
  const Eigen::JacobiSVD<Eigen::MatrixXd> svd(rows, Eigen::ComputeFullV);
  const Eigen::VectorXd h = svd.matrixV().col(8);
  Eigen::Matrix3d m;
  m << h(0), h(1), h(2), h(3), h(4), h(5), h(6), h(7), h(8);
  m = b.inverse() * m * a;
  if (!m.allFinite() || std::abs(m(2, 2)) < 1e-12 || std::abs(m.determinant()) < 1e-12 * std::pow(m.norm(), 3) * 1e-6)
    return Error{"The places lie on one line."};
  Homography out(m);
  // The algebraic solution is near; two steps of Gauss and Newton bring the least distance.
  Eigen::Matrix<double, 8, 8> normal;
  for (int step = 0; step < 3; ++step) {
    Eigen::MatrixXd jacobian(2 * count, 8);
    Eigen::VectorXd residual(2 * count);
    for (Eigen::Index i = 0; i < count; ++i) {
      const Point& p = from[static_cast<std::size_t>(i)];
      jacobian.middleRows<2>(2 * i) = out.by_entries(p);
      residual.segment<2>(2 * i) = to[static_cast<std::size_t>(i)] - out(p);
    }
    // Entries differ by many orders of magnitude: each column is brought to length 1 for the solution.
    const Eigen::VectorXd size = jacobian.colwise().norm().transpose().cwiseMax(1e-300);
    const Eigen::MatrixXd scaled = jacobian * size.cwiseInverse().asDiagonal();
    const Eigen::ColPivHouseholderQR<Eigen::MatrixXd> qr(scaled);
    const Eigen::VectorXd change = size.cwiseInverse().asDiagonal() * Eigen::VectorXd(qr.solve(residual));
    const Eigen::MatrixXd inverse = (scaled.transpose() * scaled).inverse();
    normal = size.cwiseInverse().asDiagonal() * inverse * size.cwiseInverse().asDiagonal();
    out.rms_ = std::sqrt(residual.squaredNorm() / static_cast<double>(count));
    if (count > 4) out.covariance_ = normal * residual.squaredNorm() / static_cast<double>(2 * count - 8);
    if (step == 2) break;
    for (Eigen::Index i = 0; i < 8; ++i) out.m_(i / 3, i % 3) += change(i);
  }
  return out;
}

} // namespace uc
