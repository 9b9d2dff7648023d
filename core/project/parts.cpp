#include "project/parts.h"

#include "pattern/family.h"
#include "programme/naming.h"
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
  return {worked_sheet(project).code(), true_scale(project.sheet, project.trueness), project.pattern, project.hand,
          spec};
}

namespace {

/// Families with lengths of their own keep them; the others are as large as the sheet.
bool brings_lengths(const PatternDesign& design) {
  const PatternFamily* family = design.family ? find_pattern_family(design.family->name) : nullptr;
  return family && family->own_sheet;
}

/// The pattern as large as the sheet was measured to be.
CreasePattern true_pattern(const DrawnPattern& drawn, const PatternDesign& design, double scale) {
  CreasePattern pattern = drawn.healed.pattern;
  if (!brings_lengths(design))
    for (Point& vertex : pattern.vertices) vertex *= scale;
  return pattern;
}

} // namespace

double scale_of_pattern(const Project& project) {
  return brings_lengths(project.pattern) ? 1 : true_scale(project.sheet, project.trueness);
}

Result<CutFrom> piece_of_pattern(const Project& project, const DrawnPattern& drawn) {
  return cut_from(worked_sheet(project).outline(),
                  true_pattern(drawn, project.pattern, true_scale(project.sheet, project.trueness)),
                  brings_lengths(project.pattern));
}

Result<Precrease> answer(const CreasesKey& key, const DrawnPattern& drawn, Progress* progress) {
  const auto sheet = parse_sheet(key.sheet);
  if (!sheet) return Error{sheet.error()};
  if (drawn.healed.pattern.edges.empty() && !drawn.wrong.empty()) return Error{drawn.wrong.front().sentence};
  if (!drawn.healed.crossings.empty()) return Error{"Creases cross without a vertex; mend them first."};
  CreasePattern pattern = true_pattern(drawn, key.pattern, key.scale);
  const bool movable = brings_lengths(key.pattern);
  const auto from = cut_from(sheet->outline(), pattern, movable);
  if (!from) return Error{from.error()};
  const Isometry back = from->place.inverse();
  Polygon on = from->piece;
  for (Point& p : on) p = back * p;
  auto made = precrease(pattern, key.hand, key.spec, drawn.design.grid == PatternGrid::square ? drawn.design.count : 0,
                        progress, on);
  if (!made || from->moves.moves.empty()) return made;
  Precrease out = std::move(made).value();
  Programme all = from->moves;
  append(all, placed(std::move(out.programme), from->place));
  out.programme = lettered(std::move(all));
  out.minutes = out.programme.planned_seconds() / 60;
  return out;
}

MovesKey moves_key(const Project& project) {
  const FoldedWork work = folded_work(project);
  MovesKey key{work, division_key(project), std::nullopt, project.references, {}, 0, {}, {}, {}, {}};
  if (folds_creases(work)) key.creases = creases_key(project, project.pre_crease);
  if (work == FoldedWork::closed) {
    key.closing = project.closing;
    key.closing->held.reset();
    key.closed = drawn_key(project);
    key.stock = project.stock;
  }
  if (work == FoldedWork::units) key.units = project.units;
  if (work == FoldedWork::steps) {
    key.steps = project.steps;
    key.caliper_mm = project.stock.caliper_mm;
  }
  return key;
}

} // namespace uc
