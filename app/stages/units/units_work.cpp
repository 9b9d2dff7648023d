#include "stages/units/units_work.h"

namespace uc::app {
namespace {

void compare_families(UnitsAnswer& out, const Project& project) {
  for (const auto& family : all_unit_families(project.units.own)) {
    UnitWish wish;
    wish.own = project.units.own;
    wish.family = family->name;
    wish.solid = project.units.solid;
    wish.finished_mm = out.plan ? out.plan->diameter_mm : 150.0;
    const auto plan = unit_plan(wish);
    if (!plan) {
      out.refused.emplace_back(family->name, plan.error());
      continue;
    }
    double area = 0;
    for (const Unit& u : plan->graph.units) area += u.width_mm * u.height_mm / 100;
    out.ways.push_back({family, area, gape_of(*plan, project.hand, project.stock.caliper_mm)});
  }
}

} // namespace

UnitsKey units_key(const Project& project) {
  UnitsKey key{project.units, project.stock.caliper_mm, project.stock.largest_mm, project.stock.name, project.hand};
  key.job.palette.clear();
  return key;
}

UnitsAnswer units_for(const Project& project, Progress& progress) {
  UnitsAnswer out;
  out.key = units_key(project);
  const auto wish = wish_of(project.units, project.stock);
  auto plan = wish ? unit_plan(*wish, &progress) : Result<UnitPlan>(Error{wish.error()});
  if (plan) {
    out.plan = std::make_shared<const UnitPlan>(std::move(plan).value());
    out.shape = std::make_shared<const UnitShape>(unit_shape(*out.plan));
    out.moves = std::make_shared<const Programme>(unit_programme(*out.plan, {}, project.hand));
    if (const auto least = fewest_colours(out.plan->graph, {2, 0, 2}); least && *least) out.fewest_colours = **least;
  } else {
    out.error = progress.cancelled()
                    ? "the planning was stopped; change a figure, or show another answer, to plan again"
                    : plan.error();
  }
  if (!progress.stopped()) compare_families(out, project);
  return out;
}

} // namespace uc::app
