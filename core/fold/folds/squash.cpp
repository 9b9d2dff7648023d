#include "fold/folds/flap.h"
#include "fold/folds/named_fold.h"

#include "base/index.h"
#include "fold/simple_fold.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

/// The folded edge that ends at the tip, the face above it and the one below.
struct FlapRidge {
  CreaseId edge;
  FaceId upper, lower;
  Line line; // as it lies
};

FlapRidge ridge_at(const Scene& scene, const SeenThing& tip, const std::string& name, const Line& hinge) {
  const PieceForm& form = scene.form();
  const double near = 2 * snap_tolerance(form.pattern);
  std::optional<FlapRidge> best;
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const PatternEdge& edge = form.pattern.edges[e];
    const auto [f, g] = form.graph.sides[e];
    if (f < 0 || g < 0 || !folds(edge.kind)) continue;
    const Point& from = form.pattern.vertices[at(edge.from)];
    const Point& to = form.pattern.vertices[at(edge.to)];
    if ((from - tip.on_sheet).norm() > near && (to - tip.on_sheet).norm() > near) continue;
    const Line line = Line::through(form.form.vertices[at(edge.from)], form.form.vertices[at(edge.to)]);
    if (!line.crossing(hinge)) continue;
    const bool first = form.above(FaceId(f), FaceId(g)) != scene.from_behind();
    const FlapRidge ridge{CreaseId(e), FaceId(first ? f : g), FaceId(first ? g : f), line};
    if (!best || uppermost(scene, {best->upper, ridge.upper}) == ridge.upper) best = ridge;
  }
  if (!best) throw NotMade{fmt::format("no folded edge runs from {} to the line", name)};
  return *best;
}

} // namespace

/// The flap stands on its hinge and is pressed down to both sides of it, so that its ridge comes to lie on the hinge.
/// Each of its two layers is creased half-way between hinge and ridge. With H the mirror of the hinge and M that of the
/// line between: the lower layer stays as far as M and goes by M beyond it; the upper goes by H, and by H M beyond.
NamedFolding squash_fold(const Scene& scene, const StepLine& step, int) {
  const PieceForm& form = scene.form();
  const SeenThing tip = scene.point(step.flap);
  const FoldRecord old = along_line(scene, step.alignment);
  const Line hinge = old.line;
  if (std::abs(hinge.distance(tip.at)) < scene.near())
    throw NotMade{fmt::format("{} lies on the line already; name the tip of the flap", step.flap)};
  const FlapRidge ridge = ridge_at(scene, tip, step.flap, hinge);
  const HalfPlane flap = beside(hinge, tip.at);
  const auto upper = flat_part(form, ridge.upper, &flap);
  const auto lower = flat_part(form, ridge.lower, &flap);
  if (upper == lower) throw NotMade{fmt::format("the layers at {} are one and the same", step.flap)};

  const Point apex = *hinge.crossing(ridge.line);
  const Point to_tip = (tip.at - apex).normalized();
  Point along = hinge.direction();
  const double cosine = along.dot(to_tip);
  if (cosine < 0) along = -along;
  if (std::abs(cosine) < 1e-9) { // square to each other: the flap tells on which side it lies
    const Point inside = inside_as_it_lies(form, ridge.upper) - apex;
    if (inside.dot(along) < 0) along = -along;
  }
  const Line middle = Line::through(apex, apex + along + to_tip);
  const HalfPlane ridge_side = beside(middle, tip.at);

  std::vector<FaceId> both = upper;
  both.insert(both.end(), lower.begin(), lower.end());
  std::sort(both.begin(), both.end());
  FoldLine between;
  between.record =
      aligned_by(Alignment::O3, {scene.names().thing_of(form, ridge.edge, ridge.upper), old.things.front()}, middle);
  between.pieces = pieces_in(form, middle, both, {flap});
  FoldLine foot;
  foot.record = old;
  foot.pieces = creased_pieces(form, hinge, upper);
  foot.crease = scene.names().crease_named(step.alignment.along).value_or(-1);
  if (between.pieces.empty() || foot.pieces.empty()) throw NotMade{"the flap does not reach the line"};

  NamedFolding out;
  out.lines = {std::move(between), std::move(foot)};
  const Scene* paper = &scene;
  out.then = [=](const PieceForm& creased, const std::vector<FaceId>& parent) {
    const Isometry m = Isometry::reflection_in(middle);
    const Isometry h = Isometry::reflection_in(hinge);
    Refolding to;
    for (std::size_t f = 0; f < parent.size(); ++f) {
      const Point p = inside_as_it_lies(creased, FaceId(f));
      Isometry moved;
      if (flap.depth(p) > 0) {
        const bool beyond = ridge_side.depth(p) > 0;
        if (std::binary_search(upper.begin(), upper.end(), parent[f]))
          moved = beyond ? h * m : h;
        else if (std::binary_search(lower.begin(), lower.end(), parent[f]) && beyond)
          moved = m;
      }
      to.place.push_back(moved * creased.form.place[f]);
    }
    to.above = on_top(*paper, creased, to.place);
    return to;
  };
  return out;
}

} // namespace uc
