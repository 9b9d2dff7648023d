#include "fold/folds/flap.h"
#include "fold/folds/named_fold.h"

#include "base/index.h"
#include "fold/simple_fold.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

/// Faces that are creased: the one that stays, the part of it that moves, beside one crease.
struct Leg {
  FaceId stays, moves;
};

std::vector<Leg> legs_of(const PieceForm& creased, const std::vector<char>& moves) {
  std::vector<Leg> legs;
  for (std::size_t e = 0; e < creased.pattern.edges.size(); ++e) {
    const auto [f, g] = creased.graph.sides[e];
    if (f < 0 || g < 0 || !joins(creased.pattern.edges[e].kind) || moves[at(f)] == moves[at(g)]) continue;
    legs.push_back({FaceId(moves[at(f)] ? g : f), FaceId(moves[at(f)] ? f : g)});
  }
  return legs;
}

/// The leg over which no other lies, or under which none does.
Leg outermost(const PieceForm& creased, const std::vector<Leg>& legs, bool top) {
  Leg out = legs.front();
  for (const Leg& leg : legs) {
    if (leg.stays != out.stays && creased.overlapping(leg.stays, out.stays) &&
        creased.above(leg.stays, out.stays) == top)
      out = leg;
  }
  return out;
}

/// Folded creases among what moves.
std::vector<CreaseId> ridges_of(const PieceForm& creased, const std::vector<char>& moves) {
  std::vector<CreaseId> ridges;
  for (std::size_t e = 0; e < creased.pattern.edges.size(); ++e) {
    const auto [f, g] = creased.graph.sides[e];
    if (f >= 0 && g >= 0 && moves[at(f)] && moves[at(g)] && folds(creased.pattern.edges[e].kind))
      ridges.emplace_back(e);
  }
  return ridges;
}

} // namespace

/// The tip beyond a line is mirrored in it and comes to lie between the layers it was the end of, or round them: its
/// uppermost layer goes down and its lowest up, or the other way about, so the ridge between them changes sense. The
/// tip of a closed corner has layers all round; mirrored in the same way it is sunk, and all of its ridges change
/// sense.
NamedFolding reverse_fold(const Scene& scene, const StepLine& step, int) {
  const PieceForm& form = scene.form();
  const SeenThing tip = scene.point(step.flap);
  AlignedFold a = scene.aligned(step.alignment);
  const Line line = scene.folded_on(a, step.alignment);
  if (std::abs(line.distance(tip.at)) < scene.near())
    throw NotMade{fmt::format("{} lies on the crease; name a point beside it", step.flap)};
  const HalfPlane beyond = beside(line, tip.at);
  const auto faces = tied_faces(form, line, beyond.side, faces_at(form, tip.on_sheet));
  FoldLine made;
  made.record = std::move(a.record);
  made.record.line = line;
  made.pieces = creased_pieces(form, line, faces);
  if (made.record.along) made.crease = scene.names().crease_named(step.alignment.along).value_or(-1);
  if (made.pieces.size() < 2)
    throw NotMade{fmt::format("{} is the end of one layer only; fold it with valley or mountain", step.flap)};
  const bool sunk = step.kind == StepVerb::sink;
  const bool outside = step.outside;
  NamedFolding out;
  out.lines.push_back(std::move(made));
  out.then = [=](const PieceForm& creased, const std::vector<FaceId>& parent) {
    const Isometry mirror = Isometry::reflection_in(line);
    Refolding to;
    std::vector<char> moves(parent.size(), 0);
    for (std::size_t f = 0; f < parent.size(); ++f) {
      moves[f] = std::binary_search(faces.begin(), faces.end(), parent[f]) &&
                 beyond.depth(inside_as_it_lies(creased, FaceId(f))) > 0;
      to.place.push_back(moves[f] ? mirror * creased.form.place[f] : creased.form.place[f]);
    }
    (sunk ? to.turned : to.may_turn) = ridges_of(creased, moves);
    const auto legs = legs_of(creased, moves);
    if (legs.empty()) throw NotMade{"the whole paper would turn over"};
    const Leg top = outermost(creased, legs, true);
    const Leg bottom = outermost(creased, legs, false);
    to.above.push_back(outside ? std::array{top.moves, top.stays} : std::array{top.stays, top.moves});
    to.above.push_back(outside ? std::array{bottom.stays, bottom.moves} : std::array{bottom.moves, bottom.stays});
    return to;
  };
  return out;
}

} // namespace uc
