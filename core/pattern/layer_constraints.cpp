#include "pattern/layer_constraints.h"

#include <algorithm>
#include <set>

namespace uc {
namespace {

std::size_t at(int i) { return static_cast<std::size_t>(i); }

using Pairs = std::vector<std::array<int, 2>>;

/// Distinct stacks of faces, without those that another holds.
std::vector<std::vector<int>> largest_stacks(const Overlap& overlap) {
  std::set<std::vector<int>> distinct;
  for (const FoldedCell& c : overlap.cells) {
    if (!c.sliver && c.faces.size() > 1) distinct.insert(c.faces);
  }
  std::vector<std::vector<int>> all(distinct.begin(), distinct.end());
  std::stable_sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.size() > b.size(); });
  std::vector<std::vector<int>> kept;
  std::vector<std::vector<int>> with_face; // indices of kept stacks
  for (auto& s : all) {
    if (at(s.back()) >= with_face.size()) with_face.resize(at(s.back()) + 1);
    const auto rarest = std::min_element(
        s.begin(), s.end(), [&](int a, int b) { return with_face[at(a)].size() < with_face[at(b)].size(); });
    const auto& candidates = with_face[at(*rarest)];
    const bool held = std::any_of(candidates.begin(), candidates.end(), [&](int k) {
      return std::includes(kept[at(k)].begin(), kept[at(k)].end(), s.begin(), s.end());
    });
    if (held) continue;
    for (const int f : s) with_face[at(f)].push_back(static_cast<int>(kept.size()));
    kept.push_back(std::move(s));
  }
  return kept;
}

class Collector {
public:
  explicit Collector(LayerConstraints& out) : out_(out) {}

  void equal(int upper, int lower, int upper2, int lower2) {
    const Literal a = out_.above(upper, lower);
    const Literal b = out_.above(upper2, lower2);
    if (a && b) out_.equal.push_back({a, b});
  }
  void tacos(const Pairs& tacos) {
    for (std::size_t i = 0; i < tacos.size(); ++i) {
      for (std::size_t k = i + 1; k < tacos.size(); ++k) {
        const auto [f, g] = tacos[i];
        const auto [h, j] = tacos[k];
        if (f == h || f == j || g == h || g == j) continue;
        const Literal fh = out_.above(f, h);
        const Literal fj = out_.above(f, j);
        const Literal gh = out_.above(g, h);
        const Literal gj = out_.above(g, j);
        if (fh && fj && gh && gj) out_.even.push_back({fh, fj, gh, gj});
      }
    }
  }
  void taco_tortilla(const Pairs& tacos, int face) {
    for (const auto& [f, g] : tacos) {
      if (face != f && face != g) equal(face, f, face, g);
    }
  }

private:
  LayerConstraints& out_;
};

} // namespace

LayerConstraints layer_constraints(const CreasePattern& pattern, const PatternGraph& graph, const FoldedForm& form,
                                   const Overlap& overlap) {
  LayerConstraints out;
  out.faces = static_cast<int>(graph.faces.size());
  out.stacks = largest_stacks(overlap);
  std::vector<std::uint64_t> keys;
  for (const auto& s : out.stacks) {
    for (std::size_t i = 0; i < s.size(); ++i) {
      for (std::size_t k = i + 1; k < s.size(); ++k)
        keys.push_back(static_cast<std::uint64_t>(s[i]) << 32 | static_cast<std::uint64_t>(s[k]));
    }
  }
  std::sort(keys.begin(), keys.end());
  keys.erase(std::unique(keys.begin(), keys.end()), keys.end());
  out.pairs.push_back({-1, -1});
  out.pair_of_.reserve(keys.size());
  for (const std::uint64_t key : keys) {
    out.pair_of_.emplace(key, static_cast<int>(out.pairs.size()));
    out.pairs.push_back({static_cast<int>(key >> 32), static_cast<int>(key & 0xFFFFFFFF)});
  }

  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    const EdgeKind kind = pattern.edges[e].kind;
    const auto [f, g] = graph.sides[e];
    if (!folds(kind) || f < 0 || g < 0 || f == g) continue;
    // A valley brings the coloured sides together: the face that lies coloured side up is below.
    const Literal valley = form.flipped[at(f)] ? out.above(f, g) : out.above(g, f);
    if (!valley) continue;
    out.creases.push_back({valley, static_cast<int>(e)});
    if (kind != EdgeKind::undirected)
      out.fixed.push_back({kind == EdgeKind::valley ? valley : -valley, static_cast<int>(e)});
  }

  // Neighbouring pieces of one folded line often say the same.
  std::set<std::array<Pairs, 4>> said;
  Collector collect(out);
  for (const FoldedPiece& p : overlap.pieces) {
    if (p.left.empty() && p.right.empty() && p.across.empty()) continue;
    std::vector<int> over;
    if (p.left_cell >= 0 && p.right_cell >= 0) {
      const auto& l = overlap.cells[at(p.left_cell)].faces;
      const auto& r = overlap.cells[at(p.right_cell)].faces;
      std::set_intersection(l.begin(), l.end(), r.begin(), r.end(), std::back_inserter(over));
    }
    Pairs crossing;
    for (const int f : over) crossing.push_back({f, f});
    if (!said.insert({p.left, p.right, p.across, crossing}).second) continue;
    collect.tacos(p.left);
    collect.tacos(p.right);
    for (const int f : over) {
      collect.taco_tortilla(p.left, f);
      collect.taco_tortilla(p.right, f);
      for (const auto& [h, k] : p.across) collect.equal(h, f, k, f);
    }
    for (std::size_t i = 0; i < p.across.size(); ++i) {
      const auto [h, k] = p.across[i];
      collect.taco_tortilla(p.left, h);
      collect.taco_tortilla(p.right, k);
      for (std::size_t j = i + 1; j < p.across.size(); ++j) collect.equal(h, p.across[j][0], k, p.across[j][1]);
    }
  }
  return out;
}

} // namespace uc
