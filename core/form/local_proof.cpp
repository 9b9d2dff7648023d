#include "form/local_proof.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

/// The folding creases round one vertex, counter-clockwise; sector i lies between crease i and crease i + 1.
struct Round {
  std::vector<CreaseId> edges;
  std::vector<EdgeKind> kinds;
  std::vector<double> sectors;
  [[nodiscard]] std::size_t degree() const { return edges.size(); }
};

/// Whether |M - V| can be `wanted` over creases of which `undirected` are free.
bool can_differ_by(int mountains, int valleys, int undirected, int wanted) {
  const int total = mountains + valleys + undirected;
  for (const int difference : {wanted, -wanted}) {
    if ((total + difference) % 2 != 0) continue;
    const int m = (total + difference) / 2;
    if (m >= mountains && total - m >= valleys) return true;
  }
  return false;
}

struct Counts {
  int mountains = 0, valleys = 0, undirected = 0;
  void add(EdgeKind k) { ++(k == EdgeKind::mountain ? mountains : k == EdgeKind::valley ? valleys : undirected); }
  [[nodiscard]] bool can_differ_by(int wanted) const {
    return uc::can_differ_by(mountains, valleys, undirected, wanted);
  }
};

/// Calls use(first sector, length) for every run of equal sectors between larger ones.
template <class Use> void small_runs(const std::vector<double>& a, Use&& use) {
  const std::size_t n = a.size();
  for (std::size_t i = 0; i < n; ++i) {
    if (a[(i + n - 1) % n] < a[i] + angle_tolerance_deg) continue;
    std::size_t m = 1;
    while (m < n && std::abs(a[(i + m) % n] - a[i]) < angle_tolerance_deg) ++m;
    if (m < n && a[(i + m) % n] > a[i]) use(i, m);
  }
}

void judge(const Round& r, VertexId vertex, const Point& where, std::vector<LocalViolation>& out) {
  const auto broken = [&](LocalRule rule, std::vector<CreaseId> edges, double defect = 0) {
    out.push_back({rule, vertex, where, defect, std::move(edges)});
  };
  if (r.degree() == 1) return broken(LocalRule::dangling, r.edges);
  if (r.degree() % 2 != 0) return broken(LocalRule::even_degree, r.edges);
  double sum = 0;
  for (std::size_t i = 0; i < r.degree(); ++i) sum += i % 2 ? -r.sectors[i] : r.sectors[i];
  if (std::abs(sum) > angle_tolerance_deg) broken(LocalRule::kawasaki, r.edges, std::abs(sum));
  Counts all;
  for (const EdgeKind k : r.kinds) all.add(k);
  if (!all.can_differ_by(2)) broken(LocalRule::maekawa, r.edges);
  small_runs(r.sectors, [&](std::size_t first, std::size_t length) {
    Counts run;
    std::vector<CreaseId> edges;
    for (std::size_t i = 0; i <= length; ++i) {
      run.add(r.kinds[(first + i) % r.degree()]);
      edges.push_back(r.edges[(first + i) % r.degree()]);
    }
    if (!run.can_differ_by(length % 2 ? 0 : 1)) broken(LocalRule::big_little_big, std::move(edges));
  });
}

} // namespace

std::vector<LocalViolation> local_violations(const CreasePattern& pattern, const PatternGraph& graph) {
  std::vector<LocalViolation> out;
  Round r;
  for (VertexId v(0); at(v) < pattern.vertices.size(); ++v) {
    if (!graph.interior[at(v)]) continue;
    r.edges.clear();
    r.kinds.clear();
    r.sectors.clear();
    double first = 0;
    double last = 0;
    for (const int* h = graph.stars.begin(v); h != graph.stars.end(v); ++h) {
      const CreaseId edge(*h / 2);
      const EdgeKind kind = pattern.edges[at(edge)].kind;
      if (!folds(kind)) continue;
      const double deg = graph.stars.degrees(*h);
      if (r.edges.empty())
        first = deg;
      else
        r.sectors.push_back(deg - last);
      last = deg;
      r.edges.push_back(edge);
      r.kinds.push_back(kind);
    }
    if (r.edges.empty()) continue;
    r.sectors.push_back(360 - (last - first));
    judge(r, v, pattern.vertices[at(v)], out);
  }
  return out;
}

std::vector<LocalViolation> crossing_violations(const std::vector<SegmentCrossing>& crossings) {
  std::vector<LocalViolation> out;
  out.reserve(crossings.size());
  for (const SegmentCrossing& c : crossings)
    out.push_back({LocalRule::crossing, std::nullopt, c.at, 0, {CreaseId(c.sources[0]), CreaseId(c.sources[1])}});
  return out;
}

} // namespace uc
