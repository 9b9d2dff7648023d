#include "fold/folds/flap.h"
#include "fold/folds/named_fold.h"

#include "base/index.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

namespace uc {
namespace {

/// One side of the flap: the rim that is brought to the middle, the line half-way, and where that meets the folded edge
/// behind which the layer beneath goes on.
struct PetalSide {
  RimEdge rim;
  Line line;
  Point end;
  RimEdge ridge;
  std::vector<FaceId> beneath;
};

std::vector<RimEdge> rim_at(const std::vector<RimEdge>& rim, const Point& tip, double near) {
  std::vector<RimEdge> out;
  for (RimEdge e : rim) {
    if ((e.lies.from - tip).norm() > near) e.lies = {e.lies.to, e.lies.from};
    if ((e.lies.from - tip).norm() < near) out.push_back(e);
  }
  return out;
}

Point direction(const RimEdge& e) { return (e.lies.to - e.lies.from).normalized(); }

/// Where a ray from the tip leaves the flap.
std::optional<std::pair<Point, RimEdge>> way_out(const std::vector<RimEdge>& rim, const Point& tip, const Point& d,
                                                 double near) {
  std::optional<std::pair<Point, RimEdge>> out;
  double nearest = 1e300;
  const Line ray = Line::through(tip, tip + d);
  for (const RimEdge& e : rim) {
    const double a = ray.distance(e.lies.from);
    const double b = ray.distance(e.lies.to);
    if ((a > near && b > near) || (a < -near && b < -near) || std::abs(a - b) < near) continue;
    const Point p = e.lies.at(std::clamp(a / (a - b), 0.0, 1.0));
    const double along = d.dot(p - tip);
    // Of two rims that meet there the folded one counts.
    if (along < 10 * near || along > nearest + near || (along > nearest - near && e.outside < 0)) continue;
    nearest = along;
    out = {p, e};
  }
  return out;
}

} // namespace

/// The tip of the uppermost layer is lifted, and both of its sides come to the middle: with S the mirror of the line
/// half-way between a side and the middle, and G that of the line from end to end of those two, the middle of the flap
/// goes by G, its sides by G S, and the layers beneath, which the sides are joined to, by S.
NamedFolding petal_fold(const Scene& scene, const StepLine& step, int next_line) {
  const PieceForm& form = scene.form();
  const double near = 2 * snap_tolerance(form.pattern);
  const SeenThing tip = scene.point(step.flap);
  const FaceId top = uppermost(scene, faces_at(form, tip.on_sheet));
  const auto flap = flat_part(form, top);
  const auto rim = rim_of(form, flap);
  const auto at_tip = rim_at(rim, tip.at, near);
  if (at_tip.size() != 2) throw NotMade{fmt::format("{} is not the tip of a flap on top", step.flap)};
  const Point u = direction(at_tip[0]);
  const Point v = direction(at_tip[1]);
  if (std::abs(u.x() * v.y() - u.y() * v.x()) < 1e-6) throw NotMade{fmt::format("{} is not a corner", step.flap)};
  const Line middle = Line::through(tip.at, tip.at + u + v);
  const auto middle_crease = old_crease_on(scene, middle, flap);

  std::array<PetalSide, 2> sides;
  for (std::size_t i = 0; i < 2; ++i) {
    PetalSide& side = sides[i];
    side.rim = at_tip[i];
    const Point d = direction(side.rim) + (u + v).normalized();
    side.line = Line::through(tip.at, tip.at + d);
    const auto end = way_out(rim, tip.at, d.normalized(), near);
    if (!end || end->second.outside < 0)
      throw NotMade{
          fmt::format("the sides at {} do not end at folded edges, so its layer cannot be lifted", step.flap)};
    side.end = end->first;
    side.ridge = end->second;
    const HalfPlane outer = beside(side.line, tip.at + direction(side.rim));
    side.beneath = flat_part(form, FaceId(side.ridge.outside), &outer);
  }
  const Line lift = Line::through(sides[0].end, sides[1].end);
  const HalfPlane near_tip = beside(lift, tip.at);

  NamedFolding out;
  int line = next_line;
  std::vector<AlignedThing> ends;
  for (const PetalSide& side : sides) {
    FoldLine made;
    std::vector<FaceId> layers = flap;
    layers.insert(layers.end(), side.beneath.begin(), side.beneath.end());
    std::sort(layers.begin(), layers.end());
    layers.erase(std::unique(layers.begin(), layers.end()), layers.end());
    made.pieces = pieces_in(form, side.line, layers, {near_tip});
    if (const auto old = old_crease_on(scene, side.line, flap)) {
      made.record = *old;
      made.crease = scene.names().crease_of(old->things.front().index);
    } else if (middle_crease) {
      made.record = aligned_by(
          Alignment::O3, {scene.names().thing_of(form, side.rim.edge, side.rim.inside), middle_crease->things.front()},
          side.line);
    } else {
      throw NotMade{
          fmt::format("crease the middle of the flap at {} first, one of its sides onto the other", step.flap)};
    }
    AlignedThing end;
    end.kind = AlignedThing::Kind::crossing;
    end.lines = {line, scene.names().line_number(form, side.ridge.edge)};
    end.folded_at = folds_to(form, side.ridge.inside);
    // The crossing lies on the bare sheet, on the paper line of the face it is seen in.
    for (std::size_t k = 0; k < made.pieces.size(); ++k) {
      if (made.pieces[k].first == side.ridge.inside) end.lines[0] = line + static_cast<int>(k);
    }
    ends.push_back(end);
    line += static_cast<int>(made.pieces.size());
    out.lines.push_back(std::move(made));
  }
  FoldLine lifted;
  lifted.record = aligned_by(Alignment::O1, ends, lift);
  lifted.pieces =
      pieces_in(form, lift, flap, {beside(sides[0].line, tip.at + u + v), beside(sides[1].line, tip.at + u + v)});
  out.lines.push_back(std::move(lifted));

  const Scene* paper = &scene;
  out.then = [=, tip = tip.at](const PieceForm& creased, const std::vector<FaceId>& parent) {
    const Isometry g = Isometry::reflection_in(lift);
    const auto in = [](const std::vector<FaceId>& faces, FaceId f) {
      return std::binary_search(faces.begin(), faces.end(), f);
    };
    Refolding to;
    for (std::size_t f = 0; f < parent.size(); ++f) {
      const Point p = inside_as_it_lies(creased, FaceId(f));
      Isometry moved;
      const bool in_flap = in(flap, parent[f]);
      if (in_flap && near_tip.depth(p) > 0) moved = g;
      for (const PetalSide& side : sides) {
        const HalfPlane outer = beside(side.line, tip + direction(side.rim));
        if (outer.depth(p) <= 0 || near_tip.depth(p) <= 0) continue;
        const Isometry s = Isometry::reflection_in(side.line);
        if (in_flap)
          moved = g * s;
        else if (in(side.beneath, parent[f]))
          moved = s;
      }
      to.place.push_back(moved * creased.form.place[f]);
    }
    to.above = on_top(*paper, creased, to.place);
    return to;
  };
  return out;
}

} // namespace uc
