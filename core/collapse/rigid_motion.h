// The motion that lays one set of points on another as nearly as it can, without stretching or mirroring it.
#pragma once

#include <Eigen/Core>

#include <span>

namespace uc {

struct RigidMotion {
  Eigen::Matrix3d turn = Eigen::Matrix3d::Identity();
  Eigen::Vector3d from = Eigen::Vector3d::Zero(); // what is turned about
  Eigen::Vector3d to = Eigen::Vector3d::Zero();   // where that comes to
  Eigen::Vector3d operator*(const Eigen::Vector3d& v) const { return turn * (v - from) + to; }
};

/// With the least sum of squared distances (Kabsch 1976); both have as many points, in the same order.
RigidMotion motion_onto(std::span<const Eigen::Vector3d> points, std::span<const Eigen::Vector3d> places);

} // namespace uc
