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

std::vector<LayeredFace> layered_faces(const PatternProof& proof, bool from_behind) {
  const auto n = proof.graph->faces.size();
  std::vector<std::vector<FaceId>> over(n);
  std::vector<int> under(n, 0);
  for (std::size_t p = 1; p < proof.constraints->pairs.size(); ++p) {
    auto [upper, lower] = proof.constraints->pairs[p];
    if ((proof.order.first_above[p] == 0) != from_behind) std::swap(upper, lower);
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
  std::stable_sort(order.begin(), order.end(), [&](FaceId a, FaceId b) { return level[at(a)] < level[at(b)]; });
  std::vector<LayeredFace> out;
  out.reserve(n);
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
