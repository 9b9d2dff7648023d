#include "stages/collapse/closing_work.h"

namespace uc::app {

ClosingFrames closed_by(const ClosingPlan& plan, std::shared_ptr<const DrawnPattern> drawn, Progress& progress) {
  ClosingFrames out;
  out.plan = plan;
  out.drawn = std::move(drawn);
  auto mesh = fold_mesh(out.drawn->healed, out.drawn->full_deg);
  if (!mesh) {
    out.error = mesh.error();
    return out;
  }
  out.mesh = std::make_shared<const FoldMesh>(std::move(mesh).value());
  Closing closing(*out.mesh, stages_in_order(*out.mesh, plan.order, plan.groups), plan.other_way);
  std::size_t level = closing.level();
  for (int i = 0; i <= closing_frames && !progress.stopped(); ++i) {
    if (!closing.go_to(static_cast<double>(i) / closing_frames, &progress)) break;
    if (closing.level() != level) { // it is driven so from the beginning
      level = closing.level();
      out.states.clear();
      i = -1;
      continue;
    }
    out.states.push_back(closing.state());
    progress.set(static_cast<double>(i) / closing_frames);
  }
  out.facets_bend = closing.facets_bend();
  return out;
}

std::vector<OrderCost> costs_of_orders(const FoldMesh& mesh, Progress& progress) {
  std::vector<ClosingPlan> plans{{CollapseOrder::all_at_once, 1}};
  for (const CollapseOrder order :
       {CollapseOrder::outside_in, CollapseOrder::inside_out, CollapseOrder::one_side_first})
    for (const int groups : {2, 4, 8}) plans.push_back({order, groups});
  std::vector<OrderCost> out;
  for (const ClosingPlan& plan : plans) {
    Closing closing(mesh, stages_in_order(mesh, plan.order, plan.groups));
    OrderCost cost{plan, 0, 0};
    for (int i = 1; i <= 20; ++i) {
      if (!closing.go_to(i / 20.0, &progress) || progress.stopped()) return out;
      const CollapseState s = closing.state();
      cost.peak_strain = std::max(cost.peak_strain, s.max_strain);
      cost.rms_error_deg = s.rms_error_deg;
    }
    out.push_back(cost);
    progress.set(static_cast<double>(out.size()) / static_cast<double>(plans.size()));
  }
  return out;
}

} // namespace uc::app
