#include "form/refolding.h"

#include "base/index.h"
#include "form/form_parts.h"
#include "form/layer_proof.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

namespace uc {
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

namespace {

/// What keeps its order among what moves: pairs that lie to each other as they did.
std::vector<Literal> kept_pairs(const PieceForm& form, const PieceForm& out, const PairIndex& pairs,
                                const std::vector<char>& moved) {
  std::vector<Literal> kept;
  for (std::size_t p = 1; p < pairs.size(); ++p) {
    const auto [f, g] = pairs[p];
    if (!form.overlapping(f, g) || (!moved[at(f)] && !moved[at(g)])) continue;
    const Isometry before = form.form.place[at(f)].inverse() * form.form.place[at(g)];
    const Isometry after = out.form.place[at(f)].inverse() * out.form.place[at(g)];
    if ((before.linear - after.linear).norm() + (before.shift - after.shift).norm() > 1e-6) continue;
    const bool same_side = form.form.flipped[at(f)] == out.form.flipped[at(f)];
    kept.push_back(form.above(f, g) == same_side ? static_cast<Literal>(p) : -static_cast<Literal>(p));
  }
  return kept;
}

/// The faces that come to lie elsewhere.
std::vector<char> moved_faces(const PieceForm& form, const PieceForm& out) {
  std::vector<char> moved(form.graph.faces.size(), 0);
  for (std::size_t f = 0; f < moved.size(); ++f) {
    for (const VertexId v : form.graph.faces[f].cycle) {
      const Point& p = form.pattern.vertices[at(v)];
      if ((form.form.place[f] * p - out.form.place[f] * p).norm() > 4 * closeness(form)) moved[f] = 1;
    }
    if (form.form.flipped[f] != out.form.flipped[f]) moved[f] = 1;
  }
  return moved;
}

/// The faces beside the joint that gapes most.
std::vector<FaceId> torn_faces(const PieceForm& form) {
  std::vector<FaceId> faces;
  double worst = 0;
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const auto [l, r] = form.graph.sides[e];
    if (!joins(form.pattern.edges[e].kind) || l < 0 || r < 0) continue;
    for (const int v : {form.pattern.edges[e].from, form.pattern.edges[e].to}) {
      const Point& p = form.pattern.vertices[at(v)];
      const double gap = (form.form.place[at(l)] * p - form.form.place[at(r)] * p).norm();
      if (gap > worst) worst = gap, faces = {l, r};
    }
  }
  return faces;
}

/// An order under the constraints that keeps as many of the wished literals as it can: none could be added.
LayerOrder kept_order(LayerConstraints& constraints, const std::vector<Literal>& wished) {
  LayerOptions quick;
  quick.clash = quick.prove_most = false;
  const std::size_t firm = constraints.fixed.size();
  for (const Literal l : wished) constraints.fixed.push_back({l, CreaseId()});
  LayerOrder order = ordered_layers(constraints, quick);
  constraints.fixed.resize(firm);
  if (order.status == LayerStatus::found || wished.empty()) return order;
  if (constraints.fixed.empty()) return ordered_layers(constraints, quick);
  std::vector<DirectionPair> pairs;
  pairs.reserve(wished.size());
  for (const Literal l : wished) pairs.push_back({l, constraints.fixed.front().literal, true});
  return ordered_layers(constraints, pairs, false, quick);
}

/// Why there is no order: a smallest set of faces that have none, looked for as long as a folder would wait.
Error no_order(const LayerConstraints& constraints) {
  LayerOptions soon;
  soon.seconds = 0.5;
  const auto clash = clashing_faces(constraints, {}, soon);
  return Error{clash.empty() ? std::string("the paper would pass through itself")
                             : fmt::format("the paper would pass through itself (faces {})", listed(clash))};
}

} // namespace

Result<PieceForm> refolded(const PieceForm& form, const Refolding& to) {
  PieceForm out = form;
  out.form.place = to.place;
  for (std::size_t f = 0; f < to.place.size(); ++f)
    out.form.flipped[f] = static_cast<char>(to.place[f].linear.determinant() < 0);
  lay_out(out);
  if (out.form.closure_mm > 4 * closeness(out))
    return Error{fmt::format("the paper would tear (between faces {})", listed(torn_faces(out)))};
  const std::vector<char> moved = moved_faces(form, out);
  for (const auto* creases : {&to.turned, &to.may_turn}) {
    for (const CreaseId e : *creases) {
      if (folds(out.pattern.edges[at(e)].kind)) out.pattern.edges[at(e)].kind = EdgeKind::undirected;
    }
  }
  if (const auto ok = measure(out); !ok) return Error{ok.error()};
  for (const auto& [e, kind] : to.senses) {
    if (folds(out.pattern.edges[at(e)].kind)) out.pattern.edges[at(e)].kind = kind;
  }
  LayerConstraints constraints = layer_constraints(out.pattern, out.graph, out.form, out.overlap);
  for (std::size_t p = 1; p < constraints.pairs.size(); ++p) {
    const auto [f, g] = constraints.pairs[p];
    if (moved[at(f)] || moved[at(g)] || !form.overlapping(f, g)) continue;
    constraints.fixed.push_back({form.above(f, g) ? static_cast<Literal>(p) : -static_cast<Literal>(p), CreaseId()});
  }
  for (const auto& [upper, lower] : to.above) {
    if (const Literal l = constraints.pairs.above(upper, lower)) constraints.fixed.push_back({l, CreaseId()});
  }
  for (const CreaseId e : to.turned) {
    const auto [f, g] = out.graph.sides[at(e)];
    const Literal l = f >= 0 && g >= 0 ? constraints.pairs.above(FaceId(f), FaceId(g)) : 0;
    if (l == 0 || !form.overlapping(FaceId(f), FaceId(g))) continue;
    const bool same_side = form.form.flipped[at(f)] == out.form.flipped[at(f)];
    constraints.fixed.push_back({form.above(FaceId(f), FaceId(g)) == same_side ? -l : l, e});
  }
  LayerOrder order = kept_order(constraints, kept_pairs(form, out, constraints.pairs, moved));
  if (order.status != LayerStatus::found) return no_order(constraints);
  out.pairs = constraints.pairs;
  out.first_above = std::move(order.first_above);
  if (const auto clash = broken_by(constraints, out); !clash.empty())
    return Error{fmt::format("the paper would pass through itself (faces {})", listed(clash))};
  name_folds(out);
  return out;
}

Result<std::vector<Isometry>> places_after(const PieceForm& form, const std::vector<CreaseId>& folded,
                                           const std::vector<CreaseId>& opens, FaceId stays) {
  CreasePattern pattern = form.pattern;
  for (const CreaseId e : folded) {
    if (!folds(pattern.edges[at(e)].kind)) pattern.edges[at(e)].kind = EdgeKind::undirected;
  }
  for (const CreaseId e : opens) {
    if (folds(pattern.edges[at(e)].kind)) pattern.edges[at(e)].kind = EdgeKind::unfolded;
  }
  auto placed = folded_form(pattern, form.graph);
  if (!placed) return Error{placed.error()};
  if (!placed->open_loop.empty())
    return Error{fmt::format("the paper would tear (round faces {})", listed(placed->open_loop))};
  const Isometry back = form.form.place[at(stays)] * placed->place[at(stays)].inverse();
  std::vector<Isometry> place = std::move(placed).value().place;
  for (Isometry& p : place) p = back * p;
  return place;
}

FaceId largest_part(const PieceForm& form, const std::vector<CreaseId>& edges) {
  std::vector<char> divides(form.pattern.edges.size(), 0);
  for (const CreaseId e : edges) divides[at(e)] = 1;
  std::vector<int> part(form.graph.faces.size());
  std::iota(part.begin(), part.end(), 0);
  const auto root = [&](int f) {
    while (part[at(f)] != f) f = part[at(f)] = part[at(part[at(f)])];
    return f;
  };
  for (std::size_t e = 0; e < divides.size(); ++e) {
    const auto [f, g] = form.graph.sides[e];
    if (f >= 0 && g >= 0 && !divides[e]) part[at(root(f))] = root(g);
  }
  std::vector<double> area(part.size(), 0);
  for (std::size_t f = 0; f < part.size(); ++f)
    area[at(root(static_cast<int>(f)))] += std::abs(signed_area(outline_of(form.pattern, form.graph.faces[f])));
  // Of parts as large as each other the first, whatever rounding makes of their sums.
  const double most = *std::max_element(area.begin(), area.end());
  return FaceId(std::find_if(area.begin(), area.end(), [&](double a) { return a > most * (1 - 1e-9); }) - area.begin());
}

Result<PieceForm> opened(const PieceForm& form, const std::vector<CreaseId>& edges) {
  auto place = places_after(form, {}, edges, largest_part(form, edges));
  if (!place) return Error{"the other creases do not let it open: " + place.error()};
  auto open = refolded(form, Refolding{std::move(place).value(), {}, {}, {}, {}});
  if (!open) return Error{"the other creases do not let it open: " + open.error()};
  return open;
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

} // namespace uc
