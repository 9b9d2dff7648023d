// The order in which independent folds are made: gather those done from one side and with one edge to the hand, so
// that the sheet is turned over and rotated seldom.
#include "divide/steps.h"

#include "base/dependencies.h"

#include <array>
#include <tuple>

namespace uc {
namespace {

struct Hold {
  int face = -1; // 0 face up, 1 underside up, -1 either
  int edge = -1; // 0 the low edge is moved, 1 the high edge, -1 either
};

Hold hold_of(const DivideTask& task, const GridStep& step, bool either_side) {
  Hold hold;
  if (!step.pinch && step.kind != StepKind::guess && !task.directions.empty()) {
    const Fold d = task.directions[static_cast<std::size_t>(step.makes)];
    if (d == Fold::valley) hold.face = 0;
    if (d == Fold::mountain) hold.face = 1;
  }
  if (either_side || step.kind == StepKind::guess || 2 * step.makes == task.parts) return hold;
  hold.edge = 2 * step.makes < task.parts ? 0 : 1;
  return hold;
}

/// Each step follows what makes the lines it reads, and whatever reads or makes the line it makes again.
Dependencies dependencies_of(const DivideTask& task, const std::vector<GridStep>& steps) {
  const auto lines = static_cast<std::size_t>(task.parts) + 1;
  std::vector<int> writer(lines, -1);
  std::vector<std::vector<std::size_t>> readers(lines);
  Dependencies needs(steps.size());
  for (std::size_t i = 0; i < steps.size(); ++i) {
    const auto makes = static_cast<std::size_t>(steps[i].makes);
    if (steps[i].kind != StepKind::guess) {
      for (const int read : {steps[i].a, steps[i].b}) {
        const auto r = static_cast<std::size_t>(read);
        if (writer[r] >= 0) needs.require(static_cast<std::size_t>(writer[r]), i);
        readers[r].push_back(i);
      }
    }
    if (writer[makes] >= 0) needs.require(static_cast<std::size_t>(writer[makes]), i);
    for (const std::size_t reader : readers[makes]) {
      if (reader != i) needs.require(reader, i);
    }
    readers[makes].clear();
    writer[makes] = static_cast<int>(i);
  }
  return needs;
}

bool fits(int wanted, int have) { return wanted < 0 || have < 0 || wanted == have; }

/// The step to go on with: one that needs no turning, else to where most others wait; its place in `ready`.
std::size_t next_step(const DivideTask& task, const std::vector<GridStep>& steps, bool either_side, const Hold& now,
                      const std::vector<std::size_t>& ready) {
  std::array<int, 2> face_count{};
  std::array<int, 2> edge_count{};
  for (const std::size_t i : ready) {
    const Hold h = hold_of(task, steps[i], either_side);
    if (h.face >= 0) ++face_count[static_cast<std::size_t>(h.face)];
    if (h.edge >= 0) ++edge_count[static_cast<std::size_t>(h.edge)];
  }
  std::size_t pick = 0;
  auto best = std::tuple(9, 9, 0, 0, steps.size());
  for (std::size_t r = 0; r < ready.size(); ++r) {
    const Hold h = hold_of(task, steps[ready[r]], either_side);
    const auto key = std::tuple(fits(h.face, now.face) ? 0 : 1, fits(h.edge, now.edge) ? 0 : 1,
                                h.face < 0 ? 0 : -face_count[static_cast<std::size_t>(h.face)],
                                h.edge < 0 ? 0 : -edge_count[static_cast<std::size_t>(h.edge)], ready[r]);
    if (key < best) best = key, pick = r;
  }
  return pick;
}

Handling order_from(const DivideTask& task, const std::vector<GridStep>& steps, bool either_side, Hold now) {
  Dependencies needs = dependencies_of(task, steps);
  Handling result;
  needs.run([](std::size_t) { return true; },
            [&](const std::vector<std::size_t>& ready) { return next_step(task, steps, either_side, now, ready); },
            [&](std::size_t chosen) {
              const Hold h = hold_of(task, steps[chosen], either_side);
              if (!fits(h.face, now.face)) ++result.turn_overs;
              if (!fits(h.edge, now.edge)) ++result.rotations;
              if (h.face >= 0) now.face = h.face;
              if (h.edge >= 0) now.edge = h.edge;
              result.steps.push_back(steps[chosen]);
            });
  return result;
}

} // namespace

Handling with_little_handling(const DivideTask& task, const std::vector<GridStep>& steps, bool either_side) {
  Handling best = order_from(task, steps, either_side, {0, 0});
  Handling other = order_from(task, steps, either_side, {0, 1});
  const auto cost = [](const Handling& h) { return std::pair(h.turn_overs, h.rotations); };
  return cost(other) < cost(best) ? other : best;
}

} // namespace uc
