// Layers that come near each other: a corner that lies over a facet, and an edge that crosses another, stay on the side
// they came from. What would pass through is pushed back, softly at first; what only touches is left alone.
#pragma once

#include "base/index.h"
#include "collapse/fold_mesh.h"
#include "collapse/layer_contact.h"

#include <Eigen/Core>

#include <array>
#include <optional>
#include <vector>

namespace uc {

/// What pushes two layers apart: on each of these ends, by its weight, along the normal.
struct Push {
  std::array<VertexId, 4> ends;
  Eigen::Vector4d weights;
  Eigen::Vector3d normal;
  double strength = 0;
  double stiffness = 0; // over that of a bar
};

/// Adds the forces, three rows a vertex, and per vertex a block that is never softer than the contacts are together.
void add_pushes(const std::vector<Push>& pushes, Eigen::VectorXd& force, std::vector<Eigen::Matrix3d>& blocks);
/// Adds how the contacts resist a small move.
void add_resistance(const std::vector<Push>& pushes, const Eigen::VectorXd& move, Eigen::VectorXd& force);

class Contacts {
public:
  /// `thickness` is how far layers are kept apart, in the units of the shapes that are shown later. Where rims slide,
  /// a little gets through between rims elsewhere, too.
  Contacts(const FoldMesh& mesh, double thickness, LayerContact how = LayerContact::soft);

  /// Looks what lies over what in this shape. What did before keeps its side.
  void find(const std::vector<Eigen::Vector3d>& x);
  [[nodiscard]] double energy(const std::vector<Eigen::Vector3d>& x) const;
  [[nodiscard]] std::vector<Push> pushes(const std::vector<Eigen::Vector3d>& x) const;
  /// Corners and edges that lie on the other side of a facet, or of an edge, than they came from, and edges that stand
  /// through a facet; not what lies at a rim.
  [[nodiscard]] int passed_through(const std::vector<Eigen::Vector3d>& x) const;
  [[nodiscard]] std::size_t near() const { return near_.size(); }

private:
  using Shape = std::vector<Eigen::Vector3d>;
  /// A corner and the three of a facet, or the ends of one edge and those of another.
  struct Pair {
    std::array<VertexId, 4> ends;
    bool of_edges = false;
    double side = 0; // 1 or -1 once it is known
  };
  /// How the parts of a pair that lie over each other stand: the way between their nearest places is the sum of the
  /// ends with these weights, `height` along the normal.
  struct Stand {
    Eigen::Vector3d normal = Eigen::Vector3d::Zero();
    Eigen::Vector4d weights = Eigen::Vector4d::Zero();
    double height = 0;
  };
  /// The two directions a pair spans, the way from the one part to the other, and how far that goes along the normal,
  /// whose length is the root of `square`.
  struct Lift {
    Eigen::Vector3d first, second, between, normal;
    double square = 0;
    double along = 0;
  };
  using Places = std::array<Eigen::Vector3d, 4>;
  [[nodiscard]] static Lift lift(const Eigen::Vector3d& p, const Eigen::Vector3d& q, const Eigen::Vector3d& r,
                                 const Eigen::Vector3d& s, bool of_edges);
  [[nodiscard]] static Lift lift(const Shape& x, const Pair& pair) {
    const auto& e = pair.ends;
    return lift(x[at(e[0])], x[at(e[1])], x[at(e[2])], x[at(e[3])], pair.of_edges);
  }
  [[nodiscard]] static bool level(const Lift& lift, bool of_edges);
  [[nodiscard]] static double height(const Places& ends, bool of_edges);
  [[nodiscard]] static std::optional<Stand> over(const Lift& lift, bool of_edges);
  [[nodiscard]] std::optional<Stand> pressing(const Shape& x, const Pair& pair) const;
  [[nodiscard]] static Places places(const Shape& x, const Pair& pair) {
    return {x[at(pair.ends[0])], x[at(pair.ends[1])], x[at(pair.ends[2])], x[at(pair.ends[3])]};
  }
  [[nodiscard]] std::optional<Stand> crossing(const Shape& x, const Pair& pair, double now) const;
  [[nodiscard]] static bool at_rim(const Stand& stand);
  [[nodiscard]] double side_of(const Shape& x, const Pair& pair, const Stand& now) const;
  [[nodiscard]] int piercing(const Shape& x) const;
  void gather(const Shape& x);
  void gather_corners(const Shape& x);
  void gather_edges(const Shape& x);

  std::vector<std::array<VertexId, 3>> triangles_;
  std::vector<std::vector<int>> star_; // per vertex: triangles at it and those across a hinge from it, ascending
  std::vector<std::array<VertexId, 2>> edges_; // diagonals of facets as well: where a facet bends, they stand out
  double thickness_;
  double stiffness_; // over that of a bar
  bool rims_slide_;
  std::vector<Pair> gathered_; // with the sides of those that were over each other in the last shape
  Shape gathered_at_;
  Shape last_;
  std::vector<Pair> near_;
};

} // namespace uc
