#include "programme/form_before.h"

#include "base/index.h"
#include "programme/folding.h"

#include <algorithm>

namespace uc {
namespace {

/// The parts of a segment inside an outline.
std::vector<Segment> inside(const Segment& span, const Polygon& outline) {
  std::vector<Segment> parts;
  if (span.length() < 1e-9) return parts;
  const Point way = (span.to - span.from) / span.length();
  for (const Segment& chord : clip(Line::through(span.from, span.to), outline)) {
    double low = way.dot(chord.from - span.from);
    double high = way.dot(chord.to - span.from);
    if (low > high) std::swap(low, high);
    low = std::max(low, 0.0);
    high = std::min(high, span.length());
    if (high - low > 1e-9) parts.push_back({span.from + low * way, span.from + high * way});
  }
  return parts;
}

/// Creases on a flat sheet, apart into those that bound faces and those that end inside one.
struct FlatCreases {
  std::vector<NewCrease> bounding;
  std::vector<Segment> hanging;
};

FlatCreases apart(const Polygon& outline, const std::vector<NewCrease>& creases) {
  const int corners = static_cast<int>(outline.size());
  const CreasePattern rough = laid_over(bare_form(outline).pattern, creases);
  HealOptions options;
  options.split_crossings = true;
  std::vector<CreaseId> source;
  const CreasePattern p = healed(rough, options, &source).pattern;
  std::vector<std::vector<CreaseId>> at_vertex(p.vertices.size());
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    at_vertex[at(p.edges[e].from)].emplace_back(e);
    at_vertex[at(p.edges[e].to)].emplace_back(e);
  }
  std::vector<std::size_t> degree;
  std::vector<VertexId> loose;
  for (std::size_t v = 0; v < at_vertex.size(); ++v) {
    degree.push_back(at_vertex[v].size());
    if (degree[v] == 1) loose.emplace_back(v);
  }
  std::vector<char> hangs(p.edges.size(), 0);
  while (!loose.empty()) {
    const VertexId v = loose.back();
    loose.pop_back();
    for (const CreaseId e : at_vertex[at(v)]) {
      if (hangs[at(e)]) continue;
      hangs[at(e)] = 1;
      if (--degree[at(p.edges[at(e)].other(v))] == 1) loose.push_back(p.edges[at(e)].other(v));
    }
  }
  FlatCreases out;
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    if (p.edges[e].kind == EdgeKind::raw) continue;
    const Segment piece = p.segment(CreaseId(e));
    if (hangs[e])
      out.hanging.push_back(piece);
    else
      out.bounding.push_back({piece, creases[at(source[e] - corners)].line});
  }
  return out;
}

} // namespace

Result<Form> form_before(const Programme& programme, std::size_t move) {
  const SheetState state = state_after(programme, static_cast<int>(std::min(move, programme.moves.size())));
  Form form{{}, state.underside_up, state.turned_deg};
  if (programme.folding) {
    form.pieces.push_back(std::make_shared<const PieceForm>(programme.folding->form_before(move)));
    return form;
  }
  const Polygon outline = outline_before(programme, move);
  std::vector<NewCrease> creases;
  std::vector<Segment> marks;
  for (std::size_t line = 0; line < state.creases.size(); ++line) {
    for (const Segment& span : state.creases[line].all()) {
      for (const Segment& part : inside(span, outline)) {
        if (state.creases[line].pinch)
          marks.push_back(part);
        else
          creases.push_back({part, static_cast<int>(line)});
      }
    }
  }
  FlatCreases flat = apart(outline, creases);
  auto open = with_creases(bare_form(outline), flat.bounding);
  if (!open) return Error{open.error()};
  PieceForm piece = std::move(open).value();
  piece.marks = std::move(marks);
  piece.marks.insert(piece.marks.end(), flat.hanging.begin(), flat.hanging.end());
  form.pieces.push_back(std::make_shared<const PieceForm>(std::move(piece)));
  return form;
}

} // namespace uc
