#include "unit/unit_plan.h"

#include "base/clean_text.h"
#include "base/expression.h"
#include "base/index.h"
#include "base/quantity.h"
#include "paper/sheet.h"
#include "solid/expression.h"
#include "unit/colour_ties.h"
#include "unit/tried_joint.h"

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

Result<CutList> cutting_of(const UnitPlan& plan, const UnitWish& wish) {
  const UnitSheet sheet = wish.from.value_or(plan.sheet);
  const Point size{sheet.width_mm, sheet.height_mm};
  return plan.family->strips ? cut_from_strips(plan.graph, plan.colours.colour, size, wish.margin_mm)
                             : cut_from_sheets(plan.graph, plan.colours.colour, size, wish.margin_mm, !wish.keep_grain);
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

/// What the wish asks of the colours, bands and rotations with it.
Result<ColourWish> colour_wish(const UnitPlan& plan, const UnitWish& wish) {
  ColourWish out{wish.colours, wish.variant, 30};
  if (wish.symmetry) {
    auto turns = unit_turns(plan.solid, plan.graph, *wish.symmetry);
    if (!turns) return Error{turns.error()};
    out.turns = std::move(turns).value();
  }
  if (wish.bands) {
    auto ties = band_ties(plan.solid, plan.graph);
    if (!ties) return Error{ties.error()};
    out.ties = std::move(ties).value();
  }
  if (const auto joint = tied_joint(plan.graph, out.ties))
    return Error{fmt::format("in bands units {} and {}, which join, would be alike; take another solid",
                             (*joint)[0] + 1, (*joint)[1] + 1)};
  return out;
}

Status colour(UnitPlan& plan, const UnitWish& wish, const Progress* progress) {
  plan.colours.colour.assign(plan.graph.units.size(), 0);
  if (wish.colours == 1) return Done{};
  const auto wanted = colour_wish(plan, wish);
  if (!wanted) return Error{wanted.error()};
  plan.colours = coloured(plan.graph, *wanted, progress);
  if (plan.colours.colour.empty()) {
    if (plan.colours.out_of_time) return Error{"no colours were found in time; allow more of them"};
    const auto least = fewest_colours(plan.graph, *wanted);
    return Error{fmt::format("{} colours are not enough: units alike would meet; {}", wish.colours,
                             least && *least ? fmt::format("{} are the fewest", **least) : "take more")};
  }
  if (!plan.colours.equal_shares)
    plan.warnings.emplace_back(wish.symmetry || wish.bands
                                   ? "with this symmetry the colours have no equal shares; these are the nearest"
                                   : "no equal shares of the colours were found; these are the nearest to them");
  return Done{};
}

/// Colours put by hand, and the joints at which they meet their like.
void recolour(UnitPlan& plan, const std::vector<int>& by_hand, int colours) {
  for (std::size_t u = 0; u < std::min(by_hand.size(), plan.colours.colour.size()); ++u)
    if (by_hand[u] >= 0 && by_hand[u] < colours) plan.colours.colour[u] = by_hand[u];
  for (const auto& joint : plan.graph.joints)
    if (colours > 1 && plan.colours.colour[at(joint[0])] == plan.colours.colour[at(joint[1])])
      plan.alike.push_back(joint);
  if (!plan.alike.empty())
    plan.warnings.push_back(fmt::format("{} joints have one colour on both sides, the first between units {} and {}",
                                        plan.alike.size(), plan.alike[0][0] + 1, plan.alike[0][1] + 1));
}

Error no_such_unit(const std::string& name, const std::vector<OwnFamily>& own) {
  std::string names;
  for (const auto& f : all_unit_families(own)) names += (names.empty() ? "" : ", ") + f->name;
  return Error{
      fmt::format("\"{}\" is not a unit family known here; there are {}", clipped(shown_text(name), 60), names)};
}

} // namespace

Result<UnitSheet> unit_sheet(const std::string& name, const std::string& text, const std::vector<OwnFamily>& own) {
  const auto family = unit_family(name, own);
  return family ? unit_sheet(*family, text) : no_such_unit(name, own);
}

Result<UnitSheet> unit_sheet(const UnitFamily& family, const std::string& text) {
  // Halves come from squares.
  const bool square = !family.strips && (std::abs(family.ratio - 1) < 1e-9 || family.units_per_sheet == 2);
  if (const auto side = parse_length(text); side && !family.strips) {
    if (!(side->value >= 1 && side->value <= 100'000))
      return Error{fmt::format("{}: type a size from 1 mm to 100 m", clipped(shown_text(text), 60))};
    return UnitSheet{side->value, side->value * (square ? 1 : family.ratio)};
  }
  const auto sheet = parse_sheet(text);
  if (!sheet) return Error{sheet.error()};
  if (!sheet->has_right_corners() || (square && std::abs(sheet->width() / sheet->height() - 1) > 1e-6))
    return Error{fmt::format("{}: {} is folded from {}", clipped(shown_text(text), 60), family.name,
                             square ? "a square, as square:75mm" : "a rectangle, as 75x106mm")};
  return UnitSheet{sheet->width(), sheet->height()};
}

Result<UnitPlan> unit_plan(const UnitWish& wish, const Progress* progress) {
  const auto family = unit_family(wish.family, wish.own);
  if (!family) return no_such_unit(wish.family, wish.own);
  auto solid = parse_solid(wish.solid, progress);
  if (!solid) return Error{solid.error()};
  if (wish.colours < 1 || wish.colours > 24) return Error{"colours are 1 to 24"};
  UnitPlan plan;
  plan.family = family;
  plan.sheet = wish.sheet.value_or(normal_sheet(*family));
  const UnitFit fit = family->fit(*solid, plan.sheet);
  if (!fit.refusal.empty())
    return Error{
        fmt::format("{} does not make {}: {}", family->name, clipped(shown_text(wish.solid), 60), fit.refusal)};
  plan.warnings = fit.warnings;
  plan.worst_miss_deg = fit.worst_miss_deg;
  const double across = outside_diameter(*solid, *family);
  if (wish.finished_mm && !(*wish.finished_mm > 0 && *wish.finished_mm <= 1e6))
    return Error{"the finished size must be a length above 0 and at most 1 km"};
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
  if (wish.solid.starts_with("equal(")) plan.bend = bend_of_faces(*solid);
  if (plan.bend && plan.bend->worst_deg > most_bend_deg)
    return Error{
        fmt::format("its joints would have to give by up to {:.1f} degrees, and paper takes about {:.0f}; take a "
                    "smaller ball",
                    plan.bend->worst_deg, most_bend_deg)};
  plan.hold = hold_of(*family);
  plan.ridges = ridges_of(*solid, *family);
  if (plan.graph.units.size() > 5000)
    return Error{fmt::format("{} units are more than 5000; take a smaller solid", plan.graph.units.size())};
  plan.solid = std::move(solid).value();
  for (Point3& v : plan.solid.vertices) v *= plan.edge_mm;
  // A strip of one's own is kept; else it is as long as its longest piece, if that is longer than a common sheet.
  for (const Unit& u : plan.graph.units)
    if (family->strips && !wish.sheet) plan.sheet.width_mm = std::max(plan.sheet.width_mm, u.width_mm);
  if (const auto ok = colour(plan, wish, progress); !ok) return Error{ok.error()};
  recolour(plan, wish.by_hand, wish.colours);
  auto cutting = cutting_of(plan, wish);
  if (!cutting) return Error{cutting.error()};
  plan.cutting = std::move(cutting).value();
  warn_of_paper(plan, *family, wish);
  plan.assembly = assembly_order(plan.graph);
  return plan;
}

} // namespace uc
