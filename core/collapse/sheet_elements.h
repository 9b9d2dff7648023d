// What a sheet in space is made of for the solver: bars that resist stretching, across thin triangles too, and hinges
// driven to angles, with their energy, forces and matrix at a shape. All in units of the mean edge and of a bar's
// stiffness.
#pragma once

#include "collapse/fold_mesh.h"
#include "collapse/fold_stiffness.h"
#include "collapse/plates.h"

#include <Eigen/SparseCore>

#include <array>
#include <vector>

namespace uc {

class SheetElements {
public:
  using Shape = std::vector<Eigen::Vector3d>;
  /// Radians per hinge, followed beyond half a turn.
  using Angles = std::vector<double>;

  SheetElements(const FoldMesh& mesh, const FoldStiffness& stiffness);

  /// mm
  [[nodiscard]] double unit() const { return unit_mm_; }
  /// Radians per hinge, NaN for those that move freely.
  void aim(Angles target) { target_ = std::move(target); }
  /// Makes a hinge so many times as stiff as it was made.
  void stiffen(int hinge, double factor);
  [[nodiscard]] double strain(const Shape& x, int bar) const;

  /// A matrix with the places of all elements, of its lower half, and what stands in the blocks of the vertices.
  [[nodiscard]] Eigen::SparseMatrix<double> layout();

  /// The energy of a shape. `angles` are those of a shape nearby and become those of this one.
  double energy(const Shape& x, Angles& angles) const;
  /// The same, and adds the forces, three rows a vertex.
  double energy(const Shape& x, Angles& angles, Eigen::VectorXd& force) const;
  /// Adds the second derivatives (Gauss-Newton's part) to the values of a matrix of `layout`.
  void add_matrix(const Shape& x, double* values) const;
  /// The same for a symmetric block of a vertex.
  void add_block(VertexId vertex, const Eigen::Matrix3d& block, double* values) const;

private:
  /// The height of a thin triangle over its longest side: its three bars alone would let it fold over in its own plane
  /// at hardly any strain, and the gradients of its hinges grow without bound on the way.
  struct Altitude {
    std::array<VertexId, 3> ends;  // of the longest side, and the corner across from it
    std::array<double, 3> weights; // whose sum is the way from the foot to the corner
    double rest;
    double stiffness;
    std::array<int, 45> places{};
  };
  static std::vector<Altitude> thin_triangles(const FoldMesh& mesh, double unit_mm);
  [[nodiscard]] static Eigen::Vector3d across(const Shape& x, const Altitude& a);
  template <bool with_force> double sum(const Shape& x, Angles& angles, Eigen::VectorXd* force) const;

  static PlateAngles angles_of(const Plate& p, const Angles& angles);
  [[nodiscard]] PlateGradients gradients_of(const Plate& p, const Shape& x) const;

  FoldMesh mesh_;
  double unit_mm_ = 1;
  std::vector<Altitude> altitudes_;
  std::vector<double> rest_;   // per bar
  std::vector<double> weight_; // per hinge
  std::vector<double> made_;   // the same before any was made stiffer
  Angles target_;
  std::vector<std::array<int, 21>> bar_slots_;
  std::vector<std::array<int, 78>> hinge_slots_;
  std::vector<std::array<int, 6>> block_slots_; // per vertex
  std::vector<Plate> plates_;
  std::vector<std::vector<int>> plate_slots_;
};

} // namespace uc
