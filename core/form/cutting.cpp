#include "form/cutting.h"

#include "base/index.h"
#include "form/form_parts.h"

#include <algorithm>
#include <numeric>

namespace uc {
namespace {

/// The pattern of these faces alone, without what they do not touch.
PieceForm part_of(const PieceForm& form, const std::vector<FaceId>& faces) {
  std::vector<char> kept(form.graph.faces.size(), 0);
  for (const FaceId f : faces) kept[at(f)] = 1;
  PieceForm out;
  std::vector<int> vertex(form.pattern.vertices.size(), -1);
  const auto number_of = [&](int v) {
    if (vertex[at(v)] < 0) {
      vertex[at(v)] = static_cast<int>(out.pattern.vertices.size());
      out.pattern.vertices.push_back(form.pattern.vertices[at(v)]);
    }
    return vertex[at(v)];
  };
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const auto [f, g] = form.graph.sides[e];
    const bool left = f >= 0 && kept[at(f)];
    const bool right = g >= 0 && kept[at(g)];
    if (!left && !right) continue;
    const PatternEdge& edge = form.pattern.edges[e];
    const bool rim = left != right && joins(edge.kind);
    const int from = number_of(edge.from);
    const int to = number_of(edge.to);
    out.pattern.edges.push_back({from, to, rim ? EdgeKind::cut : edge.kind});
    out.line_of.push_back(form.line_of[e]);
  }
  out.graph = graph_of(out.pattern);
  return out;
}

} // namespace

Result<CutForm> cut_through(const PieceForm& creased, const Line& line, double keeps, const Point& held) {
  const std::size_t n = creased.graph.faces.size();
  std::vector<char> stays(n, 0);
  for (std::size_t f = 0; f < n; ++f) {
    const Point inside = creased.form.place[f] * inside_of(creased.pattern, creased.graph.faces[f]);
    stays[f] = keeps * line.distance(inside) > 0;
  }
  std::vector<int> part(n);
  std::iota(part.begin(), part.end(), 0);
  const auto root = [&](int f) {
    while (part[at(f)] != f) f = part[at(f)] = part[at(part[at(f)])];
    return f;
  };
  for (std::size_t e = 0; e < creased.pattern.edges.size(); ++e) {
    const auto [f, g] = creased.graph.sides[e];
    if (f >= 0 && g >= 0 && joins(creased.pattern.edges[e].kind) && stays[at(f)] && stays[at(g)])
      part[at(root(f))] = root(g);
  }
  int piece = -1;
  for (const FaceId f : faces_at(creased, held)) {
    if (stays[at(f)]) piece = root(f);
  }
  if (piece < 0) return Error{"the point to keep lies on what is cut away"};
  CutForm out;
  std::vector<FaceId> kept;
  std::vector<int> roots;
  for (std::size_t f = 0; f < n; ++f) {
    if (!stays[f]) continue;
    roots.push_back(root(static_cast<int>(f)));
    if (roots.back() == piece) kept.emplace_back(f);
  }
  std::sort(roots.begin(), roots.end());
  out.pieces = static_cast<int>(std::unique(roots.begin(), roots.end()) - roots.begin());
  if (kept.size() == n) return Error{"nothing lies beyond the cut"};

  out.kept = part_of(creased, kept);
  PieceForm& form = out.kept;
  for (const GraphFace& face : form.graph.faces) {
    const Point p = inside_of(form.pattern, face);
    FaceId was = kept.front();
    for (const FaceId f : kept) {
      if (contains(creased.pattern.vertices, creased.graph.faces[at(f)].cycle, p)) was = f;
    }
    out.parent.push_back(was);
    form.form.place.push_back(creased.form.place[at(was)]);
    form.form.flipped.push_back(creased.form.flipped[at(was)]);
  }
  for (const Segment& mark : creased.marks) {
    const auto faces = faces_at(form, mark.middle());
    if (!faces.empty()) form.marks.push_back(mark);
  }
  lay_out(form);
  if (const auto ok = measure(form); !ok) return Error{ok.error()};
  const LayerConstraints constraints = layer_constraints(form.pattern, form.graph, form.form, form.overlap);
  form.pairs = constraints.pairs;
  form.first_above.assign(form.pairs.size(), 0);
  for (std::size_t p = 1; p < form.pairs.size(); ++p) {
    const auto [f, g] = form.pairs[p];
    form.first_above[p] = static_cast<char>(creased.above(out.parent[at(f)], out.parent[at(g)]));
  }
  name_folds(form);
  return out;
}

} // namespace uc
