// Layers that come near each other: a vertex that lies over a triangle stays on the side it came from. What would pass
// through is pushed back, softly at first; what only touches is left alone.
#pragma once

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

  /// Looks which vertices lie over which triangles in this shape. Those that did before keep their side.
  void find(const std::vector<Eigen::Vector3d>& x);
  [[nodiscard]] double energy(const std::vector<Eigen::Vector3d>& x) const;
  /// Adds the forces, three rows a vertex, and per vertex a block that is never softer than the contacts are together.
  void add(const std::vector<Eigen::Vector3d>& x, Eigen::VectorXd& force, std::vector<Eigen::Matrix3d>& blocks) const;
  /// Vertices that lie on the other side of a triangle than they came from.
  [[nodiscard]] int passed_through(const std::vector<Eigen::Vector3d>& x) const;
  [[nodiscard]] std::size_t near() const { return near_.size(); }

private:
  struct Pair {
    VertexId vertex;
    int triangle = 0;
    double side = 1;
  };
  /// Where a vertex stands over a triangle: its height over the plane and the weights of the corners below it.
  struct Stand {
    Eigen::Vector3d normal;
    Eigen::Vector3d weights;
    double height = 0;
    bool over = false;
  };
  [[nodiscard]] Stand stand(const std::vector<Eigen::Vector3d>& x, VertexId vertex, int triangle) const;

  std::vector<std::array<VertexId, 3>> triangles_;
  std::vector<std::vector<int>> star_; // per vertex: triangles at it and those across a hinge from it, ascending
  double thickness_;
  std::unordered_map<std::uint64_t, double> side_; // of pairs that were over each other in the last shapes
  std::vector<Pair> near_;
};

} // namespace uc
