#include "crease/cut_out.h"

#include "base/index.h"
#include "crease/carrier_lines.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

/// The raw edges as one walk, counter-clockwise; empty when they are none or several.
Polygon single_outline(const CreasePattern& pattern) {
  std::vector<std::vector<int>> next(pattern.vertices.size());
  std::size_t raw = 0;
  int at_corner = -1;
  for (const PatternEdge& e : pattern.edges) {
    if (e.kind != EdgeKind::raw) continue;
    next[at(e.from)].push_back(e.to);
    next[at(e.to)].push_back(e.from);
    at_corner = e.from;
    ++raw;
  }
  Polygon out;
  for (int before = -1; out.size() < raw;) {
    const auto& ways = next[at(at_corner)];
    if (ways.size() != 2) return {};
    out.push_back(pattern.vertices[at(at_corner)]);
    before = std::exchange(at_corner, ways[0] == before ? ways[1] : ways[0]);
    if (pattern.vertices[at(at_corner)] == out.front()) break;
  }
  if (out.size() < raw || raw < 3) return {};
  if (signed_area(out) < 0) std::reverse(out.begin(), out.end());
  return out;
}

Move cuts_along(std::vector<Segment> along) {
  Move move;
  move.seconds = mat_seconds + cut_seconds * static_cast<double>(along.size());
  move.caution = Caution::blade;
  move.effect = Cut{std::move(along)};
  return move;
}

} // namespace

Result<CutOut> cut_out(const CreasePattern& pattern, const Polygon& on) {
  CreasePattern whole = pattern; // without slits
  std::vector<Segment> slits;
  std::erase_if(whole.edges, [&](const PatternEdge& e) {
    if (e.kind != EdgeKind::cut) return false;
    slits.push_back({pattern.vertices[at(e.from)], pattern.vertices[at(e.to)]});
    return true;
  });
  CutOut out;
  out.sheet = convex_outline(whole);
  if (out.sheet.empty()) {
    const Box box = bounding_box(on.empty() ? Polygon(pattern.vertices) : on);
    const double tolerance = 2 * snap_tolerance(pattern);
    out.sheet = on.empty() ? Polygon{box.low, {box.high.x(), box.low.y()}, box.high, {box.low.x(), box.high.y()}} : on;
    const Polygon outline = single_outline(whole);
    std::vector<Segment> raw;
    for (std::size_t e = 0; e < whole.edges.size(); ++e) {
      if (whole.edges[e].kind != EdgeKind::raw) continue;
      const Segment s = whole.segment(CreaseId(e));
      const Point middle = s.middle();
      const double off = std::min((middle - box.low).minCoeff(), (box.high - middle).minCoeff());
      if (outline.empty() && off > tolerance) raw.push_back(s); // what lies on the rectangle is there already
    }
    if (!outline.empty()) {
      out.moves.push_back(Move::cutting(outline, mat_seconds + cut_seconds * static_cast<double>(outline.size())));
    } else if (!raw.empty()) {
      out.moves.push_back(cuts_along(std::move(raw)));
    } else {
      return Error{"The pattern has no raw edges that bound a sheet; draw its outline first."};
    }
  }
  if (!slits.empty()) out.moves.push_back(cuts_along(std::move(slits)));
  return out;
}

} // namespace uc
