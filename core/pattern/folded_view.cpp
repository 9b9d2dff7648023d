#include "pattern/folded_view.h"

#include "base/index.h"

#include <algorithm>

namespace uc {
FoldedView folded_view(const PatternProof& proof, bool from_behind) {
  const Overlap& o = *proof.overlap;
  const auto seen = [&](Point p) {
    if (from_behind) p.x() = proof.form->box.low.x() + proof.form->box.high.x() - p.x();
    return p;
  };
  FoldedView out;
  out.box = proof.form->box;
  std::vector<FaceId> top(o.cells.size());
  for (std::size_t c = 0; c < o.cells.size(); ++c) {
    const FoldedCell& cell = o.cells[c];
    if (cell.faces.empty() || cell.sliver) continue;
    const std::vector<FaceId> layers = proof.layers_of(cell);
    top[c] = from_behind ? layers.back() : layers.front();
    FoldedPatch patch;
    for (const VertexId v : cell.cycle) patch.outline.push_back(seen(o.vertices[at(v)]));
    if (from_behind) std::reverse(patch.outline.begin(), patch.outline.end());
    patch.face = top[c];
    patch.coloured = (proof.form->flipped[at(top[c])] != 0) == from_behind;
    patch.layers = static_cast<int>(layers.size());
    out.patches.push_back(std::move(patch));
  }
  for (const FoldedPiece& p : o.pieces) {
    const FaceId left = p.left_cell < 0 ? FaceId() : top[at(p.left_cell)];
    const FaceId right = p.right_cell < 0 ? FaceId() : top[at(p.right_cell)];
    if (left == right) continue;
    // The line shows as what the topmost face that ends here ends with.
    bool raw = false;
    for (const CreaseId e : p.edges) {
      const auto& [l, r] = proof.graph->sides[at(e)];
      const bool ends = l == left || r == left || l == right || r == right;
      raw = raw || (ends && !joins(proof.pattern.edges[at(e)].kind));
    }
    out.edges.push_back({{seen(o.vertices[at(p.from)]), seen(o.vertices[at(p.to)])}, raw});
  }
  return out;
}

Figure folded_figure(const FoldedView& view) {
  Figure figure;
  for (const FoldedEdge& e : view.edges)
    figure.lines.push_back({e.segment, e.raw ? LineStyle::raw_edge : LineStyle::undirected});
  return figure;
}

namespace {

struct Levels {
  std::vector<FaceId> order; // lowest first
  std::vector<int> level;    // per face: how many lie below it, one on another
};

/// From one order of all faces; the time of all cells, not of all pairs.
Levels levels_by_height(const PatternProof& proof, bool from_behind) {
  const auto n = proof.graph->faces.size();
  Levels out{{}, std::vector<int>(n, 0)};
  for (std::size_t f = 0; f < n; ++f) out.order.emplace_back(f);
  std::sort(out.order.begin(), out.order.end(), [&](FaceId a, FaceId b) {
    return (proof.simple->height[at(a)] < proof.simple->height[at(b)]) != from_behind;
  });
  std::vector<std::vector<std::size_t>> cells_of(n);
  const auto& cells = proof.overlap->cells;
  for (std::size_t c = 0; c < cells.size(); ++c) {
    if (cells[c].sliver) continue;
    for (const FaceId f : cells[c].faces) cells_of[at(f)].push_back(c);
  }
  std::vector<int> next(cells.size(), 0); // level of what comes to lie on a cell
  for (const FaceId f : out.order) {
    int& level = out.level[at(f)];
    for (const std::size_t c : cells_of[at(f)]) level = std::max(level, next[c]);
    for (const std::size_t c : cells_of[at(f)]) next[c] = level + 1;
  }
  return out;
}

Levels levels_by_pairs(const PatternProof& proof, bool from_behind) {
  const auto n = proof.graph->faces.size();
  std::vector<std::vector<FaceId>> over(n);
  std::vector<int> under(n, 0);
  for (auto [upper, lower] : proof.overlapping()) {
    if (from_behind) std::swap(upper, lower);
    over[at(lower)].push_back(upper);
    ++under[at(upper)];
  }
  std::vector<int> level(n, 0);
  std::vector<FaceId> order;
  std::vector<char> taken(n, 0);
  const auto take = [&](FaceId f) {
    taken[at(f)] = 1;
    order.push_back(f);
  };
  for (std::size_t f = 0; f < n; ++f) {
    if (under[f] == 0) take(FaceId(f));
  }
  for (std::size_t i = 0; order.size() < n || i < order.size(); ++i) {
    if (i == order.size()) {
      std::size_t least = n;
      for (std::size_t f = 0; f < n; ++f) {
        if (!taken[f] && (least == n || under[f] < under[least])) least = f;
      }
      take(FaceId(least));
    }
    const FaceId f = order[i];
    for (const FaceId g : over[at(f)]) {
      if (!taken[at(g)]) level[at(g)] = std::max(level[at(g)], level[at(f)] + 1);
      if (--under[at(g)] == 0 && !taken[at(g)]) take(g);
    }
  }
  return {std::move(order), std::move(level)};
}

} // namespace

std::vector<LayeredFace> layered_faces(const PatternProof& proof, bool from_behind) {
  auto [order, level] = proof.simple ? levels_by_height(proof, from_behind) : levels_by_pairs(proof, from_behind);
  std::stable_sort(order.begin(), order.end(), [&, &l = level](FaceId a, FaceId b) { return l[at(a)] < l[at(b)]; });
  std::vector<LayeredFace> out;
  out.reserve(order.size());
  const double middle = proof.form->box.low.x() + proof.form->box.high.x();
  for (const FaceId f : order) {
    LayeredFace one;
    one.face = f;
    one.level = level[at(f)];
    one.coloured = (proof.form->flipped[at(f)] != 0) == from_behind;
    for (const VertexId v : proof.graph->faces[at(f)].cycle) {
      Point p = proof.form->place[at(f)] * proof.pattern.vertices[at(v)];
      if (from_behind) p.x() = middle - p.x();
      one.outline.push_back(p);
    }
    out.push_back(std::move(one));
  }
  return out;
}

std::vector<FaceId> faces_at(const PatternProof& proof, const Point& folded) {
  for (const FoldedCell& c : proof.overlap->cells) {
    if (!c.faces.empty() && contains(proof.overlap->vertices, c.cycle, folded)) return proof.layers_of(c);
  }
  return {};
}

} // namespace uc
