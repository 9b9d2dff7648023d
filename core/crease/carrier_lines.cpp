#include "crease/carrier_lines.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

struct LooseCrease {
  Line line;
  double angle = 0; // of the normal, -90 (not quite) to 90 degrees
  double length = 0;
  std::size_t edge = 0;
};

std::vector<CarrierLine::Piece> joined_pieces(std::vector<CarrierLine::Piece> pieces, double tolerance) {
  std::sort(pieces.begin(), pieces.end(), [](const auto& a, const auto& b) { return a.low < b.low; });
  std::vector<CarrierLine::Piece> out;
  for (const CarrierLine::Piece& p : pieces) {
    if (!out.empty() && out.back().kind == p.kind && p.low - out.back().high < 2 * tolerance)
      out.back().high = std::max(out.back().high, p.high);
    else
      out.push_back(p);
  }
  return out;
}

} // namespace

double CarrierLine::length() const {
  double sum = 0;
  for (const Piece& p : pieces) sum += p.high - p.low;
  return sum;
}

std::vector<Segment> CarrierLine::spans(std::optional<EdgeKind> only) const {
  std::vector<Segment> out;
  double end = -1e300;
  for (const Piece& p : pieces) {
    if (only && p.kind != *only) continue;
    if (!out.empty() && p.low - end < 1e-6 * (1 + std::abs(end)))
      out.back().to = at(p.high);
    else
      out.push_back({at(p.low), at(p.high)});
    end = p.high;
  }
  return out;
}

std::vector<CarrierLine> carrier_lines(const CreasePattern& pattern) {
  const double tolerance = 2 * snap_tolerance(pattern);
  std::vector<LooseCrease> creases;
  for (std::size_t i = 0; i < pattern.edges.size(); ++i) {
    if (!folds(pattern.edges[i].kind)) continue;
    const Segment s = pattern.segment(CreaseId(i));
    LooseCrease c{Line::through(s.from, s.to).in_one_sense(), 0, s.length(), i};
    c.angle = std::atan2(c.line.normal.y(), c.line.normal.x());
    creases.push_back(c);
  }
  // A long crease fixes its line best, so it takes up the shorter ones that lie on it.
  std::stable_sort(creases.begin(), creases.end(),
                   [](const LooseCrease& a, const LooseCrease& b) { return a.length > b.length; });
  std::vector<std::size_t> by_angle(creases.size());
  for (std::size_t i = 0; i < by_angle.size(); ++i) by_angle[i] = i;
  std::stable_sort(by_angle.begin(), by_angle.end(),
                   [&](std::size_t a, std::size_t b) { return creases[a].angle < creases[b].angle; });
  // Directions apart by more than any crease's own uncertainty are different; equal ones follow each other here.
  std::vector<CarrierLine> lines;
  std::vector<char> taken(creases.size(), 0);
  for (std::size_t begin = 0; begin < by_angle.size();) {
    std::size_t end = begin + 1;
    const auto slack = [&](std::size_t k) { return 2 * tolerance / creases[by_angle[k]].length; };
    while (end < by_angle.size() &&
           creases[by_angle[end]].angle - creases[by_angle[end - 1]].angle < std::max(slack(end), slack(end - 1)))
      ++end;
    std::vector<std::size_t> group(by_angle.begin() + static_cast<std::ptrdiff_t>(begin),
                                   by_angle.begin() + static_cast<std::ptrdiff_t>(end));
    const Point common = creases[*std::min_element(group.begin(), group.end())].line.normal;
    const auto offset = [&](std::size_t i) { return common.dot(pattern.segment(CreaseId(creases[i].edge)).middle()); };
    std::stable_sort(group.begin(), group.end(), [&](std::size_t a, std::size_t b) { return offset(a) < offset(b); });
    for (std::size_t k = 0; k < group.size();) {
      std::size_t stop = k + 1;
      while (stop < group.size() && offset(group[stop]) - offset(group[stop - 1]) < tolerance) ++stop;
      CarrierLine carrier;
      carrier.line = creases[*std::min_element(group.begin() + static_cast<std::ptrdiff_t>(k),
                                               group.begin() + static_cast<std::ptrdiff_t>(stop))]
                         .line;
      const Point along = carrier.line.direction();
      for (; k < stop; ++k) {
        const PatternEdge& e = pattern.edges[creases[group[k]].edge];
        const Segment s = pattern.segment(CreaseId(creases[group[k]].edge));
        const double a = along.dot(s.from);
        const double b = along.dot(s.to);
        carrier.pieces.push_back({std::min(a, b), std::max(a, b), e.kind});
      }
      carrier.pieces = joined_pieces(std::move(carrier.pieces), tolerance);
      lines.push_back(std::move(carrier));
    }
    begin = end;
  }
  return lines;
}

Polygon convex_outline(const CreasePattern& pattern) {
  std::vector<std::vector<int>> next(pattern.vertices.size());
  std::size_t raw = 0;
  for (const PatternEdge& e : pattern.edges) {
    if (e.kind == EdgeKind::cut) return {};
    if (e.kind != EdgeKind::raw) continue;
    next[static_cast<std::size_t>(e.from)].push_back(e.to);
    next[static_cast<std::size_t>(e.to)].push_back(e.from);
    ++raw;
  }
  std::size_t start = 0;
  while (start < next.size() && next[start].empty()) ++start;
  if (start == next.size()) return {};
  Polygon walk;
  std::size_t walked = 0;
  for (int before = -1, at = static_cast<int>(start);; ++walked) {
    const auto& ways = next[static_cast<std::size_t>(at)];
    if (ways.size() != 2 || walked > raw) return {};
    walk.push_back(pattern.vertices[static_cast<std::size_t>(at)]);
    const int to = ways[0] == before ? ways[1] : ways[0];
    before = at;
    at = to;
    if (at == static_cast<int>(start)) break;
  }
  if (walked + 1 != raw) return {};
  if (signed_area(walk) < 0) std::reverse(walk.begin(), walk.end());
  Polygon corners;
  const double tolerance = 2 * snap_tolerance(pattern);
  for (std::size_t i = 0; i < walk.size(); ++i) {
    const Point& before = walk[(i + walk.size() - 1) % walk.size()];
    const Point& after = walk[(i + 1) % walk.size()];
    const double out = Line::through(before, after).distance(walk[i]);
    if (std::abs(out) < tolerance) continue;
    const double turn = signed_area(std::vector<Point>{before, walk[i], after});
    if (turn < 0) return {};
    corners.push_back(walk[i]);
  }
  if (corners.size() < 3) return {};
  // The lowest corner first, then the leftmost, so that a level rectangle begins at its lower left.
  const auto first = std::min_element(corners.begin(), corners.end(), [&](const Point& a, const Point& b) {
    return std::abs(a.y() - b.y()) > tolerance ? a.y() < b.y() : a.x() < b.x();
  });
  std::rotate(corners.begin(), first, corners.end());
  return corners;
}

} // namespace uc
