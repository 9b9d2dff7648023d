// The least box about points in space.
#pragma once

#include <Eigen/Core>

#include <vector>

namespace uc {

/// Its sides, mm, the longest first. Begun from the boxes that lie along one of these directions, or along an axis of
/// the points' spread, turned about it to the least area; the best few are tilted until no small turn makes them
/// smaller. (The least of all has two neighbouring faces flush with edges of the hull, O'Rourke 1985, which are many.)
Eigen::Vector3d least_box(const std::vector<Eigen::Vector3d>& points, const std::vector<Eigen::Vector3d>& directions);

} // namespace uc
