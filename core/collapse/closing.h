// A collapse from flat to closed: the states a sheet goes through as its creases are driven, with the strain in the
// paper and how far each crease is from where it should be.
#pragma once

#include "collapse/solver.h"
#include "collapse/stages.h"

#include <functional>

namespace uc {

struct CollapseState {
  double part = 0; // of the whole, 0 to 1
  std::vector<Eigen::Vector3d> vertices;
  std::vector<double> angle_deg;                 // per edge of the pattern; 0 at raw edges
  std::vector<std::optional<double>> target_deg; // per edge; none at raw edges and where a crease moves freely
  std::vector<double> strain;                    // per edge
  double max_strain = 0;                         // of all bars, diagonals too
  int strained_bar = 0;                          // where that is
  double max_bend_deg = 0;                       // at a diagonal, or an edge that is not folded
  double rms_error_deg = 0;                      // over mountains and valleys
  int passed_through = 0; // corners and edges that have passed through a layer, where layers are kept apart
};

/// What a solver has come to; `targets` per hinge.
CollapseState state_of(const FoldSolver& solver, const FoldMesh& mesh,
                       const std::vector<std::optional<double>>& targets, double part);

struct ClosingWish {
  std::vector<DriveStage> stages; // none: all creases close together
  std::vector<Clip> clips;
  /// Leans the flat sheet the other way: where there are two to go, as for a saddle, the other corners rise.
  bool other_way = false;
  bool apart = false; // layers do not pass through each other
};

/// Begins with facets as good as rigid and lets them bend when the sheet cannot close so; where a sheet stands still
/// before it is closed, what is open is pressed, or the whole is driven harder; layers that are kept apart are let
/// slide past each other at their rims, then pushed as hard as paper, and let through each other when nothing else
/// helps.
class Closing {
public:
  explicit Closing(const FoldMesh& mesh, ClosingWish wish = {});
  [[nodiscard]] double energy() const { return solver_.energy(); }

  /// Who is told how far the way has come; each time it is begun again is a pass of its own.
  void tell(Progress* progress) { told_ = progress; }

  /// Goes on, or begins again for an earlier part, in even steps, and comes to rest there. False when it was stopped.
  bool go_to(double part, const Progress* progress = nullptr);
  [[nodiscard]] CollapseState state() const;
  [[nodiscard]] const FoldMesh& mesh() const { return mesh_; }
  [[nodiscard]] int steps() const { return steps_ + solver_.steps(); }
  /// How many of them made a factor.
  [[nodiscard]] int factors() const { return factors_ + solver_.factors(); }
  [[nodiscard]] bool facets_bend() const { return level_ > 0; }
  /// That of creases and facets, as they are driven now.
  [[nodiscard]] FoldStiffness stiffness() const;
  /// How the sheet is driven: whoever keeps states of it begins again when this changes.
  [[nodiscard]] std::size_t level() const { return level_ + contact_level * static_cast<std::size_t>(contact_); }
  /// Whether layers get through each other somewhere on the way: because the sheet did not close otherwise, or pushed
  /// as they are. The states say how many corners and edges do.
  [[nodiscard]] bool layers_pass() const { return wish_.apart && passed_; }

private:
  void lean();
  [[nodiscard]] double next_step() const;
  [[nodiscard]] bool setting_out(double part) const;
  [[nodiscard]] bool pushing() const { return wish_.apart && contact_ != LayerContact::counted; }
  /// Closed, and of layers that push nothing has passed.
  [[nodiscard]] bool clean() const { return closed() && !(pushing() && passed_); }
  bool drive_to(double part, const Progress* progress);
  void turn_back(double part, const Progress* progress);
  void let_go(const Progress* progress);
  static constexpr std::size_t contact_level = 50;
  bool drive_gently(double part, const Progress* progress);
  bool drive_hard(double part, const Progress* progress);
  bool drive_firmly(double part, const Progress* progress);
  bool drive_cleanly(double part, double strain, const Progress* progress);
  bool coax(const Progress* progress);
  bool close_somehow(double part, const Progress* progress);
  bool close_apart(double part, const Progress* progress);
  bool try_gently(LayerContact contact, double part, const Progress* progress);
  bool press(const Progress* progress);
  bool press_places(bool reopen, const Progress* progress);
  bool press_once(double harder, bool reopen, const Progress* progress);
  [[nodiscard]] std::vector<int> standing_off() const;
  void begin_again(std::size_t level);
  void begin_again(LayerContact contact, std::size_t level) {
    contact_ = contact;
    begin_again(level);
  }
  void begin();
  void clip(double part);
  [[nodiscard]] std::vector<std::optional<double>> targets(double part) const;
  [[nodiscard]] bool stuck() const;
  [[nodiscard]] bool closed() const;

  FoldMesh mesh_;
  ClosingWish wish_;
  std::size_t level_ = 0; // of stiffness
  FoldSolver solver_;
  double part_ = 0;
  double peak_ = 0; // strain since the flat sheet
  /// The level to which pressing and driving harder have led; on the way to another they are tried again.
  std::optional<std::size_t> coaxed_to_;
  std::optional<bool> reopened_;              // pressing has helped: after opening, or without
  LayerContact contact_ = LayerContact::soft; // of layers that are kept apart
  std::vector<double> turned_;                // per hinge: how much harder a hand turns it
  bool passed_ = false;                       // on the way some layers have got through all the same
  Progress* told_ = nullptr;
  int steps_ = 0; // of solvers before this
  int factors_ = 0;
};

/// The states at ascending parts of the whole, all driven in one way: where a later one shows that the sheet has to be
/// driven otherwise, the earlier are worked out again. Fewer when it was stopped. `done` is told of those so far after
/// each.
std::vector<CollapseState> states_at(Closing& closing, const std::vector<double>& parts,
                                     const Progress* progress = nullptr,
                                     const std::function<void(const std::vector<CollapseState>&)>& done = {});
/// So many even parts from flat on, without the last.
std::vector<double> even_parts(int count, double last = 1);

} // namespace uc
