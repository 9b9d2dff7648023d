#include "collapse/finer.h"

#include "base/index.h"

#include <algorithm>
#include <map>

namespace uc {
namespace {

/// Every triangle in four: the middles of its sides become vertices.
Result<FinerPattern> divided_once(const FinerPattern& rough) {
  const CreasePattern& from = rough.pattern.pattern;
  const auto mesh = fold_mesh(rough.pattern, rough.full_deg, rough.goals);
  if (!mesh) return Error{mesh.error()};
  FinerPattern out;
  CreasePattern& to = out.pattern.pattern;
  to.vertices = from.vertices;
  std::map<std::pair<int, int>, int> middle; // of a side, by its ends
  for (const FoldMesh::Bar& b : mesh->bars) {
    middle[{std::min(b.a, b.b), std::max(b.a, b.b)}] = static_cast<int>(to.vertices.size());
    to.vertices.emplace_back((from.vertices[at(b.a)] + from.vertices[at(b.b)]) / 2);
  }
  const bool bends = rough.full_deg.size() == from.edges.size();
  const bool staged = rough.goals.size() == from.edges.size();
  const auto add = [&](int a, int b, EdgeKind kind, double full, const CreaseGoals& goals = {}) {
    to.edges.push_back({a, b, kind});
    if (bends) out.full_deg.push_back(full);
    if (staged) out.goals.push_back(goals);
    return CreaseId(to.edges.size() - 1);
  };
  const CreaseGoals none;
  std::vector<std::vector<CreaseId>> halves(from.edges.size());
  const std::size_t edges = from.edges.size();
  for (std::size_t b = 0; b < mesh->bars.size(); ++b) { // the pattern's edges first, then diagonals
    const FoldMesh::Bar& bar = mesh->bars[b];
    const int half = middle.at({std::min(bar.a, bar.b), std::max(bar.a, bar.b)});
    const EdgeKind kind = b < edges ? from.edges[b].kind : EdgeKind::unfolded;
    const double full = b < edges && bends ? rough.full_deg[b] : 180;
    const CreaseGoals& goals = b < edges && staged ? rough.goals[b] : none;
    const CreaseId first = add(bar.a, half, kind, full, goals);
    const CreaseId second = add(half, bar.b, kind, full, goals);
    if (b < edges) halves[b] = {first, second};
  }
  for (const auto& t : mesh->triangles) {
    std::array<int, 3> m{};
    for (std::size_t i = 0; i < 3; ++i) {
      const int a = t[i];
      const int b = t[(i + 1) % 3];
      m.at(i) = middle.at({std::min(a, b), std::max(a, b)});
    }
    for (std::size_t i = 0; i < 3; ++i) add(m.at(i), m.at((i + 1) % 3), EdgeKind::unfolded, 180);
  }
  out.parts_of.reserve(rough.parts_of.size());
  for (const auto& parts : rough.parts_of) {
    std::vector<CreaseId> all;
    for (const CreaseId part : parts) all.insert(all.end(), halves[at(part)].begin(), halves[at(part)].end());
    out.parts_of.push_back(std::move(all));
  }
  return out;
}

} // namespace

Result<FinerPattern> finer(const HealedPattern& pattern, const std::vector<double>& full_deg, int times,
                           const std::vector<CreaseGoals>& goals) {
  FinerPattern out{pattern, full_deg, goals, {}};
  out.parts_of.reserve(pattern.pattern.edges.size());
  for (CreaseId e(0); at(e) < pattern.pattern.edges.size(); ++e) out.parts_of.push_back({e});
  for (int i = 0; i < times; ++i) {
    auto next = divided_once(out);
    if (!next) return next;
    out = std::move(next).value();
  }
  return out;
}

std::vector<DriveStage> stages_on(const FinerPattern& fine, const std::vector<DriveStage>& stages) {
  std::vector<DriveStage> out;
  out.reserve(stages.size());
  for (const DriveStage& s : stages) {
    DriveStage mine{{}, s.from, s.to, s.percent, {}};
    for (std::size_t i = 0; i < s.creases.size(); ++i)
      for (const CreaseId part : fine.parts_of[at(s.creases[i])]) {
        mine.creases.push_back(part);
        if (!s.shares.empty()) mine.shares.push_back(s.shares[i]);
      }
    out.push_back(std::move(mine));
  }
  return out;
}

} // namespace uc
