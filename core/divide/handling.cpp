// The order in which independent folds are made: gather those done from one side and with one edge to the hand, so
// that the sheet is turned over and rotated seldom.
#include "divide/steps.h"

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
    const CreaseDirection d = task.directions[static_cast<std::size_t>(step.makes)];
    if (d == CreaseDirection::valley) hold.face = 0;
    if (d == CreaseDirection::mountain) hold.face = 1;
  }
  if (either_side || step.kind == StepKind::guess || 2 * step.makes == task.parts) return hold;
  hold.edge = 2 * step.makes < task.parts ? 0 : 1;
  return hold;
}

/// For each step, the earlier ones it must follow: what it reads, and what it overwrites.
std::vector<std::vector<std::size_t>> successors(const DivideTask& task, const std::vector<GridStep>& steps,
                                                 std::vector<int>& waiting) {
  const auto lines = static_cast<std::size_t>(task.parts) + 1;
  std::vector<int> writer(lines, -1);
  std::vector<std::vector<std::size_t>> readers(lines);
  std::vector<std::vector<std::size_t>> after(steps.size());
  waiting.assign(steps.size(), 0);
  const auto link = [&](std::size_t from, std::size_t to) {
    after[from].push_back(to);
    ++waiting[to];
  };
  for (std::size_t i = 0; i < steps.size(); ++i) {
    const auto makes = static_cast<std::size_t>(steps[i].makes);
    if (steps[i].kind != StepKind::guess) {
      for (const int read : {steps[i].a, steps[i].b}) {
        const auto r = static_cast<std::size_t>(read);
        if (writer[r] >= 0) link(static_cast<std::size_t>(writer[r]), i);
        readers[r].push_back(i);
      }
    }
    if (writer[makes] >= 0) link(static_cast<std::size_t>(writer[makes]), i);
    for (const std::size_t reader : readers[makes]) {
      if (reader != i) link(reader, i);
    }
    readers[makes].clear();
    writer[makes] = static_cast<int>(i);
  }
  return after;
}

Handling order_from(const DivideTask& task, const std::vector<GridStep>& steps, bool either_side, Hold now) {
  std::vector<int> waiting;
  const auto after = successors(task, steps, waiting);
  std::vector<std::size_t> ready;
  for (std::size_t i = 0; i < steps.size(); ++i) {
    if (waiting[i] == 0) ready.push_back(i);
  }
  Handling result;
  const auto fits = [](int wanted, int have) { return wanted < 0 || have < 0 || wanted == have; };
  while (!ready.empty()) {
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
    const std::size_t chosen = ready[pick];
    ready.erase(ready.begin() + static_cast<std::ptrdiff_t>(pick));
    const Hold h = hold_of(task, steps[chosen], either_side);
    if (!fits(h.face, now.face)) ++result.turn_overs;
    if (!fits(h.edge, now.edge)) ++result.rotations;
    if (h.face >= 0) now.face = h.face;
    if (h.edge >= 0) now.edge = h.edge;
    result.steps.push_back(steps[chosen]);
    for (const std::size_t next : after[chosen]) {
      if (--waiting[next] == 0) ready.push_back(next);
    }
  }
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
