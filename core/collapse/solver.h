// The sheet closing in space: bars that resist stretching and hinges driven to angles (the bar-and-hinge model, Schenk
// and Guest 2011, Liu and Paulino 2017), brought to rest by damped Gauss-Newton steps and, while their factor serves,
// quasi-Newton steps from it. The matrix has the same places whatever the shape, so its ordering and its symbolic
// factor are worked out once (sparse Cholesky). Nothing is random: the same pattern and targets give the same shape.
#pragma once

#include "base/parallel.h"
#include "collapse/fold_mesh.h"
#include "collapse/fold_stiffness.h"
#include "collapse/layer_contact.h"

#include <memory>
#include <optional>
#include <vector>

namespace uc {

/// What acts on a sheet beside its own creases.
struct FoldLoads {
  /// Weight of the paper that belongs to a vertex, on average, over the stiffness of a bar; downwards, 0 for none.
  double weight = 0;
  /// The height of the ground in mm; nothing sinks below it.
  std::optional<double> ground_mm;
};

class FoldSolver {
public:
  FoldSolver(const FoldMesh& mesh, const FoldStiffness& stiffness);
  ~FoldSolver();
  FoldSolver(FoldSolver&&) noexcept;
  FoldSolver& operator=(FoldSolver&&) noexcept;

  /// Per hinge, degrees: valley positive, mountain negative, 180 closed; nothing for hinges that move freely.
  void drive(const std::vector<std::optional<double>>& target_deg);
  /// From now on layers that would pass through each other push each other apart, and are kept as far apart in mm, or
  /// what passes is only counted.
  void push_apart(double thickness_mm, LayerContact how = LayerContact::soft);
  void load(const FoldLoads& loads);
  /// Holds a vertex at a place in mm, or lets it go.
  void hold(VertexId vertex, const std::optional<Eigen::Vector3d>& place_mm);
  /// Makes a hinge so many times as stiff, as a clip does.
  void stiffen(int hinge, double factor);
  /// Corners and edges that have passed through a layer; 0 unless push_apart was called.
  [[nodiscard]] int passed_through() const;
  /// One damped step. The energy never rises; the greatest movement of a vertex comes back, in mean edges (on sheets
  /// of more than ten across, in tenths of the sheet). A step that would not be finite, or for the better, is not made,
  /// and 0 comes back.
  double step();
  /// A few steps towards rest, as many as a sheet on its way needs.
  void come_near(const Progress* progress = nullptr);
  /// Steps until none moves by more than `still`, at most so many. False when they were not enough.
  bool rest(double still, int most_steps, const Progress* progress = nullptr);

  [[nodiscard]] std::vector<Eigen::Vector3d> vertices() const; // mm
  void set_vertices(const std::vector<Eigen::Vector3d>& vertices);
  /// Says how far a hinge has turned where that is more than half a turn: shapes that follow go on from there.
  void set_angle(int hinge, double degrees);
  [[nodiscard]] double angle_deg(int hinge) const;
  /// (L - L0) / L0 per bar.
  [[nodiscard]] double strain(int bar) const;
  [[nodiscard]] double max_strain() const;
  [[nodiscard]] double energy() const;
  [[nodiscard]] int steps() const;
  /// How many of the steps made a factor.
  [[nodiscard]] int factors() const;

private:
  struct State;
  std::unique_ptr<State> state_;
};

} // namespace uc
