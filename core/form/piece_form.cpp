#include "form/piece_form.h"

#include "base/index.h"
#include "form/form_parts.h"
#include "form/local_proof.h"

#include <algorithm>

namespace uc {
Point inside_of(const CreasePattern& pattern, const GraphFace& face) {
  Point sum = Point::Zero();
  for (const VertexId v : face.cycle) sum += pattern.vertices[at(v)];
  const Point mean = sum / static_cast<double>(face.cycle.size());
  if (contains(pattern.vertices, face.cycle, mean)) return mean;
  // Not convex: the middle of a chord from a corner that bulges out.
  const Polygon outline = outline_of(pattern, face);
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Point& p = outline[(i + outline.size() - 1) % outline.size()];
    const Point& q = outline[(i + 1) % outline.size()];
    const Point middle = (p + q + 2 * outline[i]) / 4;
    if (contains(pattern.vertices, face.cycle, middle)) return middle;
  }
  return mean;
}

bool PieceForm::above(FaceId upper, FaceId lower) const {
  const Literal l = pairs.above(upper, lower);
  return (first_above[at(std::abs(l))] != 0) == (l > 0);
}

std::vector<FaceId> PieceForm::layers_of(const FoldedCell& cell) const {
  std::vector<FaceId> faces = cell.faces;
  std::sort(faces.begin(), faces.end(), [&](FaceId f, FaceId g) { return f != g && above(f, g); });
  return faces;
}

PieceForm bare_form(const Polygon& sheet) {
  PieceForm form;
  form.pattern.vertices = sheet;
  const int n = static_cast<int>(sheet.size());
  for (int i = 0; i < n; ++i) form.pattern.edges.push_back({i, (i + 1) % n, EdgeKind::raw});
  form.line_of.assign(at(n), -1);
  form.graph = graph_of(form.pattern);
  form.form.place = {Isometry::identity()};
  form.form.flipped = {0};
  lay_out(form);
  if (!measure(form)) throw std::logic_error("a bare sheet overlaps itself");
  form.first_above = {0};
  return form;
}

CreasePattern laid_over(CreasePattern pattern, const std::vector<NewCrease>& creases) {
  for (const NewCrease& c : creases) {
    const int first = static_cast<int>(pattern.vertices.size());
    pattern.vertices.push_back(c.on_sheet.from);
    pattern.vertices.push_back(c.on_sheet.to);
    pattern.edges.push_back({first, first + 1, EdgeKind::unfolded});
  }
  return pattern;
}

Result<PieceForm> with_creases(const PieceForm& form, const std::vector<NewCrease>& creases,
                               std::vector<FaceId>* parent) {
  const CreasePattern rough = laid_over(form.pattern, creases);
  HealOptions options;
  options.tolerance_mm = closeness(form);
  options.split_crossings = true;
  std::vector<CreaseId> source;
  PieceForm out;
  out.marks = form.marks;
  out.pattern = healed(rough, options, &source).pattern;
  for (const CreaseId s : source)
    out.line_of.push_back(at(s) < form.line_of.size() ? form.line_of[at(s)]
                                                      : creases[at(s) - form.line_of.size()].line);
  out.graph = graph_of(out.pattern);
  std::vector<FaceId> parents;
  std::vector<Box> boxes;
  for (const GraphFace& face : form.graph.faces) boxes.push_back(bounding_box(outline_of(form.pattern, face)));
  for (const GraphFace& face : out.graph.faces) {
    const Point p = inside_of(out.pattern, face);
    FaceId found(0);
    for (std::size_t f = 0; f < boxes.size(); ++f) {
      const bool near = p.x() >= boxes[f].low.x() && p.x() <= boxes[f].high.x() && p.y() >= boxes[f].low.y() &&
                        p.y() <= boxes[f].high.y();
      if (near && contains(form.pattern.vertices, form.graph.faces[f].cycle, p)) found = FaceId(f);
    }
    parents.push_back(found);
    out.form.place.push_back(form.form.place[at(found)]);
    out.form.flipped.push_back(form.form.flipped[at(found)]);
  }
  lay_out(out);
  if (const auto ok = measure(out); !ok) return Error{ok.error()};
  const LayerConstraints constraints = layer_constraints(out.pattern, out.graph, out.form, out.overlap);
  out.pairs = constraints.pairs;
  out.first_above.assign(out.pairs.size(), 0);
  for (std::size_t p = 1; p < out.pairs.size(); ++p) {
    const auto [f, g] = out.pairs[p];
    out.first_above[p] = static_cast<char>(form.above(parents[at(f)], parents[at(g)]));
  }
  name_folds(out);
  if (parent) *parent = std::move(parents);
  return out;
}

std::vector<FaceId> faces_at(const PieceForm& form, const Point& on_sheet) {
  std::vector<FaceId> faces;
  const auto near_edge = [&](int from, int to) {
    const Point& a = form.pattern.vertices[at(from)];
    const Point d = form.pattern.vertices[at(to)] - a;
    const double t = std::clamp((on_sheet - a).dot(d) / d.squaredNorm(), 0.0, 1.0);
    return (a + t * d - on_sheet).norm() < 2 * closeness(form);
  };
  for (std::size_t f = 0; f < form.graph.faces.size(); ++f) {
    const auto& cycle = form.graph.faces[f].cycle;
    bool holds = contains(form.pattern.vertices, cycle, on_sheet);
    for (std::size_t i = 0; !holds && i < cycle.size(); ++i) holds = near_edge(cycle[i], cycle[(i + 1) % cycle.size()]);
    if (holds) faces.emplace_back(f);
  }
  return faces;
}

std::vector<FaceId> broken_layers(const PieceForm& form) {
  return broken_by(layer_constraints(form.pattern, form.graph, form.form, form.overlap), form);
}

} // namespace uc
