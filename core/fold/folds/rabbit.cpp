#include "fold/folds/flap.h"
#include "fold/folds/named_fold.h"

#include "base/index.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

Line bisector_at(const Point& corner, const Point& one, const Point& other) {
  return Line::through(corner, corner + (one - corner).normalized() + (other - corner).normalized());
}

/// The rim of the flap that runs along this line.
const RimEdge& side_on(const std::vector<RimEdge>& rim, const Line& line, double near) {
  for (const RimEdge& e : rim) {
    if (std::abs(line.distance(e.lies.from)) < near && std::abs(line.distance(e.lies.to)) < near) return e;
  }
  throw NotMade{"the flap beyond the line is not a triangle"};
}

} // namespace

/// The triangle beyond a line comes to lie on that line with both of its sides, and its tip stands up as an ear that is
/// laid down to one of them. Its three bisectors meet in the middle of the inscribed circle; the ear turns on the line
/// from there square to the side it is laid to. With A, B, E the mirrors of the bisectors at the two ends and of that
/// line: the part along the side of the ear goes by A, the tip beyond by A E, the other side by B.
NamedFolding rabbit_ear(const Scene& scene, const StepLine& step, int next_line) {
  const PieceForm& form = scene.form();
  const double near = 4 * snap_tolerance(form.pattern);
  const SeenThing tip = scene.point(step.flap);
  const FoldRecord base = along_line(scene, step.alignment);
  const Line line = base.line;
  if (std::abs(line.distance(tip.at)) < scene.near())
    throw NotMade{fmt::format("{} lies on the line; name the tip beyond it", step.flap)};
  const HalfPlane beyond = beside(line, tip.at);
  const auto flap = flat_part(form, uppermost(scene, faces_at(form, tip.on_sheet)), &beyond);
  const auto rim = rim_of(form, flap);

  // The ends of the base: where the rim of the flap meets the line.
  std::vector<Point> ends;
  for (const RimEdge& e : rim) {
    const double a = beyond.depth(e.lies.from);
    const double b = beyond.depth(e.lies.to);
    if (std::max(a, b) < near || std::min(a, b) > near) continue;
    const Point p = e.lies.at(std::clamp(a / (a - b), 0.0, 1.0));
    if (std::none_of(ends.begin(), ends.end(), [&](const Point& q) { return (p - q).norm() < near; }))
      ends.push_back(p);
  }
  if (ends.size() != 2) throw NotMade{"the flap beyond the line is not a triangle"};
  // The ear is laid to the end that is named; else to the first.
  if (!step.names.empty()) {
    const SeenThing to = scene.point(step.names[0]);
    if ((to.at - ends[1]).norm() < near)
      std::swap(ends[0], ends[1]);
    else if ((to.at - ends[0]).norm() > near)
      throw NotMade{fmt::format("{} is not an end of the line under the flap", step.names[0])};
  }
  const Point& a = ends[0];
  const Point& b = ends[1];
  const Line to_a = Line::through(tip.at, a);
  const Line to_b = Line::through(tip.at, b);
  const RimEdge& side_a = side_on(rim, to_a, near);
  const RimEdge& side_b = side_on(rim, to_b, near);
  const Line at_a = bisector_at(a, tip.at, b);
  const Line at_b = bisector_at(b, tip.at, a);
  const Line at_tip = bisector_at(tip.at, a, b);
  const Point centre = *at_a.crossing(at_b);
  const Line ear = Line::with_normal(to_a.direction(), to_a.direction().dot(centre));

  const auto side_thing = [&](const RimEdge& e) { return scene.names().thing_of(form, e.edge, e.inside); };
  const AlignedThing base_thing = base.things.front();
  NamedFolding out;
  const auto add = [&](FoldRecord record, const Line& l, const std::vector<HalfPlane>& within) {
    FoldLine made;
    if (const auto old = old_crease_on(scene, l, flap)) {
      made.record = *old;
      made.crease = scene.names().crease_of(old->things.front().index);
    } else {
      made.record = std::move(record);
    }
    made.record.line = l;
    std::vector<HalfPlane> in = within;
    in.push_back(beyond);
    made.pieces = pieces_in(form, l, flap, in);
    out.lines.push_back(std::move(made));
  };
  // Each bisector runs from its corner to the middle: short of the line square to it there.
  const auto as_far = [&](const Line& l, const Point& corner) {
    return std::vector<HalfPlane>{beside(Line::with_normal(l.direction(), l.direction().dot(centre)), corner)};
  };
  add(aligned_by(Alignment::O3, {side_thing(side_a), base_thing}, at_a), at_a, as_far(at_a, a));
  add(aligned_by(Alignment::O3, {side_thing(side_b), base_thing}, at_b), at_b, as_far(at_b, b));
  add(aligned_by(Alignment::O3, {side_thing(side_a), side_thing(side_b)}, at_tip), at_tip, as_far(at_tip, tip.at));
  AlignedThing middle;
  middle.kind = AlignedThing::Kind::crossing;
  middle.lines = {next_line, next_line + static_cast<int>(out.lines[0].pieces.size())};
  middle.folded_at = folds_to(form, out.lines[0].pieces.empty() ? flap.front() : out.lines[0].pieces.front().first);
  add(aligned_by(Alignment::O4, {middle, side_thing(side_a)}, ear), ear, {beside(at_a, tip.at)});
  for (const FoldLine& l : out.lines) {
    if (l.pieces.empty()) throw NotMade{"the flap beyond the line is not a triangle"};
  }

  const Scene* paper = &scene;
  out.then = [=](const PieceForm& creased, const std::vector<FaceId>& parent) {
    const Isometry to_base_a = Isometry::reflection_in(at_a);
    const Isometry to_base_b = Isometry::reflection_in(at_b);
    const Isometry laid = to_base_a * Isometry::reflection_in(ear);
    const HalfPlane beyond_a = beside(at_a, beyond.side * line.normal + a);
    const HalfPlane beyond_b = beside(at_b, beyond.side * line.normal + b);
    const HalfPlane side_of_a = beside(at_tip, a);
    const HalfPlane tip_of_ear = beside(ear, tip.at);
    Refolding to;
    for (std::size_t f = 0; f < parent.size(); ++f) {
      const Point p = inside_as_it_lies(creased, FaceId(f));
      Isometry moved;
      if (std::binary_search(flap.begin(), flap.end(), parent[f]) && beyond.depth(p) > 0) {
        if (side_of_a.depth(p) > 0) {
          if (beyond_a.depth(p) > 0) moved = tip_of_ear.depth(p) > 0 ? laid : to_base_a;
        } else if (beyond_b.depth(p) > 0) {
          moved = to_base_b;
        }
      }
      to.place.push_back(moved * creased.form.place[f]);
    }
    to.above = on_top(*paper, creased, to.place);
    return to;
  };
  return out;
}

} // namespace uc
