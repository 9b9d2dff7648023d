// A SAT solver wrapped for layer orders: parities and equations become clauses at once, transitivity only where an
// answer breaks it. Faces or creases can be switched off, which is how clashes are narrowed down.
#pragma once

#include "base/parallel.h"
#include "base/sat_solver.h"
#include "form/direction_wish.h"

#include <chrono>
#include <optional>
#include <span>
#include <vector>

namespace uc {

class LayerPropagation;
struct LayerComponent;

/// When to give up.
struct Deadline {
  std::chrono::steady_clock::time_point end;
  const Progress* progress = nullptr;
  static Deadline in(double seconds, const Progress* progress) {
    return {std::chrono::steady_clock::now() +
                std::chrono::duration_cast<std::chrono::steady_clock::duration>(std::chrono::duration<double>(seconds)),
            progress};
  }
  [[nodiscard]] bool passed() const {
    return std::chrono::steady_clock::now() > end || (progress && progress->stopped());
  }
};

class OrderSolver {
public:
  /// The problem as propagation left it, or one component of it.
  OrderSolver(const LayerConstraints& constraints, const LayerPropagation& propagated,
              const LayerComponent* component = nullptr);
  enum class Switches { faces, creases };
  /// The bare constraints among some faces (all when empty), with a switch for each face or each directed crease.
  OrderSolver(const LayerConstraints& constraints, const std::vector<FaceId>& faces, Switches switches);
  OrderSolver(const OrderSolver&) = delete;
  OrderSolver& operator=(const OrderSolver&) = delete;

  /// Relations that can be switched on one by one, as 0, 1, 2, ... in `on`; only for a propagated problem.
  void add_switched(const std::vector<DirectionPair>& pairs);

  /// Whether an order exists; nullopt when time is up. Only what is listed counts: faces, or indices into `fixed`.
  std::optional<bool> solve(const Deadline& deadline, const std::vector<int>& on = {});
  /// After a "no": those switched on that the solver needed for it.
  [[nodiscard]] std::vector<int> needed(const std::vector<int>& on) const;
  /// After a "yes".
  [[nodiscard]] bool is_true(Literal l) const;
  [[nodiscard]] double solver_seconds() const { return seconds_; }

private:
  [[nodiscard]] Literal mapped(Literal l) const;
  [[nodiscard]] int switch_of(int i) const { return first_switch_ + i; }
  void add(std::initializer_list<Literal> clause);
  void guard(std::initializer_list<Literal> literals);
  void add_parity(std::span<const Literal> roots, bool odd);
  /// Adds what forbids the cycles of the answer; false when there are none. Then the solver is told to look next near
  /// the order that the answer is closest to, by wins: few cycles are left there.
  bool forbid_cycles(const std::vector<char>& counts);

  const LayerConstraints& constraints_;
  const LayerPropagation* propagated_ = nullptr;
  std::optional<Switches> switches_;
  int first_switch_ = 0;
  std::vector<char> used_; // per face
  SatSolver solver_;
  std::vector<std::vector<FaceId>> stacks_;
  void prefer_order(const std::vector<double>& rank);
  double seconds_ = 0;
};

} // namespace uc
