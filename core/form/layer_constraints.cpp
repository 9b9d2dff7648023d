#include "form/layer_constraints.h"

#include "base/index.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <set>

namespace uc {
namespace {

using Pairs = std::vector<std::array<FaceId, 2>>;

/// What the tacos, the faces that pass and the faces that go on across one piece of a folded line say of each other.
class Collector {
public:
  explicit Collector(LayerConstraints& out) : out_(out) {}

  /// The stack over the cell to one side of the piece; `second` for faces that lie over the cell across.
  void look_at(const std::vector<FaceId>& first, const std::vector<FaceId>& second) {
    first_ = table_of(first);
    second_ = table_of(second);
  }

  void tacos(const Pairs& tacos, const StackTable& stack) {
    for (std::size_t i = 0; i < tacos.size(); ++i) {
      for (std::size_t k = i + 1; k < tacos.size(); ++k) {
        const auto [f, g] = tacos[i];
        const auto [h, j] = tacos[k];
        if (f == h || f == j || g == h || g == j) continue;
        const Literal fh = above(stack, f, h);
        const Literal fj = above(stack, f, j);
        const Literal gh = above(stack, g, h);
        const Literal gj = above(stack, g, j);
        if (fh && fj && gh && gj) out_.even.push_back({fh, fj, gh, gj});
      }
    }
  }
  void taco_tortilla(const Pairs& tacos, FaceId face, const StackTable& stack) {
    for (const auto& [f, g] : tacos) {
      if (face != f && face != g) equal(above(stack, face, f), above(stack, face, g));
    }
  }
  /// Faces h and k go on into each other across the piece, h over the first stack and k over the second; so do h2 and
  /// k2, which may be one face that is not folded here.
  void tortillas(FaceId h, FaceId k, FaceId h2, FaceId k2) { equal(above(*first_, h, h2), above(*second_, k, k2)); }

  [[nodiscard]] const StackTable& first() const { return *first_; }
  [[nodiscard]] const StackTable& second() const { return *second_; }

private:
  static Literal above(const StackTable& stack, FaceId upper, FaceId lower) { return stack.above_face(upper, lower); }
  void equal(Literal a, Literal b) {
    if (a && b && a != b) out_.equal.push_back({a, b});
  }

  /// Pieces side by side look at the same cells again and again; of the tables the one unused for longest goes.
  const StackTable* table_of(const std::vector<FaceId>& stack) {
    auto oldest = tables_.begin();
    for (auto t = tables_.begin(); t != tables_.end(); ++t) {
      if (t->of == &stack) {
        t->used = ++clock_;
        return &t->table;
      }
      if (t->used < oldest->used) oldest = t;
    }
    oldest->table.lay_out(out_.pairs, stack);
    oldest->of = &stack;
    oldest->used = ++clock_;
    return &oldest->table;
  }

  struct Table {
    StackTable table;
    const std::vector<FaceId>* of = nullptr;
    long used = 0;
  };
  LayerConstraints& out_;
  std::array<Table, 6> tables_;
  long clock_ = 0;
  const StackTable* first_ = nullptr;
  const StackTable* second_ = nullptr;
};

/// Two hashes of what lies along a piece; neighbouring pieces of one folded line often say the same.
std::array<std::uint64_t, 2> digest(const FoldedPiece& piece, const std::vector<FaceId>& over) {
  std::array<std::uint64_t, 2> h{0x9E3779B97F4A7C15ULL, 0xC2B2AE3D27D4EB4FULL};
  const auto put = [&](std::uint64_t v) {
    h[0] = (h[0] ^ v) * 0x100000001B3ULL;
    h[0] ^= h[0] >> 29;
    h[1] = (h[1] + v) * 0xFF51AFD7ED558CCDULL;
    h[1] ^= h[1] >> 32;
  };
  for (const Pairs* list : {&piece.left, &piece.right, &piece.across}) {
    put(list->size());
    for (const auto& [f, g] : *list) put(static_cast<std::uint64_t>(f) << 32 | static_cast<std::uint64_t>(g));
  }
  put(over.size());
  for (const FaceId f : over) put(static_cast<std::uint64_t>(f));
  return h;
}

} // namespace

std::vector<std::vector<FaceId>> largest_stacks(const Overlap& overlap) {
  std::set<std::vector<FaceId>> distinct;
  for (const FoldedCell& c : overlap.cells) {
    if (!c.sliver && c.faces.size() > 1) distinct.insert(c.faces);
  }
  std::vector<std::vector<FaceId>> all(distinct.begin(), distinct.end());
  std::stable_sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.size() > b.size(); });
  std::vector<std::vector<FaceId>> kept;
  std::vector<std::vector<int>> with_face; // indices of kept stacks
  for (auto& s : all) {
    if (at(s.back()) >= with_face.size()) with_face.resize(at(s.back()) + 1);
    const auto rarest = std::min_element(
        s.begin(), s.end(), [&](FaceId a, FaceId b) { return with_face[at(a)].size() < with_face[at(b)].size(); });
    const auto& candidates = with_face[at(*rarest)];
    const bool held = std::any_of(candidates.begin(), candidates.end(), [&](int k) {
      return std::includes(kept[at(k)].begin(), kept[at(k)].end(), s.begin(), s.end());
    });
    if (held) continue;
    for (const FaceId f : s) with_face[at(f)].push_back(static_cast<int>(kept.size()));
    kept.push_back(std::move(s));
  }
  return kept;
}

std::size_t memory_needed(const Overlap& overlap, int faces) {
  // Per pair its second face, its parent and its truth, and its share of the equations and parities, which are kept
  // twice at worst.
  constexpr std::size_t pair_bytes = 64;
  std::size_t held = 0;
  for (const FoldedCell& c : overlap.cells) held += c.faces.size() * sizeof(int);
  return held + pair_bytes * PairIndex::count(faces, largest_stacks(overlap));
}

LayerConstraints layer_constraints(const CreasePattern& pattern, const PatternGraph& graph, const FoldedForm& form,
                                   const Overlap& overlap, const Progress* progress) {
  LayerConstraints out;
  out.faces = static_cast<int>(graph.faces.size());
  out.stacks = largest_stacks(overlap);
  out.pairs = PairIndex(out.faces, out.stacks, progress);
  if (progress && progress->stopped()) return out;

  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    const EdgeKind kind = pattern.edges[e].kind;
    const auto [f, g] = graph.sides[e];
    if (!folds(kind) || f < 0 || g < 0 || f == g) continue;
    // A valley brings the coloured sides together: the face that lies coloured side up is below.
    const Literal valley = form.flipped[at(f)] ? out.above(f, g) : out.above(g, f);
    if (!valley) continue;
    out.creases.push_back({valley, CreaseId(e)});
    if (kind != EdgeKind::undirected) out.fixed.push_back({kind == EdgeKind::valley ? valley : -valley, CreaseId(e)});
  }

  std::set<std::array<std::uint64_t, 2>> said;
  Collector collect(out);
  const std::vector<FaceId> nothing;
  for (const FoldedPiece& p : overlap.pieces) {
    if (progress && progress->stopped()) return out;
    if (p.left.empty() && p.right.empty() && p.across.empty()) continue;
    const auto& left = p.left_cell >= 0 ? overlap.cells[at(p.left_cell)].faces : nothing;
    const auto& right = p.right_cell >= 0 ? overlap.cells[at(p.right_cell)].faces : nothing;
    std::vector<FaceId> over;
    std::set_intersection(left.begin(), left.end(), right.begin(), right.end(), std::back_inserter(over));
    if (!said.insert(digest(p, over)).second) continue;
    collect.look_at(left, right);
    collect.tacos(p.left, collect.first());
    collect.tacos(p.right, collect.second());
    for (const FaceId f : over) {
      collect.taco_tortilla(p.left, f, collect.first());
      collect.taco_tortilla(p.right, f, collect.second());
      for (const auto& [h, k] : p.across) collect.tortillas(h, k, f, f);
    }
    for (std::size_t i = 0; i < p.across.size(); ++i) {
      const auto [h, k] = p.across[i];
      collect.taco_tortilla(p.left, h, collect.first());
      collect.taco_tortilla(p.right, k, collect.second());
      for (std::size_t j = i + 1; j < p.across.size(); ++j) collect.tortillas(h, k, p.across[j][0], p.across[j][1]);
    }
  }
  return out;
}

} // namespace uc
