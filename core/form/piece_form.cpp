#include "form/piece_form.h"

#include "base/index.h"
#include "form/layer_proof.h"
#include "form/local_proof.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

namespace uc {
namespace {

/// Corners are taken for joined when they lie closer than this part of the sheet's diagonal.
double closeness(const PieceForm& form) { return snap_tolerance(form.pattern); }

/// The vertices follow from the places of the faces.
void lay_out(PieceForm& form) {
  FoldedForm& f = form.form;
  f.vertices.assign(form.pattern.vertices.size(), Point::Zero());
  for (std::size_t k = 0; k < form.graph.faces.size(); ++k) {
    for (const VertexId v : form.graph.faces[k].cycle) f.vertices[at(v)] = f.place[k] * form.pattern.vertices[at(v)];
    for (const auto& hole : form.graph.faces[k].holes) {
      for (const int v : hole) f.vertices[at(v)] = f.place[k] * form.pattern.vertices[at(v)];
    }
  }
  f.box = bounding_box(f.vertices);
  f.closure_mm = 0;
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const auto [l, r] = form.graph.sides[e];
    if (!joins(form.pattern.edges[e].kind) || l < 0 || r < 0) continue;
    for (const int v : {form.pattern.edges[e].from, form.pattern.edges[e].to}) {
      const Point& p = form.pattern.vertices[at(v)];
      f.closure_mm = std::max(f.closure_mm, (f.place[at(l)] * p - f.place[at(r)] * p).norm());
    }
  }
}

/// Mountains and valleys follow from which of two folded faces lies above.
void name_folds(PieceForm& form) {
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    EdgeKind& kind = form.pattern.edges[e].kind;
    const auto [f, g] = form.graph.sides[e];
    if (!joins(kind) || f < 0 || g < 0) continue;
    if (form.form.flipped[at(f)] == form.form.flipped[at(g)]) {
      kind = EdgeKind::unfolded;
      continue;
    }
    // A valley brings the coloured sides together: the face that lies coloured side up is below.
    const bool valley = form.form.flipped[at(f)] ? form.above(f, g) : form.above(g, f);
    kind = valley ? EdgeKind::valley : EdgeKind::mountain;
  }
}

/// What lies over what, as far as places tell, with every fold between faces that were turned differently.
Status measure(PieceForm& form) {
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    EdgeKind& kind = form.pattern.edges[e].kind;
    const auto [f, g] = form.graph.sides[e];
    if (!joins(kind) || f < 0 || g < 0) continue;
    const bool folded = form.form.flipped[at(f)] != form.form.flipped[at(g)];
    if (folded != folds(kind)) kind = folded ? EdgeKind::undirected : EdgeKind::unfolded;
  }
  auto overlap = overlap_of(form.pattern, form.graph, form.form);
  if (!overlap) return Error{overlap.error()};
  form.overlap = std::move(overlap).value();
  return Done{};
}

/// The pairs of a stack in which the order runs in a circle; empty when the faces can be sorted.
std::vector<FaceId> circle_in(const PieceForm& form, const std::vector<FaceId>& stack) {
  std::vector<std::size_t> over(stack.size(), 0);
  for (std::size_t i = 0; i < stack.size(); ++i) {
    for (std::size_t k = 0; k < stack.size(); ++k) over[i] += i != k && form.above(stack[k], stack[i]);
  }
  std::vector<std::size_t> sorted(stack.size());
  std::iota(sorted.begin(), sorted.end(), std::size_t{0});
  std::sort(sorted.begin(), sorted.end(), [&](std::size_t a, std::size_t b) { return over[a] < over[b]; });
  for (std::size_t i = 0; i < sorted.size(); ++i) {
    if (over[sorted[i]] != i) return stack;
  }
  return {};
}

std::vector<FaceId> broken_by(const LayerConstraints& constraints, const PieceForm& form) {
  const auto holds = [&](Literal l) { return (form.first_above[at(std::abs(l))] != 0) == (l > 0); };
  const auto faces_of = [&](std::initializer_list<Literal> literals) {
    std::vector<FaceId> faces;
    for (const Literal l : literals) {
      const auto [f, g] = constraints.pairs[at(std::abs(l))];
      faces.push_back(f);
      faces.push_back(g);
    }
    std::sort(faces.begin(), faces.end());
    faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
    return faces;
  };
  for (const auto& fixed : constraints.fixed) {
    if (!holds(fixed.literal)) return faces_of({fixed.literal});
  }
  for (const auto& [a, b] : constraints.equal) {
    if (holds(a) != holds(b)) return faces_of({a, b});
  }
  for (const auto& e : constraints.even) {
    if ((holds(e[0]) != holds(e[1])) != (holds(e[2]) != holds(e[3]))) return faces_of({e[0], e[1], e[2], e[3]});
  }
  for (const auto& stack : constraints.stacks) {
    if (auto circle = circle_in(form, stack); !circle.empty()) return circle;
  }
  return {};
}

std::string listed(const std::vector<FaceId>& faces) { return fmt::format("{}", fmt::join(numbers_of(faces), ", ")); }

/// A point inside a face, away from its edges.
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

} // namespace

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
  for (const GraphFace& face : out.graph.faces) {
    const Point p = inside_of(out.pattern, face);
    FaceId found(0);
    for (std::size_t f = 0; f < form.graph.faces.size(); ++f) {
      if (contains(form.pattern.vertices, form.graph.faces[f].cycle, p)) found = FaceId(f);
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

Result<PieceForm> refolded(const PieceForm& form, const std::vector<char>& moves, const Isometry& where, bool on_top) {
  PieceForm out = form;
  for (std::size_t f = 0; f < moves.size(); ++f) {
    if (!moves[f]) continue;
    out.form.place[f] = where * out.form.place[f];
    out.form.flipped[f] = static_cast<char>(out.form.flipped[f] == 0);
  }
  lay_out(out);
  if (out.form.closure_mm > 4 * closeness(out)) return Error{"the paper would tear where it is joined off the crease"};
  if (const auto ok = measure(out); !ok) return Error{ok.error()};
  const LayerConstraints constraints = layer_constraints(out.pattern, out.graph, out.form, out.overlap);
  out.pairs = constraints.pairs;
  out.first_above.assign(out.pairs.size(), 0);
  for (std::size_t p = 1; p < out.pairs.size(); ++p) {
    const auto [f, g] = out.pairs[p];
    bool first = false;
    if (moves[at(f)] != moves[at(g)]) {
      first = (moves[at(f)] != 0) == on_top;
    } else {
      if (!form.overlapping(f, g)) return Error{"the paper lies too close to itself to tell what is above"};
      first = form.above(f, g) != (moves[at(f)] != 0);
    }
    out.first_above[p] = static_cast<char>(first);
  }
  if (const auto clash = broken_by(constraints, out); !clash.empty())
    return Error{fmt::format("paper would pass through paper (faces {})", listed(clash))};
  name_folds(out);
  return out;
}

Result<PieceForm> opened(const PieceForm& form, const std::vector<CreaseId>& edges) {
  PieceForm out = form;
  for (const CreaseId e : edges) {
    if (folds(out.pattern.edges[at(e)].kind)) out.pattern.edges[at(e)].kind = EdgeKind::unfolded;
  }
  auto placed = folded_form(out.pattern, out.graph);
  if (!placed) return Error{placed.error()};
  FoldedForm now = std::move(placed).value();
  if (!now.open_loop.empty())
    return Error{fmt::format("the other creases do not let it open (round faces {})", listed(now.open_loop))};
  // The part that stays is the largest that no opened crease divides.
  std::vector<int> part(out.graph.faces.size());
  std::iota(part.begin(), part.end(), 0);
  const auto root = [&](int f) {
    while (part[at(f)] != f) f = part[at(f)] = part[at(part[at(f)])];
    return f;
  };
  for (std::size_t e = 0; e < out.pattern.edges.size(); ++e) {
    const auto [f, g] = out.graph.sides[e];
    if (f >= 0 && g >= 0 && out.pattern.edges[e].kind == form.pattern.edges[e].kind) part[at(root(f))] = root(g);
  }
  std::vector<double> area(part.size(), 0);
  for (std::size_t f = 0; f < part.size(); ++f)
    area[at(root(static_cast<int>(f)))] += std::abs(signed_area(outline_of(out.pattern, out.graph.faces[f])));
  const auto anchor = static_cast<std::size_t>(std::max_element(area.begin(), area.end()) - area.begin());
  const Isometry back = form.form.place[anchor] * now.place[anchor].inverse();
  const bool turned = form.form.flipped[anchor] != now.flipped[anchor];
  for (Isometry& p : now.place) p = back * p;
  for (char& f : now.flipped) f = static_cast<char>((f != 0) != turned);
  out.form = std::move(now);
  lay_out(out);
  auto overlap = overlap_of(out.pattern, out.graph, out.form);
  if (!overlap) return Error{overlap.error()};
  out.overlap = std::move(overlap).value();
  LayerConstraints constraints = layer_constraints(out.pattern, out.graph, out.form, out.overlap);
  const std::size_t by_creases = constraints.fixed.size();
  for (std::size_t p = 1; p < constraints.pairs.size(); ++p) {
    const auto [f, g] = constraints.pairs[p];
    if (!form.overlapping(f, g)) continue;
    const Isometry before = form.form.place[at(f)].inverse() * form.form.place[at(g)];
    const Isometry after = out.form.place[at(f)].inverse() * out.form.place[at(g)];
    const double moved = (before.linear - after.linear).norm() + (before.shift - after.shift).norm();
    if (moved > 1e-6) continue;
    const bool same_side = form.form.flipped[at(f)] == out.form.flipped[at(f)];
    const Literal l = static_cast<Literal>(p);
    constraints.fixed.push_back({form.above(f, g) == same_side ? l : -l, edges.front()});
  }
  LayerOrder order = ordered_layers(constraints);
  if (order.status != LayerStatus::found) {
    constraints.fixed.resize(by_creases);
    order = ordered_layers(constraints);
  }
  if (order.status != LayerStatus::found)
    return Error{fmt::format("the other creases do not let it open (faces {} clash)", listed(order.clash))};
  out.pairs = constraints.pairs;
  out.first_above = std::move(order.first_above);
  if (const auto clash = broken_by(constraints, out); !clash.empty())
    return Error{fmt::format("paper would pass through paper (faces {})", listed(clash))};
  name_folds(out);
  return out;
}

Result<PieceForm> tucked(const PieceForm& form, const std::vector<char>& flap, const std::vector<char>& under,
                         bool from_below) {
  PieceForm out = form;
  LayerConstraints constraints = layer_constraints(out.pattern, out.graph, out.form, out.overlap);
  bool any = false;
  for (std::size_t p = 1; p < constraints.pairs.size(); ++p) {
    const auto [f, g] = constraints.pairs[p];
    const Literal l = static_cast<Literal>(p); // f above g
    const bool f_flap = flap[at(f)] != 0;
    const bool g_flap = flap[at(g)] != 0;
    if (f_flap == g_flap) {
      constraints.fixed.push_back({form.above(f, g) ? l : -l, CreaseId()});
    } else if (under[at(f_flap ? g : f)] != 0) {
      any = true;
      constraints.fixed.push_back({f_flap == from_below ? l : -l, CreaseId()});
    }
  }
  if (!any) return Error{"it does not lie over what it is to go under"};
  LayerOrder order = ordered_layers(constraints);
  if (order.status != LayerStatus::found)
    return Error{fmt::format("paper would pass through paper (faces {})", listed(order.clash))};
  out.pairs = constraints.pairs;
  out.first_above = std::move(order.first_above);
  name_folds(out);
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
