#include "form/folded_form.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <unordered_map>

namespace uc {
namespace {

bool paper_on_both_sides(const PatternGraph& graph, std::size_t edge) {
  return graph.sides[edge][0] >= 0 && graph.sides[edge][1] >= 0;
}

std::vector<FaceId> loop_through(const std::vector<FaceId>& parent, FaceId a, FaceId b) {
  std::vector<FaceId> up_a{a};
  while (parent[at(up_a.back())] >= 0) up_a.push_back(parent[at(up_a.back())]);
  std::vector<FaceId> up_b{b};
  while (parent[at(up_b.back())] >= 0) up_b.push_back(parent[at(up_b.back())]);
  while (up_a.size() > 1 && up_b.size() > 1 && up_a[up_a.size() - 2] == up_b[up_b.size() - 2]) {
    up_a.pop_back();
    up_b.pop_back();
  }
  up_b.pop_back();
  up_a.insert(up_a.end(), up_b.rbegin(), up_b.rend());
  std::sort(up_a.begin(), up_a.end());
  return up_a;
}

// Assumed, on the safe side: what one crossing of two folded edges takes in vertices, pieces and cells.
constexpr std::size_t crossing_bytes = 900;

struct Arrangement {
  Overlap overlap;
  bool consistent = true;
};

/// The plane cut up by all folded edges. Which faces cover a cell follows from its neighbours: crossing a piece leaves
/// the faces that end there on this side and enters those that end there on the other.
Arrangement arranged(const CreasePattern& pattern, const PatternGraph& graph, const FoldedForm& form, double tolerance,
                     const WorkLimits& limits) {
  std::vector<std::array<VertexId, 2>> segments;
  segments.reserve(pattern.edges.size());
  for (const PatternEdge& e : pattern.edges) segments.push_back({e.from, e.to});
  SplitSegments split =
      split_segments(form.vertices, segments, tolerance, true, {limits.memory_bytes / crossing_bytes, limits.progress});
  Arrangement out;
  out.overlap.memory_needed = split.too_many * crossing_bytes;
  if (split.too_many) return out;
  Overlap& o = out.overlap;
  o.vertices = std::move(split.vertices);
  std::unordered_map<std::uint64_t, int> placed;
  placed.reserve(split.pieces.size());
  std::vector<std::array<VertexId, 2>> pairs;
  for (const SplitPiece& p : split.pieces) {
    const auto edge = at(p.source);
    const auto [l, r] = graph.sides[edge];
    if (l < 0 && r < 0) continue;
    const auto [place, fresh] = placed.try_emplace(p.key(), static_cast<int>(o.pieces.size()));
    if (fresh) {
      pairs.push_back({p.from, p.to});
      o.pieces.emplace_back();
      o.pieces.back().from = p.from;
      o.pieces.back().to = p.to;
    }
    FoldedPiece& piece = o.pieces[at(place->second)];
    const bool against = piece.from != p.from;
    piece.edges.emplace_back(p.source);
    // A flipped face lies on the other side of its edge.
    const auto on_left = [&](FaceId face, bool left) { return (left != (form.flipped[at(face)] != 0)) != against; };
    if (l >= 0 && r >= 0 && l != r && joins(pattern.edges[edge].kind)) {
      const bool l_left = on_left(l, true);
      const bool r_left = on_left(r, false);
      if (l_left == r_left)
        (l_left ? piece.left : piece.right).push_back({l, r});
      else if (l_left)
        piece.across.push_back({l, r});
      else
        piece.across.push_back({r, l});
    }
  }

  const VertexStars stars(o.vertices, pairs);
  GraphFaces faces = graph_faces(o.vertices, pairs, stars);
  o.cells.resize(faces.faces.size());
  std::vector<std::vector<int>> pieces_of(faces.faces.size());
  std::vector<std::vector<FaceId>> ending_left(o.pieces.size());
  std::vector<std::vector<FaceId>> ending_right(o.pieces.size());
  for (std::size_t p = 0; p < o.pieces.size(); ++p) {
    FoldedPiece& piece = o.pieces[p];
    piece.left_cell = faces.sides[p][0];
    piece.right_cell = faces.sides[p][1];
    for (const int cell : {piece.left_cell, piece.right_cell}) {
      if (cell >= 0) pieces_of[at(cell)].push_back(static_cast<int>(p));
    }
  }
  for (const SplitPiece& p : split.pieces) {
    const auto [l, r] = graph.sides[at(p.source)];
    if ((l < 0 && r < 0) || l == r) continue;
    const int i = placed.at(p.key());
    const bool against = o.pieces[at(i)].from != p.from;
    for (const bool left : {true, false}) {
      const FaceId face = left ? l : r;
      if (face < 0) continue;
      ((left != (form.flipped[at(face)] != 0)) != against ? ending_left : ending_right)[at(i)].push_back(face);
    }
  }

  std::vector<char> known(o.cells.size(), 0);
  std::vector<int> queue;
  const auto enter = [&](int cell, const std::vector<FaceId>& from, std::vector<FaceId> leave,
                         std::vector<FaceId> come) {
    if (cell < 0 || known[at(cell)]) return;
    known[at(cell)] = 1;
    queue.push_back(cell);
    std::sort(leave.begin(), leave.end());
    std::sort(come.begin(), come.end());
    std::vector<FaceId> rest;
    std::set_difference(from.begin(), from.end(), leave.begin(), leave.end(), std::back_inserter(rest));
    std::vector<FaceId>& now = o.cells[at(cell)].faces;
    std::set_union(rest.begin(), rest.end(), come.begin(), come.end(), std::back_inserter(now));
    if (rest.size() + leave.size() != from.size() || now.size() != rest.size() + come.size()) out.consistent = false;
  };
  const std::vector<FaceId> nothing;
  for (std::size_t p = 0; p < o.pieces.size(); ++p) {
    const FoldedPiece& piece = o.pieces[p];
    if (piece.left_cell < 0) enter(piece.right_cell, nothing, ending_left[p], ending_right[p]);
    if (piece.right_cell < 0) enter(piece.left_cell, nothing, ending_right[p], ending_left[p]);
  }
  std::size_t held = o.pieces.size() * crossing_bytes;
  for (std::size_t q = 0; q < queue.size(); ++q) {
    const int cell = queue[q];
    held += o.cells[at(cell)].faces.size() * sizeof(int);
    if (held > limits.memory_bytes) {
      // What is known of the first cells is taken for the rest.
      const std::size_t needed = held / (q + 1) * o.cells.size();
      o = {};
      o.memory_needed = std::max(needed, held);
      return out;
    }
    if (q % 64 == 0 && limits.progress && limits.progress->stopped()) return out;
    const std::vector<FaceId> here = o.cells[at(cell)].faces;
    for (const int p : pieces_of[at(cell)]) {
      const FoldedPiece& piece = o.pieces[at(p)];
      if (piece.left_cell == cell)
        enter(piece.right_cell, here, ending_left[at(p)], ending_right[at(p)]);
      else
        enter(piece.left_cell, here, ending_right[at(p)], ending_left[at(p)]);
    }
  }

  for (std::size_t c = 0; c < o.cells.size(); ++c) {
    FoldedCell& cell = o.cells[c];
    cell.cycle = std::move(faces.faces[c].cycle);
    Polygon outline;
    double round = 0;
    for (const VertexId v : cell.cycle) outline.push_back(o.vertices[at(v)]);
    for (std::size_t i = 0; i < outline.size(); ++i) round += (outline[i] - outline[(i + 1) % outline.size()]).norm();
    cell.area = signed_area(outline);
    cell.sliver = cell.area < 2 * tolerance * round;
    if (!cell.sliver) o.layers_max = std::max(o.layers_max, static_cast<int>(cell.faces.size()));
  }
  return out;
}

} // namespace

Result<FoldedForm> folded_form(const CreasePattern& pattern, const PatternGraph& graph) {
  if (graph.faces.empty()) return Error{"The pattern encloses no paper; close its outline with edges of kind raw."};
  std::vector<std::vector<CreaseId>> edges_of(graph.faces.size());
  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    if (!joins(pattern.edges[e].kind) || !paper_on_both_sides(graph, e)) continue;
    edges_of[at(graph.sides[e][0])].emplace_back(e);
    edges_of[at(graph.sides[e][1])].emplace_back(e);
  }
  FoldedForm out;
  out.place.resize(graph.faces.size());
  out.flipped.assign(graph.faces.size(), 0);
  std::vector<FaceId> parent(graph.faces.size());
  std::vector<char> known(graph.faces.size(), 0);
  std::vector<FaceId> queue{FaceId(0)};
  known[0] = 1;
  for (std::size_t q = 0; q < queue.size(); ++q) {
    const FaceId f = queue[q];
    for (const CreaseId e : edges_of[at(f)]) {
      const FaceId g = graph.sides[at(e)][0] == f ? graph.sides[at(e)][1] : graph.sides[at(e)][0];
      if (known[at(g)]) continue;
      known[at(g)] = 1;
      parent[at(g)] = f;
      const bool fold = folds(pattern.edges[at(e)].kind);
      const Segment s = pattern.segment(e);
      out.place[at(g)] =
          fold ? out.place[at(f)] * Isometry::reflection_in(Line::through(s.from, s.to)) : out.place[at(f)];
      out.flipped[at(g)] = static_cast<char>((out.flipped[at(f)] != 0) != fold);
      queue.push_back(g);
    }
  }
  if (queue.size() < graph.faces.size())
    return Error{"The pattern lies in separate pieces of paper; fold them one by one."};

  out.vertices.assign(pattern.vertices.size(), Point::Zero());
  std::vector<char> placed(pattern.vertices.size(), 0);
  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    const PatternEdge& edge = pattern.edges[e];
    const auto [l, r] = graph.sides[e];
    for (const int v : {edge.from, edge.to}) {
      const int f = l >= 0 ? l : r;
      if (f < 0 || placed[at(v)]) continue;
      placed[at(v)] = 1;
      out.vertices[at(v)] = out.place[at(f)] * pattern.vertices[at(v)];
    }
    if (!joins(edge.kind) || !paper_on_both_sides(graph, e) || l == r) continue;
    double apart = 0;
    for (const int v : {edge.from, edge.to}) {
      const Point& p = pattern.vertices[at(v)];
      apart = std::max(apart, (out.place[at(l)] * p - out.place[at(r)] * p).norm());
    }
    const bool turned = (out.flipped[at(l)] != out.flipped[at(r)]) != folds(edge.kind);
    if (turned || apart > out.closure_mm) {
      out.closure_mm = turned ? 1e300 : apart;
      out.open_loop = loop_through(parent, l, r);
    }
    if (turned) break;
  }
  const double size = bounding_box(pattern.vertices).size().norm();
  if (out.closure_mm < 1e-4 * size) out.open_loop.clear();
  std::vector<Point> used;
  for (std::size_t v = 0; v < placed.size(); ++v) {
    if (placed[v]) used.push_back(out.vertices[v]);
  }
  out.box = bounding_box(used);
  for (std::size_t v = 0; v < placed.size(); ++v) {
    if (!placed[v]) out.vertices[v] = used.front(); // belongs to no paper; out of the way
  }
  return out;
}

Point folded_size(const FoldedForm& form) { return least_rectangle(form.vertices); }

Result<Overlap> overlap_of(const CreasePattern& pattern, const PatternGraph& graph, const FoldedForm& form,
                           const WorkLimits& limits) {
  const double size = bounding_box(pattern.vertices).size().norm();
  const double least = std::max(1e-7 * size, 4 * form.closure_mm);
  for (const double factor : {1.0, 10.0, 0.1, 100.0}) {
    Arrangement a = arranged(pattern, graph, form, factor * least, limits);
    if (a.consistent || (limits.progress && limits.progress->stopped())) return std::move(a.overlap);
  }
  return Error{"The folded form has edges too close together to tell apart; give the vertices more decimals."};
}

} // namespace uc
