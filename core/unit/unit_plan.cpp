#include "unit/unit_plan.h"

#include "base/clean_text.h"
#include "base/index.h"
#include "base/quantity.h"
#include "solid/expression.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uc {
namespace {

/// With the apexes of its pyramids, for a solid of edge 1.
double outside_diameter(const Polyhedron& solid, const UnitFamily& family) {
  if (!family.tips) return diameter(solid);
  Polyhedron all = solid;
  for (const Point3& tip : family.tips(solid)) all.vertices.push_back(tip);
  double far = 0;
  for (std::size_t i = 0; i < all.vertices.size(); ++i)
    for (std::size_t k = 0; k < i; ++k) far = std::max(far, (all.vertices[i] - all.vertices[k]).norm());
  return far;
}

UnitSheet normal_sheet(const UnitFamily& family) {
  if (family.strips) return {297, 20};
  if (family.units_per_sheet == 2) return {75, 75};
  return {75, 75 * family.ratio};
}

UnitSheet scaled(const UnitSheet& s, double factor) { return {s.width_mm * factor, s.height_mm * factor}; }

/// Pieces of strips one after another, the longest first, each where the least is left over (best fit decreasing).
Status cut_strips(UnitPlan& plan) {
  const double length = std::max(plan.sheet.width_mm, plan.sheet.height_mm);
  std::vector<int> order(plan.graph.units.size());
  std::iota(order.begin(), order.end(), 0);
  const auto piece = [&](int u) { return plan.graph.units[at(u)].width_mm; };
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return piece(a) > piece(b); });
  if (!order.empty() && piece(order[0]) > length + 1e-9)
    return Error{fmt::format("the longest piece is {} mm and the strip {} mm; take longer strips, or narrower ones",
                             format_number(piece(order[0]), 2), format_number(length, 2))};
  std::vector<double> used;
  for (const int u : order) {
    std::size_t best = used.size();
    for (std::size_t s = 0; s < used.size(); ++s)
      if (used[s] + piece(u) <= length + 1e-9 && (best == used.size() || used[s] > used[best])) best = s;
    if (best == used.size()) used.push_back(0);
    plan.cut_list.push_back(
        {static_cast<int>(best), u, {used[best], 0}, {piece(u), plan.graph.units[at(u)].height_mm}});
    used[best] += piece(u);
  }
  plan.sheets = static_cast<int>(used.size());
  for (const double u : used) plan.cuts -= std::abs(u - length) < 1e-9 ? 1 : 0; // what ends with the strip needs no cut
  plan.cuts += static_cast<int>(order.size());
  return Done{};
}

void cut_sheets(UnitPlan& plan, int units_per_sheet) {
  const int n = static_cast<int>(plan.graph.units.size());
  for (int u = 0; u < n; ++u) {
    const Unit& unit = plan.graph.units[at(u)];
    plan.cut_list.push_back(
        {u / units_per_sheet, u, {0, (u % units_per_sheet) * unit.height_mm}, {unit.width_mm, unit.height_mm}});
  }
  plan.sheets = (n + units_per_sheet - 1) / units_per_sheet;
  plan.cuts = units_per_sheet > 1 ? plan.sheets : 0;
}

void warn_of_paper(UnitPlan& plan, const UnitFamily& family, const UnitWish& wish) {
  if (wish.caliper_mm > family.thickest_mm)
    plan.warnings.push_back(fmt::format("{} is {} mm thick; this unit locks up to {} mm", wish.stock,
                                        format_number(wish.caliper_mm, 2), format_number(family.thickest_mm, 2)));
  const double longest = std::max(plan.sheet.width_mm, plan.sheet.height_mm);
  if (wish.largest_mm > 0 && longest > wish.largest_mm)
    plan.warnings.push_back(fmt::format("{} is sold up to {} mm; this needs {} mm", wish.stock,
                                        format_number(wish.largest_mm, 1), format_number(longest, 1)));
  if (plan.edge_mm < family.least_edge_mm)
    plan.warnings.push_back(fmt::format("edges of {} mm are hard to fold; {} mm is the least that fingers take well",
                                        format_number(plan.edge_mm, 1), format_number(family.least_edge_mm, 1)));
}

Error no_such_unit(const std::string& name) {
  std::string names;
  for (const UnitFamily& f : unit_families()) names += (names.empty() ? "" : ", ") + f.name;
  return Error{
      fmt::format("\"{}\" is not a unit family known here; there are {}", clipped(shown_text(name), 60), names)};
}

} // namespace

Result<UnitPlan> unit_plan(const UnitWish& wish, const Progress* progress) {
  const UnitFamily* family = find_unit_family(wish.family);
  if (!family) return no_such_unit(wish.family);
  auto solid = parse_solid(wish.solid);
  if (!solid) return Error{solid.error()};
  if (wish.colours < 1 || wish.colours > 24) return Error{"colours are 1 to 24"};
  UnitPlan plan;
  plan.sheet = wish.sheet.value_or(normal_sheet(*family));
  const UnitFit fit = family->fit(*solid, plan.sheet);
  if (!fit.refusal.empty())
    return Error{
        fmt::format("{} does not make {}: {}", family->name, clipped(shown_text(wish.solid), 60), fit.refusal)};
  plan.warnings = fit.warnings;
  const double across = outside_diameter(*solid, *family);
  if (wish.finished_mm) {
    const double edge = *wish.finished_mm / across;
    const double factor = edge / family->edge_mm(plan.sheet);
    // A strip keeps its length; its width is the edge.
    plan.sheet = family->strips ? UnitSheet{std::max(plan.sheet.width_mm, plan.sheet.height_mm), edge}
                                : scaled(plan.sheet, factor);
  }
  plan.edge_mm = family->edge_mm(plan.sheet);
  plan.diameter_mm = plan.edge_mm * across;
  plan.graph = unit_graph(*solid, *family, plan.sheet);
  if (plan.graph.units.size() > 5000)
    return Error{fmt::format("{} units are more than 5000; take a smaller solid", plan.graph.units.size())};
  plan.solid = std::move(solid).value();
  for (Point3& v : plan.solid.vertices) v *= plan.edge_mm;
  if (family->strips) {
    // A sheet of one's own is kept; else the strip is as long as its longest piece, if that is longer than a common
    // sheet.
    for (const Unit& u : plan.graph.units)
      if (!wish.sheet) plan.sheet.width_mm = std::max(plan.sheet.width_mm, u.width_mm);
    if (const auto ok = cut_strips(plan); !ok) return Error{ok.error()};
  } else {
    cut_sheets(plan, family->units_per_sheet);
  }
  if (wish.colours == 1) {
    plan.colours.colour.assign(plan.graph.units.size(), 0);
  } else {
    plan.colours = coloured(plan.graph, wish.colours, wish.variant, 30, progress);
    if (plan.colours.colour.empty()) {
      if (plan.colours.out_of_time) return Error{"no colours were found in time; allow more of them"};
      const auto least = fewest_colours(plan.graph);
      return Error{fmt::format("{} colours are not enough: units alike would meet; {}", wish.colours,
                               least ? fmt::format("{} are the fewest", *least) : "take more")};
    }
    if (!plan.colours.equal_shares)
      plan.warnings.emplace_back("no equal shares of the colours were found; these are the nearest to them");
  }
  warn_of_paper(plan, *family, wish);
  plan.assembly = assembly_order(plan.graph);
  return plan;
}

} // namespace uc
