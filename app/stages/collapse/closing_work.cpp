#include "stages/collapse/closing_work.h"

#include "collapse/finer.h"
#include "collapse/held_flat.h"

#include <algorithm>
#include <utility>

namespace uc::app {

void ClosingSoFar::put(Sheet sheet) {
  const std::lock_guard lock(mutex_);
  latest_ = std::move(sheet);
}

std::optional<ClosingSoFar::Sheet> ClosingSoFar::take() {
  const std::lock_guard lock(mutex_);
  return std::exchange(latest_, std::nullopt);
}

ClosingFrames closed_by(const ClosingPlan& plan, std::shared_ptr<const DrawnPattern> drawn, Progress& progress,
                        ClosingSoFar& so_far) {
  ClosingFrames out;
  out.plan = plan;
  out.drawn = std::move(drawn);
  auto fine = finer(out.drawn->healed, out.drawn->full_deg, plan.finer, out.drawn->goals);
  auto mesh = fine ? fold_mesh(fine->pattern, fine->full_deg, fine->goals) : Result<FoldMesh>(Error{fine.error()});
  if (!mesh) {
    out.error = mesh.error();
    return out;
  }
  const auto& edges = out.drawn->healed.pattern.edges;
  if (std::none_of(edges.begin(), edges.end(), [](const PatternEdge& e) { return folds(e.kind); })) {
    out.error = "Draw a pattern with creases first; here it closes";
    return out;
  }
  out.pattern = std::make_shared<const CreasePattern>(fine->pattern.pattern);
  out.mesh = std::make_shared<const FoldMesh>(std::move(mesh).value());
  if (const auto ok = check_plan(*out.mesh, plan); !ok) {
    out.error = ok.error();
    return out;
  }
  Closing closing(*out.mesh, wish_for(*out.mesh, plan));
  closing.tell(&progress);
  std::vector<double> parts = even_parts(closing_frames);
  parts.push_back(1);
  out.states = states_at(closing, parts, &progress, [&](const std::vector<CollapseState>& reached) {
    CollapseState latest = reached.back();
    lay_on_table(*out.mesh, out.drawn->held, latest.vertices);
    so_far.put({out.mesh, out.pattern, std::move(latest)});
  });
  for (CollapseState& state : out.states) lay_on_table(*out.mesh, out.drawn->held, state.vertices);
  out.stiffness = closing.stiffness();
  out.facets_bend = closing.facets_bend();
  out.layers_pass = closing.layers_pass();
  return out;
}

/// Creases may end so much further off their angles than by the order that closes the sheet best.
constexpr double closes_as_well_deg = 10;

OrderCosts costs_of_orders(const FoldMesh& mesh, Progress& progress) {
  const auto plan_of = [](CollapseOrder order, int groups) {
    ClosingPlan plan;
    plan.order = order;
    plan.groups = groups;
    return plan;
  };
  std::vector<ClosingPlan> plans{plan_of(CollapseOrder::all_at_once, 1)};
  if (const auto own = family_stages(mesh); !own.empty())
    plans.push_back(plan_of(CollapseOrder::family, static_cast<int>(own.size())));
  for (const CollapseOrder order :
       {CollapseOrder::outside_in, CollapseOrder::inside_out, CollapseOrder::one_side_first})
    for (const int groups : {2, 4, 8}) plans.push_back(plan_of(order, groups));
  OrderCosts out;
  std::vector<OrderCost>& tried = out.closing;
  for (const ClosingPlan& plan : plans) {
    Closing closing(mesh, {stages_of(mesh, plan), {}, false, false});
    OrderCost cost{plan, 0, 0};
    std::vector<double> parts = even_parts(20);
    parts.push_back(1);
    const auto states = states_at(closing, parts, &progress);
    if (states.size() < parts.size()) break;
    for (const CollapseState& s : states) cost.peak_strain = std::max(cost.peak_strain, s.max_strain);
    cost.rms_error_deg = states.back().rms_error_deg;
    tried.push_back(cost);
    progress.set(static_cast<double>(tried.size()) / static_cast<double>(plans.size()));
  }
  double best = 180;
  for (const OrderCost& cost : tried) best = std::min(best, cost.rms_error_deg);
  out.locking = static_cast<int>(
      std::erase_if(tried, [best](const OrderCost& cost) { return cost.rms_error_deg > best + closes_as_well_deg; }));
  return out;
}

} // namespace uc::app
