#include "unit/unit_programme.h"

#include "base/index.h"
#include "unit/flat_map.h"

#include <algorithm>

namespace uc {
namespace {

constexpr double seconds_for_a_cut = 30;
constexpr double seconds_for_a_joint = 20;

Join join_of(const UnitPlan& plan, std::size_t step, const std::vector<char>& joined) {
  const AssemblyStep& s = plan.assembly[step];
  Join join;
  join.unit = s.add;
  for (std::size_t j = 0; j < plan.graph.joints.size(); ++j) {
    const auto& [a, b] = plan.graph.joints[j];
    if ((a != s.add && b != s.add) || !joined[at(a == s.add ? b : a)]) continue;
    const bool known = plan.hold == Hold::pocket && !plan.graph.tab_from.empty();
    const UnitId from = known ? plan.graph.tab_from[j] : UnitId();
    join.to.push_back({a == s.add ? b : a, from < 0 ? TabWay::any : from == s.add ? TabWay::out : TabWay::in});
  }
  for (const int r : s.closes) join.closes.push_back(static_cast<int>(plan.graph.rings[at(r)].units.size()));
  std::sort(join.closes.begin(), join.closes.end());
  join.rings_closed = s.rings_closed;
  join.glued = plan.hold == Hold::glue;
  return join;
}

} // namespace

const std::vector<UnitMap::Colour>& usual_palette() {
  static const std::vector<UnitMap::Colour> all = {
      {"amber", "#E0A000"}, {"river", "#2F6FD0"}, {"snow", "#F0F0F0"},  {"coal", "#3A3A3A"},   {"lilac", "#B9A3D6"},
      {"moss", "#5B6B1F"},  {"peach", "#F6A97A"}, {"night", "#1F3A6E"}, {"brick", "#C2542D"},  {"mint", "#7CC7B2"},
      {"plum", "#6E2F6B"},  {"sky", "#8FB9E8"},   {"rose", "#F2B8C0"},  {"copper", "#9A5B2E"}, {"sea", "#1E7F8C"},
      {"lemon", "#F5E663"}, {"wine", "#7D1D33"},  {"leaf", "#4F9E4B"},  {"steel", "#6C7F91"},  {"coral", "#E5736B"},
      {"teal", "#0E5A5A"},  {"straw", "#D8CFA0"}, {"lime", "#B5CF4A"},  {"violet", "#4A3A9E"}};
  return all;
}

std::vector<UnitMap::Colour> palette_of(const UnitPlan& plan, const std::vector<UnitMap::Colour>& own) {
  int most = 0;
  for (const int c : plan.colours.colour) most = std::max(most, c);
  std::vector<UnitMap::Colour> out;
  out.reserve(at(most) + 1);
  for (std::size_t c = 0; c <= at(most); ++c)
    out.push_back(c < own.size() ? own[c] : usual_palette()[c % usual_palette().size()]);
  return out;
}

UnitMap unit_map(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette) {
  UnitMap map;
  const int first = plan.assembly.empty() ? 0 : plan.assembly.front().add;
  const auto outlines = unit_outlines(plan.solid, plan.graph, first);
  map.units.reserve(outlines.size());
  for (std::size_t u = 0; u < outlines.size(); ++u) map.units.push_back({outlines[u], plan.colours.colour[u]});
  map.colours = palette_of(plan, palette);
  map.handed = plan.family->handed;
  map.rings = static_cast<int>(plan.graph.rings.size());
  return map;
}

Programme unit_programme(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette, const HandProfile& hand) {
  Programme out;
  const Point& sheet = plan.cutting.sheet_mm;
  out.sheet = {{0, 0}, {sheet.x(), 0}, sheet, {0, sheet.y()}};
  out.units = std::make_shared<const UnitMap>(unit_map(plan, palette));
  const auto add = [&](Effect effect, double seconds, Caution caution, RepeatPlace place) {
    Move move;
    move.effect = std::move(effect);
    move.seconds = seconds;
    move.caution = caution;
    move.repeat = place;
    out.moves.push_back(std::move(move));
  };
  const auto repeat = [&](int times) {
    out.repeats.push_back({RepeatWay::again, times});
    return static_cast<int>(out.repeats.size()) - 1;
  };
  std::vector<std::vector<Segment>> cuts;
  for (const auto& lines : plan.cutting.lines)
    if (!lines.empty()) cuts.push_back(lines);
  if (!cuts.empty()) {
    const int cutting = repeat(static_cast<int>(cuts.size()));
    for (std::size_t i = 0; i < cuts.size(); ++i) {
      const double seconds = seconds_for_a_cut * static_cast<double>(cuts[i].size());
      add(Cut{std::move(cuts[i])}, seconds, Caution::blade, {cutting, static_cast<int>(i) + 1});
    }
  }
  const int count = static_cast<int>(plan.graph.units.size());
  const int folding = repeat(count);
  // One colour after another, so that papers are not taken up and put down.
  std::vector<UnitId> order(at(count));
  for (UnitId u(0); u < count; ++u) order[at(u)] = u;
  std::stable_sort(order.begin(), order.end(),
                   [&](UnitId a, UnitId b) { return plan.colours.colour[at(a)] < plan.colours.colour[at(b)]; });
  for (int i = 0; i < count; ++i)
    add(FoldUnit{order[at(i)]}, plan.family->folds * hand.fold_seconds, Caution::none, {folding, i + 1});
  const int joining = repeat(count);
  std::vector<char> joined(at(count), 0);
  for (std::size_t i = 0; i < plan.assembly.size(); ++i) {
    Join join = join_of(plan, i, joined);
    joined[at(join.unit)] = 1;
    const double seconds = seconds_for_a_joint * static_cast<double>(std::max<std::size_t>(1, join.to.size()));
    const Caution caution = join.glued && !join.to.empty() ? Caution::glue : Caution::none;
    add(std::move(join), seconds, caution, {joining, static_cast<int>(i) + 1});
  }
  return out;
}

} // namespace uc
