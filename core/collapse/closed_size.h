// What a piece measures that no formula gives: as its collapse closes it.
#pragma once

#include "pattern/family.h"

#include "base/parallel.h"
#include "collapse/fold_mesh.h"

#include <limits>
#include <vector>

namespace uc {

/// The least box about a sheet in space (see least_box.h), mm, the longest side first, of those along its facets, of
/// the first so many.
Eigen::Vector3d least_box(const std::vector<Eigen::Vector3d>& vertices, const FoldMesh& mesh,
                          std::size_t most_facets = std::numeric_limits<std::size_t>::max());
/// That about the sheet as far closed as hands usually leave it.
Result<Eigen::Vector3d> closed_size(const DrawnPattern& drawn, const Progress* progress = nullptr);

/// Facets a sheet may have so that it is closed for nothing but its size, which takes a few seconds at most.
constexpr std::size_t most_closed_facets = 2'000;

/// Finished boxes (see sizing.h) of one family, those of its closed sheet where nothing else is known. It is closed
/// once: every length of it grows as the sheet does.
class FinishedMeasure {
public:
  explicit FinishedMeasure(const Progress* progress = nullptr) : progress_(progress) {}
  std::optional<Eigen::Vector3d> operator()(const DrawnPattern& drawn);
  /// Whether the last size was one of the collapse.
  [[nodiscard]] bool by_collapse() const { return by_collapse_; }

private:
  const Progress* progress_;
  std::optional<Eigen::Vector3d> per_mm_; // of the flat sheet's width
  bool by_collapse_ = false;
};

} // namespace uc
