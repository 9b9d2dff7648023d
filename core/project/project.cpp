#include "project/project.h"

#include "collapse/closing_programme.h"
#include "fold/step_programme.h"
#include "programme/naming.h"
#include "programme/presence.h"
#include "project/parts.h"
#include "project/piece.h"
#include "reference/construction_programme.h"
#include "reference/recipe.h"
#include "unit/unit_programme.h"

namespace uc {

Sheet planned_sheet(const Project& project) {
  return project.sheet.scaled(true_scale(project.sheet, project.trueness));
}

Result<Division> division_of(const Project& project) {
  return divide(worked_sheet(project), project.grid, project.hand);
}

Result<Precrease> creases_of(const Project& project, const DrawnPattern& drawn, Progress* progress) {
  return answer(creases_key(project, project.pre_crease), drawn, progress);
}

PlannedMoves planned_moves(const Project& project, const Division& division) {
  if (!folds_creases(folded_work(project))) return planned_moves(project, division, nullptr);
  const auto plan = creases_of(project, drawn_pattern(project.pattern, drawn_sheet(project).outline()));
  PlannedMoves out = planned_moves(project, division, plan ? &*plan : nullptr);
  if (!plan) out.left_out.push_back(plan.error());
  return out;
}

Programme planned_programme(const Project& project, const Division& division) {
  return planned_moves(project, division).programme;
}

Result<UnitWish> wish_of(const UnitJob& job, const Stock& stock) {
  UnitWish wish;
  wish.family = job.family;
  wish.solid = job.solid;
  wish.own = job.own;
  if (job.finished_mm > 0) {
    wish.finished_mm = job.finished_mm;
  } else {
    auto sheet = unit_sheet(job.family, job.sheet, job.own);
    if (!sheet) return Error{sheet.error()};
    wish.sheet = *sheet;
  }
  if (!job.from.empty()) {
    const auto from = parse_sheet(job.from);
    if (!from) return Error{from.error()};
    if (!from->has_right_corners()) return Error{"pieces are cut from rectangles; type a size such as a4"};
    wish.from = UnitSheet{from->width(), from->height()};
    wish.margin_mm = job.margin_mm;
    wish.keep_grain = job.keep_grain;
  }
  wish.colours = job.colours;
  wish.variant = job.variant;
  wish.symmetry = job.symmetry;
  wish.bands = job.bands;
  wish.by_hand = job.by_hand;
  wish.caliper_mm = stock.caliper_mm;
  wish.largest_mm = stock.largest_mm;
  wish.stock = stock.name;
  return wish;
}

bool can_fold(const Project& project, FoldedWork work) {
  switch (work) {
  case FoldedWork::references:
    return !project.references.empty();
  case FoldedWork::creases:
  case FoldedWork::closed:
    return !project.pattern.empty();
  case FoldedWork::steps:
    return !project.steps.empty();
  case FoldedWork::grid:
  case FoldedWork::units:
    break;
  }
  return true;
}

FoldedWork folded_work(const Project& project) {
  return can_fold(project, project.folded) ? project.folded : FoldedWork::grid;
}

namespace {

/// A reference on the piece that what comes before it leaves, with its results.
struct MadeReference {
  Piece piece;
  Construction construction;
  std::vector<int> results;
};

/// Nothing where it does not fit.
std::optional<MadeReference> made_reference(const Project& project, std::size_t i) {
  const PlannedReference& r = project.references[i];
  MadeReference out{r.of_piece ? piece_of(project, i) : piece_of(project, 0), {}, {}};
  const auto recipe = parse_recipe(out.piece.sheet.outline(), r.recipe);
  if (!recipe) return std::nullopt;
  out.results = recipe->results;
  out.construction = recipe->construction.reduced_to(out.results);
  if (!ConstructionErrors(out.construction, project.hand.sigma_mm).determined()) return std::nullopt;
  return out;
}

} // namespace

std::vector<std::string> left_out_references(const Project& project) {
  std::vector<std::string> out;
  for (std::size_t i = 0; i < project.references.size(); ++i)
    if (!made_reference(project, i)) out.push_back(project.references[i].title);
  return out;
}

namespace {

/// Everything that is folded on the flat sheet: references, then the creases of the pattern or the grid.
Programme flat_moves(const Project& project, const Division& division, const Precrease* creases) {
  const FoldedWork work = folded_work(project);
  const Programme* then = creases ? &creases->programme : work == FoldedWork::grid ? &division.programme : nullptr;
  if (project.references.empty() && then) return lettered(*then);
  Programme all;
  all.sheet = planned_sheet(project).outline();
  for (std::size_t i = 0; i < project.references.size(); ++i) {
    auto made = made_reference(project, i);
    if (!made) continue;
    const Construction& c = made->construction;
    std::vector<int>& results = made->results;
    const ConstructionErrors errors(c, project.hand.sigma_mm);
    Programme one =
        programme_of(c, needs_of(c, results, errors), results, project.hand, reference_plan(static_cast<int>(i)));
    if (project.references[i].cut) add_cut(one, c, results, errors);
    append(all, placed(std::move(one), made->piece.place));
  }
  if (then) append(all, placed(*then, piece_of(project).place));
  return lettered(std::move(all));
}

PlannedMoves unit_moves(const Project& project, Progress* progress) {
  const auto wish = wish_of(project.units, project.stock);
  const auto plan = wish ? unit_plan(*wish, progress) : Result<UnitPlan>(Error{wish.error()});
  if (plan) return {unit_programme(*plan, project.units.palette, project.hand), {}};
  PlannedMoves nothing;
  nothing.programme.sheet = planned_sheet(project).outline();
  nothing.left_out.push_back(plan.error());
  return nothing;
}

/// With its places on a sheet so many times as large.
ClosingPlan scaled(ClosingPlan plan, double scale) {
  for (ClipPlace& clip : plan.clips) {
    clip.x_mm *= scale;
    clip.y_mm *= scale;
  }
  if (plan.end)
    for (auto& [x, y] : plan.end->pushed_mm) {
      x *= scale;
      y *= scale;
    }
  return plan;
}

/// The stages that close the pattern as large as the sheet was measured to be, told on the whole sheet.
Result<Programme> closing_of(const Project& project, Progress* progress) {
  const DrawnPattern typed = drawn_pattern(project.pattern, drawn_sheet(project).outline());
  const double scale = scale_of_pattern(project);
  DrawnPattern drawn = typed;
  for (Point& p : drawn.healed.pattern.vertices) p *= scale;
  for (HeldFlat& held : drawn.held)
    for (Point& p : held.part) p *= scale;
  auto closing = closing_programme(drawn, scaled(project.closing, scale), project.stock, progress);
  if (!closing) return Error{closing.error()};
  const auto from = piece_of_pattern(project, typed);
  if (!from) return Error{from.error()};
  return placed(std::move(closing).value(), piece_of(project).place * from->place);
}

} // namespace

PlannedMoves planned_moves(const Project& project, const Division& division, const Precrease* creases,
                           Progress* progress) {
  const FoldedWork work = folded_work(project);
  if (work == FoldedWork::units) return unit_moves(project, progress);
  if (work == FoldedWork::steps) {
    std::string source = with_sheet(project.steps, planned_sheet(project));
    auto folded = folded_steps(source);
    if (folded)
      return {programme_of(std::move(folded).value(), project.hand, std::move(source), project.stock.caliper_mm), {}};
    PlannedMoves nothing;
    nothing.programme.sheet = planned_sheet(project).outline();
    nothing.left_out.push_back(folded.error());
    return nothing;
  }
  PlannedMoves out{flat_moves(project, division, creases), {}};
  // What has not been creased cannot be closed.
  if (work != FoldedWork::closed || !creases) return out;
  auto closing = closing_of(project, progress);
  if (!closing) {
    out.left_out.push_back(closing.error());
    return out;
  }
  PlannedMoves whole = out;
  append(whole.programme, *closing);
  // No move closes what no earlier move has put there.
  if (absences(whole.programme).empty()) return whole;
  out.left_out.emplace_back(
      "The creases that are planned do not cover the pattern, so it is not closed; choose another "
      "way to put them on the paper.");
  return out;
}

} // namespace uc
