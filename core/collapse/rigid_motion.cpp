#include "collapse/rigid_motion.h"

#include <Eigen/LU>
#include <Eigen/SVD>

namespace uc {

RigidMotion motion_onto(std::span<const Eigen::Vector3d> points, std::span<const Eigen::Vector3d> places) {
  RigidMotion out;
  const auto count = static_cast<double>(points.size());
  for (std::size_t i = 0; i < points.size(); ++i) {
    out.from += points[i] / count;
    out.to += places[i] / count;
  }
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (std::size_t i = 0; i < points.size(); ++i) spread += (points[i] - out.from) * (places[i] - out.to).transpose();
  const Eigen::JacobiSVD<Eigen::Matrix3d> svd(spread, Eigen::ComputeFullU | Eigen::ComputeFullV);
  Eigen::Matrix3d keep = Eigen::Matrix3d::Identity();
  keep(2, 2) = (svd.matrixV() * svd.matrixU().transpose()).determinant() < 0 ? -1 : 1;
  out.turn = svd.matrixV() * keep * svd.matrixU().transpose();
  return out;
}

} // namespace uc
