#include "programme/unit_figure.h"

#include "programme/naming.h"

#include <algorithm>

namespace uc {
namespace {

const Move* move_at(const Programme& programme, int index) {
  return index >= 0 && index < static_cast<int>(programme.moves.size())
             ? &programme.moves[static_cast<std::size_t>(index)]
             : nullptr;
}

/// "unit 7 (pine)"; the colour is told where there are several.
std::string unit_name(const Programme& programme, int unit, const TextStyle& style) {
  const std::string number = name_in_text(style, std::to_string(unit + 1));
  if (!programme.units || programme.units->colours.size() < 2) return say(style, "unit {number}", {{"number", number}});
  const UnitMap& map = *programme.units;
  const auto colour = static_cast<std::size_t>(map.units[static_cast<std::size_t>(unit)].colour);
  return say(style, "unit {number} ({colour})", {{"number", number}, {"colour", map.colours[colour].name}});
}

std::string listed(const std::vector<std::string>& items, const TextStyle& style) {
  std::string out;
  for (std::size_t i = 0; i < items.size(); ++i) {
    if (i > 0) out += i + 1 == items.size() ? " " + say(style, "and") + " " : ", ";
    out += items[i];
  }
  return out;
}

std::vector<std::string> partners(const Programme& programme, const Join& join, TabWay tab, const TextStyle& style) {
  std::vector<std::string> out;
  for (const Join::Partner& p : join.to)
    if (p.tab == tab) out.push_back(unit_name(programme, p.unit, style));
  return out;
}

} // namespace

std::string colour_letter(int colour) { return std::string(1, static_cast<char>('a' + colour % 26)); }

bool shows_units(const Programme& programme, int index) {
  if (!programme.units || programme.units->units.empty() || index < 0) return false;
  const Move* move = move_at(programme, index);
  return !move || move->is<FoldUnit>() || move->is<Join>();
}

Figure unit_figure(const Programme& programme, int index, const std::vector<int>& /*skipped*/) {
  const UnitMap& map = *programme.units;
  const Move* move = move_at(programme, index);
  const auto* fold = move ? std::get_if<FoldUnit>(&move->effect) : nullptr;
  const auto* join = move ? std::get_if<Join>(&move->effect) : nullptr;
  const int here = fold ? fold->unit : join ? join->unit : -1;
  std::vector<char> done(map.units.size(), move ? 0 : 1);
  for (int i = 0; i < index; ++i) {
    const Effect& effect = programme.moves[static_cast<std::size_t>(i)].effect;
    const auto* folded = std::get_if<FoldUnit>(&effect);
    const auto* joined = std::get_if<Join>(&effect);
    if (fold && folded) done[static_cast<std::size_t>(folded->unit)] = 1;
    if (join && joined) done[static_cast<std::size_t>(joined->unit)] = 1;
  }
  Figure figure;
  std::vector<Point> all;
  // What is large lies below: the outermost face's unit is drawn round the others.
  std::vector<std::size_t> order(map.units.size());
  for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
  std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
    return std::abs(signed_area(map.units[a].outline)) > std::abs(signed_area(map.units[b].outline));
  });
  for (const std::size_t u : order) {
    const UnitMap::Place& place = map.units[u];
    const std::size_t n = place.outline.size();
    all.insert(all.end(), place.outline.begin(), place.outline.end());
    const bool own = static_cast<int>(u) == here;
    const bool meets = join && std::any_of(join->to.begin(), join->to.end(),
                                           [&](const Join::Partner& p) { return p.unit == static_cast<int>(u); });
    if (own || done[u]) {
      const LineStyle rim = own ? LineStyle::moving : meets ? LineStyle::target : LineStyle::raw_edge;
      figure.patches.push_back({place.outline, false, map.colours[static_cast<std::size_t>(place.colour)].css,
                                std::vector<LineStyle>(n, rim)});
    } else { // still to come: an outline, without paper
      for (std::size_t i = 0; i < n; ++i)
        figure.lines.push_back({{place.outline[i], place.outline[(i + 1) % n]}, LineStyle::undirected});
    }
    Point middle = Point::Zero();
    for (const Point& p : place.outline) middle += p / static_cast<double>(n);
    const bool all_named = !move && map.units.size() <= 400;
    // On the map of all with a letter for its colour, which a print may lack.
    const std::string letter = all_named && map.colours.size() > 1 ? colour_letter(place.colour) : "";
    if (own || meets || all_named)
      figure.labels.push_back({middle, std::to_string(u + 1) + letter, true, all_named, !all_named});
  }
  figure.to_scale = false;
  const Box box = bounding_box(all);
  figure.outline = {box.low, {box.high.x(), box.low.y()}, box.high, {box.low.x(), box.high.y()}};
  return figure;
}

std::string fold_unit_text(const Programme& programme, const FoldUnit& fold, const TextStyle& style) {
  const std::string of = programme.units ? std::to_string(programme.units->units.size()) : "?";
  return say(style, "Fold {unit} of {count}.", {{"unit", unit_name(programme, fold.unit, style)}, {"count", of}});
}

std::string fold_unit_check(const Programme& programme, const FoldUnit& fold, const TextStyle& style) {
  if (fold.unit == 0) return say(style, "Keep the first one beside you, to compare.");
  return programme.units && programme.units->handed
             ? say(style, "Lay it on the first one: the same size, and the same hand.")
             : say(style, "Lay it on the first one: the same size.");
}

std::string join_text(const Programme& programme, const Join& join, const TextStyle& style) {
  if (!programme.units) return say(style, "Join the units.");
  const std::string unit = unit_name(programme, join.unit, style);
  if (join.to.empty()) return say(style, "Lay {unit} before you.", {{"unit", unit}});
  const auto out = partners(programme, join, TabWay::out, style);
  const auto in = partners(programme, join, TabWay::in, style);
  const auto any = partners(programme, join, TabWay::any, style);
  std::vector<std::string> sentences;
  if (!any.empty())
    sentences.push_back(say(style, join.glued ? "Glue {unit} to {others}." : "Join {unit} to {others}.",
                            {{"unit", unit}, {"others", listed(any, style)}}));
  else
    sentences.push_back(say(style, "Take {unit}.", {{"unit", unit}}));
  if (!out.empty()) sentences.push_back(say(style, "Its tab goes into {others}.", {{"others", listed(out, style)}}));
  if (!in.empty())
    sentences.push_back(say(style, "Its pocket takes the tab of {others}.", {{"others", listed(in, style)}}));
  std::string text;
  for (const std::string& s : sentences) text += (text.empty() ? "" : " ") + s;
  return text;
}

std::string join_check(const Programme& programme, const Join& join, const TextStyle& style) {
  if (!programme.units || join.closes.empty()) return {};
  const std::string all = std::to_string(programme.units->rings);
  const std::string now = std::to_string(join.rings_closed);
  if (join.closes.size() == 1)
    return say(style, "A ring of {size} closes; {now} of {all} are closed now.",
               {{"size", std::to_string(join.closes[0])}, {"now", now}, {"all", all}});
  std::vector<std::string> sizes;
  for (const int n : join.closes) sizes.push_back(std::to_string(n));
  return say(style, "Rings of {sizes} close; {now} of {all} are closed now.",
             {{"sizes", listed(sizes, style)}, {"now", now}, {"all", all}});
}

} // namespace uc
