#include "project/expected_miss.h"

#include "project/piece.h"
#include "reference/polygon.h"
#include "reference/proportion.h"
#include "reference/recipe.h"
#include "reference/route.h"
#include "reference/target.h"

namespace uc {

std::optional<double> expected_miss_mm(const Project& project, std::size_t reference) {
  if (reference >= project.references.size()) return std::nullopt;
  const PlannedReference& r = project.references[reference];
  const Polygon sheet = piece_of(project, r.of_piece ? reference : 0).sheet.outline();
  const auto recipe = parse_recipe(sheet, r.recipe);
  if (!recipe || recipe->results.empty()) return std::nullopt;
  const Construction& c = recipe->construction;
  const ConstructionErrors errors(c, project.hand.sigma_mm);
  if (!errors.determined()) return std::nullopt;
  if (r.cut && r.target.starts_with("1:")) {
    const auto ratio = parse_ratio(r.target.substr(2));
    return ratio ? trim_miss_mm(c, errors, recipe->results, *ratio) : std::nullopt;
  }
  if (r.cut) {
    const auto polygon = judged_polygon(r.title, c, recipe->results, project.hand.sigma_mm);
    return polygon ? std::optional(polygon->shape_mm) : std::nullopt;
  }
  const auto target = parse_target(sheet, r.target);
  if (!target || recipe->results.size() != 1) return std::nullopt;
  const int result = recipe->results.front();
  const bool line = target->kind == Target::Kind::line || target->kind == Target::Kind::angle;
  if (c[result].is_line() != line) return std::nullopt;
  JudgeOptions judge;
  judge.sigma_mm = project.hand.sigma_mm;
  const auto route = judged(c, result, *target, judge);
  return route ? std::optional(route->total_mm()) : std::nullopt;
}

} // namespace uc
