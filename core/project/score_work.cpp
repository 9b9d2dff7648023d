#include "project/score_work.h"

#include "crease/carrier_lines.h"
#include "project/parts.h"

namespace uc {
namespace {

EdgeKind kind_of(Fold fold) {
  switch (fold) {
  case Fold::valley:
    return EdgeKind::valley;
  case Fold::mountain:
    return EdgeKind::mountain;
  case Fold::undirected:
    break;
  }
  return EdgeKind::undirected;
}

/// All creases the moves leave, pinches among them.
CreasePattern creases_left(const Programme& programme) {
  CreasePattern out;
  const auto add = [&](const Segment& s, EdgeKind kind) {
    const auto first = static_cast<std::int64_t>(out.vertices.size());
    out.vertices.insert(out.vertices.end(), {s.from, s.to});
    out.edges.emplace_back(first, first + 1, kind);
  };
  for (const SheetState::Crease& crease : state_after(programme, static_cast<int>(programme.moves.size())).creases) {
    for (const Segment& s : crease.spans) add(s, kind_of(crease.fold));
    for (const Segment& s : crease.reversed) add(s, turned_over(kind_of(crease.fold)));
  }
  return out;
}

} // namespace

Polygon scored_sheet(const CreasePattern& pattern) {
  Polygon outline = convex_outline(pattern);
  if (!outline.empty()) return outline;
  const Box box = bounding_box(pattern.vertices);
  return {box.low, {box.high.x(), box.low.y()}, box.high, {box.low.x(), box.high.y()}};
}

Result<ScoreWork> score_work(const Project& project) {
  const FoldedWork work = folded_work(project);
  if (!folds_plan(work))
    return Error{"Steps and units are folded through layers and cannot be scored on one bare sheet; choose a pattern "
                 "or a grid under What to fold."};
  if (folds_creases(work)) {
    const DrawnPattern drawn = answer(drawn_key(project));
    return ScoreWork{drawn.healed.pattern, scored_sheet(drawn.healed.pattern)};
  }
  ScoreWork out{creases_left(project.programme), planned_sheet(project).outline()};
  if (out.pattern.edges.empty()) return Error{"There is no crease to score; add a grid or a pattern first."};
  return out;
}

} // namespace uc
