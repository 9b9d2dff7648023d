#include "fold/folds/flap.h"

#include "base/index.h"
#include "fold/simple_fold.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

Segment as_it_lies(const PieceForm& form, CreaseId e) {
  const PatternEdge& edge = form.pattern.edges[at(e)];
  return {form.form.vertices[at(edge.from)], form.form.vertices[at(edge.to)]};
}

bool lies_on(const Segment& s, const Line& line, double near) {
  return std::abs(line.distance(s.from)) < near && std::abs(line.distance(s.to)) < near;
}

} // namespace

HalfPlane beside(const Line& line, const Point& inside) { return {line, line.distance(inside) < 0 ? -1.0 : 1.0}; }

std::vector<FaceId> flat_part(const PieceForm& form, FaceId face, const HalfPlane* within) {
  const double near = 2 * snap_tolerance(form.pattern);
  std::vector<char> in(form.graph.faces.size(), 0);
  in[at(face)] = 1;
  for (bool more = true; more;) {
    more = false;
    for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
      const auto [f, g] = form.graph.sides[e];
      if (f < 0 || g < 0 || in[at(f)] == in[at(g)] || form.pattern.edges[e].kind != EdgeKind::unfolded) continue;
      const Segment s = as_it_lies(form, CreaseId(e));
      if (within && std::max(within->depth(s.from), within->depth(s.to)) < near) continue;
      in[at(f)] = in[at(g)] = 1;
      more = true;
    }
  }
  std::vector<FaceId> part;
  for (std::size_t f = 0; f < in.size(); ++f) {
    if (in[f]) part.emplace_back(f);
  }
  return part;
}

std::vector<RimEdge> rim_of(const PieceForm& form, const std::vector<FaceId>& part) {
  const auto in = [&](int f) { return f >= 0 && std::binary_search(part.begin(), part.end(), FaceId(f)); };
  std::vector<RimEdge> rim;
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const auto [f, g] = form.graph.sides[e];
    if (in(f) == in(g)) continue;
    const int other = in(f) ? g : f;
    rim.push_back({CreaseId(e), FaceId(in(f) ? f : g), joins(form.pattern.edges[e].kind) ? other : -1,
                   as_it_lies(form, CreaseId(e))});
  }
  return rim;
}

FaceId uppermost(const Scene& scene, const std::vector<FaceId>& faces) {
  const PieceForm& form = scene.form();
  FaceId top = faces.front();
  for (const FaceId f : faces) {
    if (f != top && form.overlapping(f, top) && form.above(f, top) != scene.from_behind()) top = f;
  }
  return top;
}

std::vector<std::pair<FaceId, Segment>> pieces_in(const PieceForm& form, const Line& line,
                                                  const std::vector<FaceId>& faces,
                                                  const std::vector<HalfPlane>& within) {
  const double near = 2 * snap_tolerance(form.pattern);
  std::vector<std::pair<FaceId, Segment>> out;
  for (const auto& [face, piece] : creased_pieces(form, line, faces)) {
    const Isometry& place = form.form.place[at(face)];
    double from = 0;
    double to = 1;
    for (const HalfPlane& half : within) {
      const double a = half.depth(place * piece.from);
      const double b = half.depth(place * piece.to);
      if (a < near && b < near) to = -1;
      if ((a < 0) == (b < 0)) continue;
      const double crossing = a / (a - b);
      if (a < 0)
        from = std::max(from, crossing);
      else
        to = std::min(to, crossing);
    }
    if ((to - from) * piece.length() > near) out.emplace_back(face, Segment{piece.at(from), piece.at(to)});
  }
  return out;
}

std::optional<FoldRecord> old_crease_on(const Scene& scene, const Line& line, const std::vector<FaceId>& faces) {
  const PieceForm& form = scene.form();
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    if (form.line_of[e] < 0 || !lies_on(as_it_lies(form, CreaseId(e)), line, 2 * snap_tolerance(form.pattern)))
      continue;
    for (const int f : form.graph.sides[e]) {
      if (f < 0 || !std::binary_search(faces.begin(), faces.end(), FaceId(f))) continue;
      FoldRecord record = aligned_by(Alignment::O1, {scene.names().thing_of(form, CreaseId(e), FaceId(f))}, line);
      record.along = true;
      return record;
    }
  }
  return std::nullopt;
}

FoldRecord along_line(const Scene& scene, const StepAlignment& wish) {
  const SeenThing old = scene.line(wish.along);
  FoldRecord record = aligned_by(Alignment::O1, {old.thing}, old.line);
  record.along = true;
  return record;
}

FoldRecord aligned_by(Alignment op, std::vector<AlignedThing> things, const Line& line) {
  FoldRecord record;
  record.op = op;
  record.things = std::move(things);
  record.line = line;
  return record;
}

Point inside_as_it_lies(const PieceForm& form, FaceId face) {
  return form.form.place[at(face)] * inside_of(form.pattern, form.graph.faces[at(face)]);
}

std::vector<std::array<FaceId, 2>> on_top(const Scene& scene, const PieceForm& creased,
                                          const std::vector<Isometry>& place) {
  const std::size_t n = place.size();
  std::vector<char> moves(n, 0);
  for (std::size_t f = 0; f < n; ++f) {
    const Isometry& was = creased.form.place[f];
    moves[f] = (was.linear - place[f].linear).norm() + (was.shift - place[f].shift).norm() > 1e-6;
  }
  std::vector<std::array<FaceId, 2>> above;
  for (std::size_t f = 0; f < n; ++f) {
    for (std::size_t g = 0; moves[f] && g < n; ++g) {
      if (moves[g]) continue;
      const FaceId moved(f);
      const FaceId stays(g);
      if (creased.overlapping(moved, stays) && creased.above(stays, moved) != scene.from_behind())
        throw NotMade{fmt::format("other paper lies on the flap (face {} on face {})", g, f)};
      above.push_back(scene.from_behind() ? std::array{stays, moved} : std::array{moved, stays});
    }
  }
  return above;
}

} // namespace uc
