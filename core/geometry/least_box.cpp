#include "geometry/least_box.h"

#include "geometry/polygon.h"

#include <Eigen/Eigenvalues>
#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>

namespace uc {
namespace {

using Points3 = std::vector<Eigen::Vector3d>;

/// The box with one side square to `up`, of least area seen along it.
Eigen::Vector3d box_along(const Points3& points, const Eigen::Vector3d& up) {
  const Eigen::Vector3d x = up.unitOrthogonal();
  const Eigen::Vector3d y = up.cross(x);
  std::vector<Point> seen;
  seen.reserve(points.size());
  double low = std::numeric_limits<double>::max();
  double high = std::numeric_limits<double>::lowest();
  for (const Eigen::Vector3d& p : points) {
    seen.emplace_back(x.dot(p), y.dot(p));
    low = std::min(low, up.dot(p));
    high = std::max(high, up.dot(p));
  }
  const Point best = least_rectangle(std::move(seen));
  return {best.x(), best.y(), high - low};
}

struct Candidate {
  Eigen::Vector3d up;
  Eigen::Vector3d size;
  double volume = 0;
};

constexpr std::size_t most_turned = 3;

Candidate candidate(const Points3& points, const Eigen::Vector3d& up) {
  const Eigen::Vector3d size = box_along(points, up);
  // A flat piece has no volume from any side; the thin one counts as thick as a hair.
  return {up, size, size.cwiseMax(1e-3 * size.maxCoeff()).prod()};
}

/// Tilted little by little, in ever smaller steps, for as long as the box becomes smaller.
Candidate turned_to_rest(const Points3& points, Candidate best) {
  for (double step = 0.2; step > 1e-6;) {
    const Eigen::Vector3d x = best.up.unitOrthogonal();
    const Eigen::Vector3d y = best.up.cross(x);
    const Candidate before = best;
    for (int i = 0; i < 8; ++i) {
      const double turn = i * 0.785398163397448;
      const Eigen::Vector3d tilted = (before.up + step * (std::cos(turn) * x + std::sin(turn) * y)).normalized();
      if (const Candidate now = candidate(points, tilted); now.volume < (1 - 1e-9) * best.volume) best = now;
    }
    if (best.volume == before.volume) step /= 2;
  }
  return best;
}

} // namespace

Eigen::Vector3d least_box(const Points3& points, const Points3& directions) {
  Eigen::Vector3d middle = Eigen::Vector3d::Zero();
  for (const Eigen::Vector3d& p : points) middle += p / static_cast<double>(points.size());
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (const Eigen::Vector3d& p : points) spread += (p - middle) * (p - middle).transpose();
  const Eigen::Matrix3d axes = Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(spread).eigenvectors();
  Points3 ups{axes.col(0), axes.col(1), axes.col(2)};
  for (const Eigen::Vector3d& d : directions) {
    if (d.norm() == 0) continue;
    const Eigen::Vector3d up = d.normalized();
    if (std::none_of(ups.begin(), ups.end(), [&](const auto& o) { return o.cross(up).norm() < 1e-3; }))
      ups.push_back(up);
  }
  std::vector<Candidate> candidates;
  candidates.reserve(ups.size());
  for (const Eigen::Vector3d& up : ups) candidates.push_back(candidate(points, up));
  std::sort(candidates.begin(), candidates.end(), [](const auto& a, const auto& b) { return a.volume < b.volume; });
  Candidate best = candidates.front();
  // What is flat has no volume to make smaller.
  const bool flat = best.size.minCoeff() < 1e-6 * best.size.maxCoeff();
  for (std::size_t i = 0; !flat && i < std::min(most_turned, candidates.size()); ++i) {
    const Candidate turned = turned_to_rest(points, candidates[i]);
    if (turned.volume < (1 - 1e-7) * best.volume) best = turned;
  }
  std::sort(best.size.data(), best.size.data() + 3, std::greater<>());
  return best.size;
}

} // namespace uc
