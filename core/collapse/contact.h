// Layers that come near each other: a corner that lies over a facet, and an edge that crosses another, stay on the side
// they came from. What would pass through is pushed back, softly at first; what only touches is left alone.
#pragma once

#include "base/index.h"
#include "collapse/fold_mesh.h"

#include <Eigen/Core>

#include <cstdint>
#include <unordered_map>
#include <vector>

namespace uc {

class Contacts {
public:
  /// `thickness` is how far layers are kept apart, in the units of the shapes that are shown later.
  Contacts(const FoldMesh& mesh, double thickness);

  /// Looks what lies over what in this shape. What did before keeps its side.
  void find(const std::vector<Eigen::Vector3d>& x);
  [[nodiscard]] double energy(const std::vector<Eigen::Vector3d>& x) const;
  /// Adds the forces, three rows a vertex, and per vertex a block that is never softer than the contacts are together.
  void add(const std::vector<Eigen::Vector3d>& x, Eigen::VectorXd& force, std::vector<Eigen::Matrix3d>& blocks) const;
  /// Corners and edges that lie on the other side of a facet, or of an edge, than they came from, and edges that stand
  /// through a facet.
  [[nodiscard]] int passed_through(const std::vector<Eigen::Vector3d>& x) const;
  [[nodiscard]] std::size_t near() const { return near_.size(); }

private:
  using Shape = std::vector<Eigen::Vector3d>;
  using Sides = std::unordered_map<std::uint64_t, double>;
  /// A corner and the three of a facet, or the ends of one edge and those of another.
  struct Pair {
    std::array<VertexId, 4> ends;
    bool of_edges = false;
    double side = 0; // 1 or -1 once it is known
  };
  /// How the parts of a pair stand to each other: the way between their nearest places is the sum of the ends with
  /// these weights, `height` along the normal.
  struct Stand {
    Eigen::Vector3d normal = Eigen::Vector3d::Zero();
    Eigen::Vector4d weights = Eigen::Vector4d::Zero();
    double height = 0;
    bool over = false;
  };
  using Places = std::array<Eigen::Vector3d, 4>;
  [[nodiscard]] static Stand stand(const Places& ends, bool of_edges);
  [[nodiscard]] static Stand stand(const Shape& x, const Pair& pair) { return stand(places(x, pair), pair.of_edges); }
  [[nodiscard]] static Places places(const Shape& x, const Pair& pair) {
    return {x[at(pair.ends[0])], x[at(pair.ends[1])], x[at(pair.ends[2])], x[at(pair.ends[3])]};
  }
  [[nodiscard]] double side_of(const Shape& x, const Pair& pair, const Stand& now) const;
  [[nodiscard]] int piercing(const Shape& x) const;
  void find_corners(const Shape& x, Sides& sides);
  void find_edges(const Shape& x, Sides& sides);
  void take(const Shape& x, std::uint64_t key, Pair pair, Sides& sides);

  std::vector<std::array<VertexId, 3>> triangles_;
  std::vector<std::vector<int>> star_; // per vertex: triangles at it and those across a hinge from it, ascending
  std::vector<std::array<VertexId, 2>> edges_; // diagonals of facets as well: where a facet bends, they stand out
  double thickness_;
  Sides side_; // of pairs that were over each other in the last shape
  Shape last_;
  std::vector<Pair> near_;
};

} // namespace uc
