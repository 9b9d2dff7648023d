#include "pattern/handles.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

constexpr double small_step = 1e-5;       // of the range, or of the value where it is larger
constexpr double least_move_mm = 1e-9;    // of a vertex in such a step: rounding moves none so far
constexpr double fair_share = 0.1;        // of the longest move, from which a vertex inside is preferred
constexpr double furthest_per_step = 1e3; // mm per unit of the step; what moves further has jumped
constexpr std::size_t most_vertices = 20'000;

bool same_structure(const CreasePattern& a, const CreasePattern& b) {
  return a.vertices.size() == b.vertices.size() && a.edges.size() == b.edges.size() &&
         std::equal(a.edges.begin(), a.edges.end(), b.edges.begin(),
                    [](const PatternEdge& e, const PatternEdge& f) { return e.from == f.from && e.to == f.to; });
}

std::vector<char> on_outline(const CreasePattern& pattern) {
  std::vector<char> on(pattern.vertices.size(), 0);
  for (const PatternEdge& e : pattern.edges) {
    if (e.kind == EdgeKind::raw) on[at(e.from)] = on[at(e.to)] = 1;
  }
  return on;
}

/// The vertex to hold: of those that move fairly far the one inside that moves furthest and is not held already.
int vertex_to_hold(const std::vector<Point>& moves, const std::vector<char>& outer, const std::vector<int>& held) {
  double longest = 0;
  for (const Point& m : moves) longest = std::max(longest, m.norm());
  if (longest < least_move_mm) return -1;
  int best = -1;
  double best_score = 0;
  for (std::size_t v = 0; v < moves.size(); ++v) {
    if (std::find(held.begin(), held.end(), static_cast<int>(v)) != held.end()) continue;
    const double move = moves[v].norm();
    const double score = move + (outer[v] == 0 && move > fair_share * longest ? longest : 0);
    if (score > best_score * (1 + 1e-9)) best_score = score, best = static_cast<int>(v);
  }
  return best;
}

} // namespace

double FamilyHandle::value_at(const Point& place) const {
  return std::clamp(value + (place - at).dot(per_unit) / per_unit.squaredNorm(), least, most);
}

std::vector<FamilyHandle> handles_of(const SizedFamily& sized, const DrawnPattern& drawn) {
  std::vector<FamilyHandle> handles;
  const PatternFamily* family = find_pattern_family(sized.choice.name);
  const CreasePattern& now = drawn.healed.pattern;
  if (!family || !drawn.wrong.empty() || now.vertices.size() > most_vertices) return handles;
  const std::vector<char> outer = on_outline(now);
  std::vector<int> held;
  for (const Parameter& p : family->parameters) {
    if (p.type == ParameterType::integer || p.type == ParameterType::choice) continue;
    const auto given = sized.choice.values.find(p.name);
    const double value = given == sized.choice.values.end() ? p.normal : given->second;
    double step = small_step * std::max({std::abs(value), std::min(p.most - p.least, 1.0), 1e-3});
    if (value + step > p.most) step = -step;
    SizedFamily other = sized;
    other.choice.values[p.name] = value + step;
    const DrawnPattern moved = drawn_pattern(other);
    if (!moved.wrong.empty() || !same_structure(now, moved.healed.pattern)) continue;
    std::vector<Point> moves;
    moves.reserve(now.vertices.size());
    for (std::size_t v = 0; v < now.vertices.size(); ++v)
      moves.emplace_back(moved.healed.pattern.vertices[v] - now.vertices[v]);
    const int vertex = vertex_to_hold(moves, outer, held);
    if (vertex < 0) continue;
    const Point per_unit = moves[at(vertex)] / step;
    if (moves[at(vertex)].norm() < least_move_mm || per_unit.norm() * std::abs(step) > furthest_per_step) continue;
    held.push_back(vertex);
    handles.push_back({p.name, now.vertices[at(vertex)], per_unit, value, p.least, p.most});
  }
  return handles;
}

} // namespace uc
