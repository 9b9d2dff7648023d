#include "stages/mark/mark_search.h"

#include <algorithm>
#include <map>

namespace uc::app {
namespace {

Findings failed(const std::string& why) {
  Findings f;
  f.error = why;
  return f;
}

/// Every way of one kind with its moves.
template <class Way>
void add(Findings& findings, std::vector<Way> ways, const HandProfile& hand, std::optional<Way> Finding::*place) {
  for (Way& way : ways) {
    Finding one;
    one.programme = programme_of(way, hand);
    one.*place = std::move(way);
    findings.list.push_back(std::move(one));
  }
}

Findings find_references(const MarkRequest& r, IndexStore& indexes, Progress& progress) {
  const auto target = parse_target(r.sheet, r.target, r.unit);
  if (!target) return failed(target.error());
  if (const auto ok = check_search(r.sheet, *target, r.options); !ok) return failed(ok.error());
  const auto index = indexes.get(r.sheet, &progress);
  if (!index) return failed(index.error());
  auto routes = find_routes(**index, r.sheet, *target, r.options);
  if (!routes) return failed(routes.error());
  // Ways that work alike stand together, the group of the best one first.
  std::map<std::string_view, std::size_t> first;
  for (std::size_t i = 0; i < routes->size(); ++i) first.emplace((*routes)[i].idea, i);
  std::vector<Route> sorted = std::move(routes).value();
  std::stable_sort(sorted.begin(), sorted.end(),
                   [&](const Route& a, const Route& b) { return first.at(a.idea) < first.at(b.idea); });
  Findings f;
  f.target = *target;
  f.asked = r.target;
  add(f, std::move(sorted), r.hand, &Finding::route);
  return f;
}

Findings find_polygons(const MarkRequest& r, IndexStore& indexes, Progress& progress) {
  const auto index = indexes.get(r.sheet, &progress);
  if (progress.cancelled()) return failed(index ? "" : index.error());
  auto methods = polygon_methods(r.sheet, r.sides, r.hand.sigma_mm, index ? index->get() : nullptr);
  if (!methods) return failed(methods.error());
  Findings f;
  f.largest = largest_polygon(r.sheet, r.sides);
  add(f, std::move(methods).value(), r.hand, &Finding::polygon);
  return f;
}

Findings find_trims(const MarkRequest& r, IndexStore& indexes, Progress& progress) {
  const auto ratio = parse_ratio(r.ratio);
  if (!ratio) return failed(ratio.error());
  const auto index = indexes.get(r.sheet, &progress);
  if (!index) return failed(index.error());
  auto trims = trims_to(**index, r.sheet, *ratio, r.options);
  if (!trims) return failed(trims.error());
  Findings f;
  f.target = trims->front().route.target;
  add(f, std::move(trims).value(), r.hand, &Finding::trim);
  return f;
}

Findings judge_recipe(const MarkRequest& r) {
  auto recipe = parse_recipe(r.sheet, r.recipe);
  if (!recipe) return failed(recipe.error());
  Findings f;
  Finding one;
  const std::vector<int>& results = recipe->results;
  if (results.size() >= 3) {
    auto polygon = judged_polygon("own recipe", recipe->construction, results, r.hand.sigma_mm);
    if (!polygon) return failed(polygon.error());
    one.programme = programme_of(*polygon, r.hand);
    f.largest = largest_polygon(r.sheet, static_cast<int>(results.size()));
    one.polygon = std::move(polygon).value();
  } else if (!r.target.empty()) {
    const auto target = parse_target(r.sheet, r.target, r.unit);
    if (!target) return failed(target.error());
    const bool line = target->kind == Target::Kind::line || target->kind == Target::Kind::angle;
    if (recipe->construction[results[0]].is_line() != line)
      return failed(line ? "The recipe ends in a mark, but a line is wanted; name a crease as its result."
                         : "The recipe ends in a line, but a mark is wanted; name a crossing as its result.");
    auto route = judged(recipe->construction, results[0], *target, {r.hand.sigma_mm, r.options.keep_clean});
    if (!route) return failed("Some fold of the recipe does not fix its crease; choose other marks.");
    route->idea = "own recipe";
    one.programme = programme_of(*route, r.hand);
    one.route = std::move(*route);
    f.target = *target;
  } else {
    Recipe bare = *recipe;
    bare.construction = recipe->construction.reduced_to(bare.results);
    const ConstructionErrors errors(bare.construction, r.hand.sigma_mm);
    if (!errors.determined()) return failed("Some fold of the recipe does not fix its crease; choose other marks.");
    one.programme =
        programme_of(bare.construction, needs_of(bare.construction, bare.results, errors), bare.results, r.hand);
    one.bare = std::move(bare);
  }
  f.list.push_back(std::move(one));
  return f;
}

} // namespace

const Construction& Finding::construction() const {
  if (route) return route->construction;
  if (polygon) return polygon->construction;
  if (trim) return trim->construction;
  return bare->construction;
}

std::vector<int> Finding::results() const {
  if (route) return {route->result};
  if (polygon) return polygon->vertices;
  if (trim) return {trim->cut};
  return bare->results;
}

bool Finding::exact() const {
  if (route) return route->exact;
  if (polygon) return polygon->exact;
  return trim && trim->exact;
}

double Finding::error_mm() const {
  if (route) return route->error_mm;
  if (polygon) return polygon->side_max_mm - polygon->side_min_mm;
  return trim ? trim->error_mm : 0;
}

double Finding::sigma_mm(double hand_sigma_mm) const {
  if (route) return route->sigma_mm;
  if (polygon) return polygon->sigma_mm;
  if (trim) return trim->sigma_mm;
  const ConstructionErrors errors(bare->construction, hand_sigma_mm);
  const ConstructionItem& item = bare->construction[bare->results[0]];
  if (!item.is_line()) return errors.sigma_of_point(bare->results[0]);
  return errors.distances(bare->results[0], item.line, {item.chord.from, item.chord.to}).rowwise().norm().maxCoeff();
}

double Finding::miss_mm(double hand_sigma_mm) const {
  if (polygon) return polygon->shape_mm;
  return std::hypot(error_mm(), sigma_mm(hand_sigma_mm));
}

double Finding::scar_mm() const {
  double scar = 0;
  for (const Move& m : programme.moves) {
    for (const Segment& s : m.creases().spans) scar += s.length();
  }
  return scar;
}

Findings find(const MarkRequest& request, IndexStore& indexes, Progress& progress) {
  switch (request.wish) {
  case Wish::reference:
    return find_references(request, indexes, progress);
  case Wish::polygon:
    return find_polygons(request, indexes, progress);
  case Wish::proportion:
    return find_trims(request, indexes, progress);
  case Wish::recipe:
    return judge_recipe(request);
  }
  return {};
}

} // namespace uc::app
