#include "project/parts.h"

#include "project/piece.h"

namespace uc {

DivisionKey division_key(const Project& project) { return {worked_sheet(project).code(), project.grid, project.hand}; }

Status check(const DivisionKey& key) {
  if (const auto ok = check_spec(key.grid, key.hand); !ok) return ok;
  if (const auto ok = checked(key.hand); !ok) return Error{ok.error()};
  return Done{};
}

Result<Division> answer(const DivisionKey& key) {
  auto sheet = parse_sheet(key.sheet);
  if (!sheet) return Error{sheet.error()};
  return divide(*sheet, key.grid, key.hand);
}

DrawnKey drawn_key(const Project& project) { return {drawn_sheet(project).code(), project.pattern}; }

DrawnPattern answer(const DrawnKey& key) {
  const auto sheet = parse_sheet(key.sheet);
  return drawn_pattern(key.pattern, sheet ? sheet->outline() : Polygon{});
}

CreasesKey creases_key(const Project& project, const PrecreaseSpec& spec) {
  return {project.sheet.code(), project.trueness, project.pattern, project.hand, spec};
}

Result<Precrease> answer(const CreasesKey& key, const DrawnPattern& drawn, Progress* progress) {
  Project project;
  auto sheet = parse_sheet(key.sheet);
  if (!sheet) return Error{sheet.error()};
  project.sheet = std::move(sheet).value();
  project.trueness = key.trueness;
  project.pattern = key.pattern;
  project.hand = key.hand;
  project.pre_crease = key.spec;
  return precrease_of(project, drawn, progress);
}

bool folds_creases(const Project& project) {
  return !project.units.folded && project.steps.empty() && project.pre_crease && !project.pattern.empty();
}

MovesKey moves_key(const Project& project) {
  MovesKey key{
      division_key(project), std::nullopt, project.references, project.grid_follows, project.steps, 0, {}, {}, {}, {}};
  if (folds_creases(project)) key.creases = creases_key(project, *project.pre_crease);
  if (project.closing.folded) {
    key.closing = way_of(project.closing);
    key.closed = drawn_key(project);
    key.stock = project.stock;
  }
  if (project.units.folded) key.units = project.units;
  if (!project.steps.empty()) key.caliper_mm = project.stock.caliper_mm;
  return key;
}

} // namespace uc
