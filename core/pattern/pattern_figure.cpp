#include "pattern/pattern_figure.h"

#include <algorithm>

namespace uc {

LineStyle style_of(EdgeKind kind) {
  switch (kind) {
  case EdgeKind::raw:
    return LineStyle::raw_edge;
  case EdgeKind::mountain:
    return LineStyle::mountain;
  case EdgeKind::valley:
    return LineStyle::valley;
  case EdgeKind::unfolded:
    return LineStyle::unfolded;
  case EdgeKind::cut:
    return LineStyle::cut;
  case EdgeKind::undirected:
    break;
  }
  return LineStyle::undirected;
}

Polygon sheet_outline(const CreasePattern& pattern) {
  CreasePattern raw;
  raw.vertices = pattern.vertices;
  for (const PatternEdge& e : pattern.edges) {
    if (e.kind == EdgeKind::raw) raw.edges.push_back(e);
  }
  std::vector<std::array<VertexId, 2>> pairs;
  for (const PatternEdge& e : raw.edges) pairs.push_back({e.from, e.to});
  const GraphFaces faces = graph_faces(raw.vertices, pairs, VertexStars(raw.vertices, pairs));
  Polygon best;
  double most = 0;
  for (const GraphFace& f : faces.faces) {
    const Polygon outline = outline_of(raw, f);
    const double area = signed_area(outline);
    if (area <= most) continue;
    most = area;
    best = outline;
  }
  return best;
}

Figure pattern_figure(const CreasePattern& pattern, bool underside_up) {
  Figure out;
  out.underside_up = underside_up;
  if (underside_up && !pattern.vertices.empty()) {
    const Box box = bounding_box(pattern.vertices);
    out.view.linear << -1, 0, 0, 1;
    out.view.shift = {box.low.x() + box.high.x(), 0};
  }
  out.outline = sheet_outline(pattern);
  for (Point& p : out.outline) p = out.view * p;
  if (underside_up) std::reverse(out.outline.begin(), out.outline.end());
  out.lines.reserve(pattern.edges.size());
  for (std::size_t i = 0; i < pattern.edges.size(); ++i) {
    const Segment s = pattern.segment(CreaseId(i));
    const EdgeKind kind = pattern.edges[i].kind;
    FigureLine line;
    line.segment = {out.view * s.from, out.view * s.to};
    line.style = style_of(underside_up ? turned_over(kind) : kind);
    line.element = static_cast<int>(i) + 1;
    out.lines.push_back(line);
  }
  return out;
}

} // namespace uc
