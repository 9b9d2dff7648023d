#include "fold/folds/named_fold.h"

#include "base/index.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

/// The edges of the pattern on a named crease; between two points only those that lie there, on the bare sheet.
std::vector<CreaseId> edges_on(const Scene& scene, const StepCrease& wish) {
  const PieceForm& form = scene.form();
  const auto crease = scene.names().crease_named(wish.name);
  if (!crease) {
    if (scene.names().known(wish.name)) throw NotMade{fmt::format("{} is not a crease", wish.name), true};
    throw NotMade{scene.names().unknown(wish.name), true};
  }
  std::optional<Segment> within;
  if (!wish.from.empty()) within = Segment{scene.point(wish.from).on_sheet, scene.point(wish.to).on_sheet};
  if (within && within->length() < scene.near())
    throw NotMade{fmt::format("{} and {} are one point; name two on the crease", wish.from, wish.to)};
  std::vector<CreaseId> edges;
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const int line = form.line_of[e];
    if (line < 0 || scene.names().crease_of(line) != *crease) continue;
    if (within) {
      const Point d = within->to - within->from;
      const double along = d.dot(form.pattern.segment(CreaseId(e)).middle() - within->from) / d.squaredNorm();
      if (along < 0 || along > 1) continue;
    }
    edges.emplace_back(e);
  }
  if (edges.empty())
    throw NotMade{within
                      ? fmt::format("{} has no crease between {} and {}", wish.name, wish.from, wish.to)
                      : fmt::format("{} is a pinch; only creases that run through the paper can be folded", wish.name)};
  return edges;
}

} // namespace

/// All of the named creases are folded at once, those with a direction as it is said, the others as they come.
NamedFolding collapse_on_creases(const Scene& scene, const StepLine& step, int) {
  const PieceForm& form = scene.form();
  std::vector<CreaseId> folded;
  std::vector<std::pair<CreaseId, EdgeKind>> senses;
  for (const StepCrease& wish : step.creases) {
    for (const CreaseId e : edges_on(scene, wish)) {
      folded.push_back(e);
      if (wish.way == FoldWay::either) continue;
      // A valley is one as the folder sees it; the pattern names it by the coloured side.
      const bool valley = (wish.way == FoldWay::valley) != scene.from_behind();
      bool underside = false;
      for (const int f : form.graph.sides[at(e)]) underside = underside || form.form.flipped[at(f)] != 0;
      senses.emplace_back(e, valley != underside ? EdgeKind::valley : EdgeKind::mountain);
    }
  }
  if (std::all_of(folded.begin(), folded.end(), [&](CreaseId e) { return folds(form.pattern.edges[at(e)].kind); }) &&
      senses.empty())
    throw NotMade{"all of these creases are folded already"};
  FaceId stays = largest_part(form, folded);
  if (!step.flap.empty()) stays = faces_at(form, scene.point(step.flap).on_sheet).front();
  NamedFolding out;
  out.then = [=](const PieceForm& creased, const std::vector<FaceId>&) {
    Refolding to;
    auto place = places_after(creased, folded, {}, stays);
    if (!place) throw NotMade{place.error()};
    to.place = std::move(place).value();
    to.senses = senses;
    return to;
  };
  return out;
}

} // namespace uc
