#include "form/proof.h"

#include "base/index.h"

#include <algorithm>
#include <chrono>

namespace uc {
bool PatternProof::above(FaceId upper, FaceId lower) const {
  if (simple) return simple->height[at(upper)] > simple->height[at(lower)];
  const Literal l = constraints->above(upper, lower);
  return l > 0 ? order.first_above[at(l)] != 0 : order.first_above[at(-l)] == 0;
}

std::vector<FaceId> PatternProof::layers_of(const FoldedCell& cell) const {
  std::vector<FaceId> out = cell.faces;
  if (simple) {
    std::sort(out.begin(), out.end(), [&](FaceId a, FaceId b) { return above(a, b); });
    return out;
  }
  std::vector<int> over(graph->faces.size(), 0);
  for (const FaceId f : cell.faces) {
    over[at(f)] = static_cast<int>(
        std::count_if(cell.faces.begin(), cell.faces.end(), [&](FaceId g) { return g != f && above(g, f); }));
  }
  std::sort(out.begin(), out.end(), [&](FaceId a, FaceId b) { return over[at(a)] < over[at(b)]; });
  return out;
}

std::vector<std::array<FaceId, 2>> PatternProof::overlapping() const {
  const PairIndex own =
      simple ? PairIndex(static_cast<int>(graph->faces.size()), largest_stacks(*overlap)) : PairIndex();
  const PairIndex& pairs = simple ? own : constraints->pairs;
  std::vector<std::array<FaceId, 2>> out;
  out.reserve(pairs.size() - 1);
  for (std::size_t p = 1; p < pairs.size(); ++p) {
    const auto [a, b] = pairs[p];
    const bool first = simple ? above(a, b) : order.first_above[p] != 0;
    out.push_back(first ? std::array{a, b} : std::array{b, a});
  }
  return out;
}

Result<PatternProof> proved(const HealedPattern& healed, const ProofOptions& options) {
  PatternProof out;
  out.pattern = healed.pattern;
  out.violations = crossing_violations(healed.crossings);
  if (healed.crossings.empty()) {
    out.graph = graph_of(out.pattern);
    out.violations = local_violations(out.pattern, *out.graph);
  } else {
    // Which vertices lie inside the paper is read from a copy in which the crossings are split.
    HealOptions split;
    split.split_crossings = true;
    out.graph = graph_of(uc::healed(healed.pattern, split).pattern);
    std::vector<std::array<VertexId, 2>> pairs;
    for (const PatternEdge& e : out.pattern.edges) pairs.push_back({e.from, e.to});
    PatternGraph own{{}, {}, VertexStars(out.pattern.vertices, pairs), out.graph->interior};
    const auto local = local_violations(out.pattern, own);
    out.violations.insert(out.violations.end(), local.begin(), local.end());
  }
  if (!options.layers || !out.violations.empty()) return out;
  auto form = folded_form(out.pattern, *out.graph);
  if (!form) return Error{form.error()};
  out.form = std::move(form).value();
  if (!out.form->open_loop.empty()) {
    out.status = LayerStatus::impossible;
    out.clash = out.form->open_loop;
    return out;
  }
  const auto stopped = [&] {
    if (options.progress && options.progress->stopped()) out.status = LayerStatus::out_of_time;
    return out.status == LayerStatus::out_of_time;
  };
  if (stopped()) return out;
  auto overlap = overlap_of(out.pattern, *out.graph, *out.form, {options.memory_bytes, options.progress});
  if (!overlap) return Error{overlap.error()};
  if (stopped()) return out;
  out.memory_needed = overlap->memory_needed;
  if (out.memory_needed > options.memory_bytes) return out;
  if (options.simple_folds) out.simple = simple_folding(out.pattern, *out.graph, *out.form, options.progress);
  if (out.simple) {
    out.overlap = std::move(overlap).value();
    out.status = LayerStatus::found;
    return out;
  }
  if (stopped()) return out;
  out.memory_needed = memory_needed(*overlap, static_cast<int>(out.graph->faces.size()));
  if (out.memory_needed > options.memory_bytes) return out;
  out.memory_needed = 0;
  out.overlap = std::move(overlap).value();
  out.constraints = layer_constraints(out.pattern, *out.graph, *out.form, *out.overlap, options.progress);
  if (stopped()) return out;
  out.order = ordered_layers(*out.constraints, {options.seconds, options.progress, options.cache});
  out.status = out.order.status;
  out.clash = out.order.clash;
  return out;
}

Result<Directed> directed(const HealedPattern& healed, const ProofOptions& options, DirectionWish wish) {
  const auto start = std::chrono::steady_clock::now();
  const auto left = [&] {
    const double used = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return LayerOptions{std::max(0.0, options.seconds - used), options.progress, nullptr};
  };
  ProofOptions how = options;
  how.simple_folds = options.simple_folds && wish == DirectionWish::any;
  auto proof = proved(healed, how);
  if (!proof) return Error{proof.error()};
  Directed out;
  out.violations = proof->violations;
  out.out_of_time = proof->status == LayerStatus::out_of_time;
  out.memory_needed = proof->memory_needed;
  if (!out.violations.empty() || out.out_of_time || out.memory_needed) return out;
  if (proof->status == LayerStatus::impossible) {
    out.clash = proof->clash;
    if (!proof->constraints) return out;
    const auto creases = contradictory_creases(*proof->constraints, left());
    if (creases) out.contradiction = creases->edges, out.contradiction_smallest = creases->smallest;
    return out;
  }
  LayerOrder order = proof->order;
  if (wish != DirectionWish::any) {
    const auto pairs = wished_pairs(wish, proof->pattern, *proof->graph, *proof->constraints);
    const bool symmetric = wish == DirectionWish::symmetric;
    if (symmetric && pairs.empty()) {
      out.no_symmetry = true;
      return out;
    }
    order = ordered_layers(*proof->constraints, pairs, symmetric, left());
    out.out_of_time = order.status == LayerStatus::out_of_time;
    out.no_symmetry = order.status == LayerStatus::impossible;
    if (order.status != LayerStatus::found) return out;
    out.most_wishes = order.most_wishes;
  }
  out.pattern = proof->pattern;
  if (proof->simple) {
    for (std::size_t e = 0; e < out.pattern->edges.size(); ++e) {
      const auto [f, g] = proof->graph->sides[e];
      EdgeKind& kind = out.pattern->edges[e].kind;
      if (kind != EdgeKind::undirected || f < 0 || g < 0 || f == g) continue;
      // Of a face that lies coloured side up, a valley brings the other above it.
      kind = proof->above(g, f) != (proof->form->flipped[at(f)] != 0) ? EdgeKind::valley : EdgeKind::mountain;
    }
    return out;
  }
  for (const auto& c : proof->constraints->creases) {
    const bool first = order.first_above[at(std::abs(c.literal))] != 0;
    out.pattern->edges[at(c.edge)].kind = first == (c.literal > 0) ? EdgeKind::valley : EdgeKind::mountain;
  }
  return out;
}

} // namespace uc
