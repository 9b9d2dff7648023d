#include "form/crease_pattern.h"

#include "base/index.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <functional>
#include <unordered_map>
#include <unordered_set>
#include <utility>

namespace uc {
namespace {

/// Of two edges in one place the one with the lesser number stays.
int strength(EdgeKind k) {
  switch (k) {
  case EdgeKind::raw:
    return 0;
  case EdgeKind::cut:
    return 1;
  case EdgeKind::mountain:
  case EdgeKind::valley:
    return 2;
  case EdgeKind::undirected:
    return 3;
  case EdgeKind::unfolded:
    return 4;
  }
  return 5;
}

std::string counted(int n, const char* one, const char* more) { return fmt::format("{} {}", n, n == 1 ? one : more); }

std::vector<std::array<VertexId, 2>> pairs_of(const CreasePattern& pattern) {
  std::vector<std::array<VertexId, 2>> out;
  out.reserve(pattern.edges.size());
  for (const PatternEdge& e : pattern.edges) out.push_back({e.from, e.to});
  return out;
}

} // namespace

EdgeKind turned_over(EdgeKind kind) {
  if (kind == EdgeKind::mountain) return EdgeKind::valley;
  return kind == EdgeKind::valley ? EdgeKind::mountain : kind;
}

double snap_tolerance(const CreasePattern& pattern) {
  return pattern.vertices.empty() ? 0 : 1e-6 * bounding_box(pattern.vertices).size().norm();
}

std::vector<std::string> PatternRepair::sentences() const {
  std::vector<std::string> out;
  if (merged_vertices)
    out.push_back(
        fmt::format("{} merged with another in the same place.", counted(merged_vertices, "vertex", "vertices")));
  if (dropped_edges) out.push_back(fmt::format("{} of no length dropped.", counted(dropped_edges, "edge", "edges")));
  if (split_edges)
    out.push_back(fmt::format("{} split at vertices that lie on them.", counted(split_edges, "edge", "edges")));
  if (split_crossings)
    out.push_back(fmt::format("{} of two edges split.", counted(split_crossings, "crossing", "crossings")));
  if (doubled_edges)
    out.push_back(fmt::format("{} lay on another edge and went.", counted(doubled_edges, "edge", "edges")));
  return out;
}

namespace {

/// A pattern in which nothing is drawn twice in the very same place. Drawing programs leave hundreds of thousands of
/// equal lines, each of which would be looked at with each.
struct Bare {
  CreasePattern pattern;
  std::vector<CreaseId> edge; // of the rough one
};

Bare without_repeats(const CreasePattern& rough) {
  Bare out;
  const auto hash = [](const std::pair<double, double>& p) {
    return std::hash<double>()(p.first) * 0x9E3779B97F4A7C15ULL + std::hash<double>()(p.second);
  };
  std::unordered_map<std::pair<double, double>, int, decltype(hash)> at_place(2 * rough.vertices.size(), hash);
  std::vector<int> now;
  now.reserve(rough.vertices.size());
  for (const Point& p : rough.vertices) {
    const auto [found, fresh] = at_place.try_emplace({p.x(), p.y()}, static_cast<int>(out.pattern.vertices.size()));
    if (fresh) out.pattern.vertices.push_back(p);
    now.push_back(found->second);
  }
  std::array<std::unordered_set<std::uint64_t>, std::size(enum_words<EdgeKind>)> drawn; // per kind
  for (std::size_t e = 0; e < rough.edges.size(); ++e) {
    const PatternEdge& edge = rough.edges[e];
    const SplitPiece piece{VertexId(now[at(edge.from)]), VertexId(now[at(edge.to)]), 0};
    if (piece.from != piece.to && !drawn[static_cast<std::size_t>(edge.kind)].insert(piece.key()).second) continue;
    out.pattern.edges.push_back({piece.from, piece.to, edge.kind});
    out.edge.emplace_back(static_cast<int>(e));
  }
  return out;
}

} // namespace

HealedPattern healed(const CreasePattern& rough, const HealOptions& options, std::vector<CreaseId>* source) {
  if (Bare bare = without_repeats(rough); bare.edge.size() < rough.edges.size()) {
    HealOptions same = options;
    if (!(same.tolerance_mm > 0)) same.tolerance_mm = snap_tolerance(rough);
    HealedPattern out = healed(bare.pattern, same, source);
    out.repair.merged_vertices += static_cast<int>(rough.vertices.size() - bare.pattern.vertices.size());
    out.repair.doubled_edges += static_cast<int>(rough.edges.size() - bare.edge.size());
    if (source)
      for (CreaseId& e : *source) e = bare.edge[at(e)];
    return out;
  }
  const double tolerance = options.tolerance_mm > 0 ? options.tolerance_mm : snap_tolerance(rough);
  SplitSegments split =
      split_segments(rough.vertices, pairs_of(rough), tolerance, options.split_crossings, options.limits);
  HealedPattern out;
  out.too_many = split.too_many;
  if (out.too_many) return out;
  out.pattern.vertices = std::move(split.vertices);
  out.repair.merged_vertices = split.merged_vertices;
  out.repair.dropped_edges = split.dropped_segments;
  out.repair.split_edges = split.split_segments;
  auto& edges = out.pattern.edges;
  edges.reserve(split.pieces.size());
  if (source) source->clear();
  std::unordered_map<std::uint64_t, int> placed;
  placed.reserve(split.pieces.size());
  std::vector<int> piece_of(rough.edges.size(), -1); // the last piece of each edge
  for (const SplitPiece& p : split.pieces) {
    const EdgeKind kind = rough.edges[at(p.source)].kind;
    const auto [place, fresh] = placed.try_emplace(p.key(), static_cast<int>(edges.size()));
    piece_of[at(p.source)] = place->second;
    if (fresh) {
      edges.push_back({p.from, p.to, kind});
      if (source) source->emplace_back(p.source);
      continue;
    }
    ++out.repair.doubled_edges;
    PatternEdge& there = edges[at(place->second)];
    if (strength(kind) >= strength(there.kind)) continue;
    there.kind = kind;
    if (source) (*source)[at(place->second)] = CreaseId(p.source);
  }
  if (options.split_crossings) {
    out.repair.split_crossings = static_cast<int>(split.crossings.size());
  } else {
    for (SegmentCrossing c : split.crossings) {
      c.sources = {piece_of[at(c.sources[0])], piece_of[at(c.sources[1])]};
      out.crossings.push_back(c);
    }
  }
  return out;
}

PatternGraph graph_of(const CreasePattern& pattern) {
  const auto pairs = pairs_of(pattern);
  PatternGraph out{{}, {}, VertexStars(pattern.vertices, pairs), {}};
  GraphFaces all = graph_faces(pattern.vertices, pairs, out.stars);

  // Paper begins across a raw edge from outside and ends across the next; other edges lie in paper.
  enum : char { unknown, paper, none };
  std::vector<char> is(all.faces.size(), unknown);
  std::vector<std::vector<std::pair<int, bool>>> next_to(all.faces.size());
  std::vector<int> queue;
  const auto settle = [&](int face, char what) {
    if (is[at(face)] != unknown) return;
    is[at(face)] = what;
    queue.push_back(face);
  };
  for (std::size_t e = 0; e < pairs.size(); ++e) {
    const auto [l, r] = all.sides[e];
    if (l == r) continue;
    if (l < 0 || r < 0) {
      settle(std::max(l, r), paper);
      continue;
    }
    const bool raw = pattern.edges[e].kind == EdgeKind::raw;
    next_to[at(l)].emplace_back(r, raw);
    next_to[at(r)].emplace_back(l, raw);
  }
  while (!queue.empty()) {
    const int f = queue.back();
    queue.pop_back();
    for (const auto& [g, raw] : next_to[at(f)]) settle(g, raw == (is[at(f)] == paper) ? none : paper);
  }

  std::vector<FaceId> number(all.faces.size());
  for (std::size_t f = 0; f < all.faces.size(); ++f) {
    if (is[f] == none) continue;
    number[f] = FaceId(out.faces.size());
    out.faces.push_back(std::move(all.faces[f]));
  }
  out.sides = std::move(all.sides);
  out.interior.assign(pattern.vertices.size(), 1);
  for (std::size_t v = 0; v < pattern.vertices.size(); ++v) {
    if (out.stars.degree(VertexId(v)) == 0) out.interior[v] = 0;
  }
  for (std::size_t e = 0; e < pairs.size(); ++e) {
    for (FaceId& side : out.sides[e]) side = side < 0 ? FaceId() : number[at(side)];
    if (joins(pattern.edges[e].kind) && out.sides[e][0] >= 0 && out.sides[e][1] >= 0) continue;
    out.interior[at(pairs[e][0])] = out.interior[at(pairs[e][1])] = 0;
  }
  return out;
}

Polygon outline_of(const CreasePattern& pattern, const GraphFace& face) {
  Polygon out;
  out.reserve(face.cycle.size());
  for (const VertexId v : face.cycle) out.push_back(pattern.vertices[at(v)]);
  return out;
}

} // namespace uc
