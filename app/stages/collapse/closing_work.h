// A collapse worked out off the interface thread: one state after another from flat to closed.
#pragma once

#include "collapse/closing.h"
#include "collapse/pushing.h"
#include "project/project.h"

#include <memory>
#include <mutex>
#include <optional>
#include <string>

namespace uc::app {

constexpr int closing_frames = 50; // beside the flat sheet

struct ClosingFrames {
  std::shared_ptr<const DrawnPattern> drawn; // of which it is the collapse
  ClosingPlan plan;
  std::shared_ptr<const FoldMesh> mesh;
  std::shared_ptr<const CreasePattern> pattern; // as it is closed: with its facets divided where that is asked for
  std::vector<CollapseState> states;            // flat first; fewer when it was stopped
  FoldStiffness stiffness;                      // at the end of the way
  bool facets_bend = false;
  bool layers_pass = false; // it closes only where paper passes through paper
  std::string error;        // why there is nothing
  [[nodiscard]] bool whole() const { return static_cast<int>(states.size()) == closing_frames + 1; }
};

/// What a collapse that is being worked out has come to, handed over to the thread that shows it.
class ClosingSoFar {
public:
  struct Sheet {
    std::shared_ptr<const FoldMesh> mesh;
    std::shared_ptr<const CreasePattern> pattern;
    CollapseState state;
  };
  void put(Sheet sheet);
  /// The latest, once; nothing while there is no later one.
  std::optional<Sheet> take();

private:
  std::mutex mutex_;
  std::optional<Sheet> latest_;
};

/// Each state goes into `so_far` as it is reached.
ClosingFrames closed_by(const ClosingPlan& plan, std::shared_ptr<const DrawnPattern> drawn, Progress& progress,
                        ClosingSoFar& so_far);

/// What becomes of a state when it is let go of, off the interface thread.
struct LetGo {
  std::shared_ptr<const FoldMesh> mesh;
  double part = 0;
  std::size_t pushes = 0;             // before
  std::optional<CollapseState> state; // none when it was stopped
};

/// A corner pushed over, off the interface thread.
struct PushedOver {
  std::shared_ptr<const FoldMesh> mesh;
  double part = 0;
  std::optional<Pushed> pushed; // none when it failed or was stopped
  std::string error;
};

/// What one order costs: the greatest strain on the whole way.
struct OrderCost {
  ClosingPlan plan;
  double peak_strain = 0;
  double rms_error_deg = 0; // at the end
};
struct OrderCosts {
  std::vector<OrderCost> closing; // every order by one to eight stages that closes the sheet as far as any does
  int locking = 0;                // how many do not
};
OrderCosts costs_of_orders(const FoldMesh& mesh, Progress& progress);

} // namespace uc::app
