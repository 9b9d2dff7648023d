#include "reference/sheet_index.h"

#include <algorithm>
#include <cmath>
#include <nanoflann.hpp>

namespace uc {

int SheetIndex::creases_together(std::uint32_t a, std::uint32_t b) const {
  const IndexLine& l = lines_[a];
  const IndexLine& m = lines_[b];
  int count = l.creases + m.creases;
  const std::array<std::uint32_t, 4> of_l{l.needs[0], l.needs[1], l.needs[2], l.creases > 0 ? a : no_entry};
  const std::array<std::uint32_t, 4> of_m{m.needs[0], m.needs[1], m.needs[2], m.creases > 0 ? b : no_entry};
  for (const std::uint32_t i : of_l) {
    if (i == no_entry) continue;
    count -= i == of_m[0] || i == of_m[1] || i == of_m[2] || i == of_m[3];
  }
  return count;
}

/// The marks as a tree for nearest-neighbour look-ups; holds its own copy of their places.
struct SheetIndex::PointTree {
  struct Cloud {
    std::vector<Point> at;
    [[nodiscard]] std::size_t kdtree_get_point_count() const { return at.size(); }
    [[nodiscard]] double kdtree_get_pt(std::size_t i, std::size_t axis) const {
      return at[i][static_cast<Eigen::Index>(axis)];
    }
    template <class Bounds> bool kdtree_get_bbox(Bounds&) const { return false; }
  };
  using Tree = nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<double, Cloud>, Cloud, 2>;
  std::vector<std::uint32_t> ids;
  Cloud cloud;
  Tree tree;
  /// Of the first `count` marks, twins left out.
  PointTree(const std::vector<IndexPoint>& points, std::size_t count)
      : ids(without_twins(points, count)), cloud{places(points, ids)},
        tree(2, cloud, nanoflann::KDTreeSingleIndexAdaptorParams(12)) {
    tree.buildIndex();
  }
  static std::vector<std::uint32_t> without_twins(const std::vector<IndexPoint>& points, std::size_t count) {
    std::vector<std::uint32_t> out;
    out.reserve(count);
    for (std::uint32_t i = 0; i < count; ++i) {
      if (!points[i].twin) out.push_back(i);
    }
    return out;
  }
  static std::vector<Point> places(const std::vector<IndexPoint>& points, const std::vector<std::uint32_t>& ids) {
    std::vector<Point> at;
    at.reserve(ids.size());
    for (const std::uint32_t i : ids) at.push_back(points[i].at);
    return at;
  }
};

std::pair<std::uint32_t, double> SheetIndex::nearest_point(const Point& to) const {
  std::size_t id = 0;
  double squared = 0;
  nanoflann::KNNResultSet<double> result(1);
  result.init(&id, &squared);
  const PointTree* tree = tree_of(most_point_creases);
  if (!tree || !tree->tree.findNeighbors(result, to.data(), nanoflann::SearchParams())) return {no_entry, 1e300};
  return {tree->ids[id], std::sqrt(squared)};
}

void SheetIndex::nearest_points(const Point& to, int creases, std::size_t most, std::vector<PointHit>& out) const {
  out.clear();
  const PointTree* tree = tree_of(creases);
  if (!tree) return;
  std::array<std::size_t, 64> ids{};
  std::array<double, 64> squared{};
  nanoflann::KNNResultSet<double> result(std::min(most, ids.size()));
  result.init(ids.data(), squared.data());
  tree->tree.findNeighbors(result, to.data(), nanoflann::SearchParams());
  for (std::size_t i = 0; i < result.size(); ++i) out.push_back({tree->ids[ids[i]], squared[i]});
}

void SheetIndex::points_within(const Point& to, int creases, double radius, std::vector<PointHit>& out) const {
  out.clear();
  const PointTree* tree = tree_of(creases);
  if (!tree) return;
  struct Collect {
    double radius2;
    const std::vector<std::uint32_t>& ids;
    std::vector<PointHit>& hits;
    [[nodiscard]] std::size_t size() const { return hits.size(); }
    [[nodiscard]] static bool full() { return true; }
    [[nodiscard]] double worstDist() const { return radius2; }
    bool addPoint(double squared, std::size_t id) {
      if (squared < radius2) hits.push_back({ids[id], squared});
      return true;
    }
  } collect{radius * radius, tree->ids, out};
  tree->tree.findNeighbors(collect, to.data(), nanoflann::SearchParams());
}

const SheetIndex::PointTree* SheetIndex::tree_of(int creases) const {
  return trees_[static_cast<std::size_t>(std::clamp(creases, 1, most_point_creases) - 1)].get();
}

void SheetIndex::finish() {
  for (int creases = 1; creases <= most_point_creases; ++creases) {
    const auto end = std::find_if(points_.begin(), points_.end(),
                                  [&](const IndexPoint& p) { return static_cast<int>(p.creases) > creases; });
    trees_[static_cast<std::size_t>(creases - 1)] =
        std::make_shared<const PointTree>(points_, static_cast<std::size_t>(end - points_.begin()));
  }
  level_begin_.clear();
  for (std::uint32_t i = 0; i < lines_.size(); ++i) {
    const IndexLine& l = lines_[i];
    while (level_begin_.size() <= l.creases) level_begin_.push_back(i);
    x_.push_back(static_cast<float>(l.line.normal.x()));
    y_.push_back(static_cast<float>(l.line.normal.y()));
    c_.push_back(static_cast<float>(l.line.c));
  }
}

std::pair<std::uint32_t, std::uint32_t> SheetIndex::level(int creases) const {
  const auto all = static_cast<std::uint32_t>(lines_.size());
  const auto begin = [&](std::size_t k) { return k < level_begin_.size() ? level_begin_[k] : all; };
  return {begin(static_cast<std::size_t>(creases)), begin(static_cast<std::size_t>(creases) + 1)};
}

void SheetIndex::distances(int creases, const Point& from, std::vector<float>& out) const {
  const auto [begin, end] = level(creases);
  out.resize(end - begin);
  const auto px = static_cast<float>(from.x());
  const auto py = static_cast<float>(from.y());
  for (std::uint32_t i = begin; i < end; ++i) out[i - begin] = x_[i] * px + y_[i] * py - c_[i];
}

Polygon normalised(const Polygon& sheet) {
  const Box box = bounding_box(sheet);
  const double size = box.size().maxCoeff();
  Polygon out;
  for (const Point& p : sheet) out.push_back((p - box.low) / size);
  return out;
}

} // namespace uc
