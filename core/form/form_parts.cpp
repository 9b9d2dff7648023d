#include "form/form_parts.h"

#include "base/index.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

namespace uc {
namespace {

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

} // namespace

double closeness(const PieceForm& form) { return snap_tolerance(form.pattern); }

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

} // namespace uc
