#include "pattern/repair.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double radian = std::numbers::pi / 180;

struct Spoke {
  CreaseId edge;
  double degrees;
};

std::vector<Spoke> spokes_of(const CreasePattern& p, const PatternGraph& g, VertexId vertex) {
  std::vector<Spoke> out;
  for (const int* h = g.stars.begin(vertex); h != g.stars.end(vertex); ++h) {
    if (folds(p.edges[at(*h / 2)].kind)) out.push_back({CreaseId(*h / 2), g.stars.degrees(*h)});
  }
  return out;
}

double alternating_sum(const std::vector<double>& degrees) {
  double sum = 0;
  for (std::size_t i = 0; i < degrees.size(); ++i) {
    double sector = degrees[(i + 1) % degrees.size()] - degrees[i];
    if (sector <= 0) sector += 360;
    sum += i % 2 ? -sector : sector;
  }
  return sum;
}

/// Where a ray from a vertex first meets another edge.
std::optional<Point> first_hit(const CreasePattern& p, VertexId vertex, double degrees) {
  const Point from = p.vertices[at(vertex)];
  const Point d{std::cos(degrees * radian), std::sin(degrees * radian)};
  std::optional<Point> out;
  double nearest = 1e300;
  for (std::size_t i = 0; i < p.edges.size(); ++i) {
    if (p.edges[i].from == vertex || p.edges[i].to == vertex) continue;
    const auto hit = ray_hit(from, d, p.segment(CreaseId(i)));
    if (!hit || hit->along < 1e-9 || hit->along > nearest || hit->at < -1e-9 || hit->at > 1 + 1e-9) continue;
    nearest = hit->along;
    out = from + hit->along * d;
  }
  return out;
}

/// The nearest place for a vertex at which its alternating sum vanishes, its neighbours staying: Newton along the
/// gradient.
std::optional<Point> flat_place(const CreasePattern& p, const std::vector<Spoke>& spokes, VertexId vertex) {
  const auto sum_at = [&](const Point& where) {
    std::vector<double> degrees;
    for (const Spoke& s : spokes) {
      const Point d = p.vertices[at(p.edges[at(s.edge)].other(vertex))] - where;
      degrees.push_back(std::atan2(d.y(), d.x()) / radian);
    }
    std::sort(degrees.begin(), degrees.end());
    return alternating_sum(degrees);
  };
  const double size = bounding_box(p.vertices).size().norm();
  Point where = p.vertices[at(vertex)];
  for (int i = 0; i < 40; ++i) {
    const double sum = sum_at(where);
    if (std::abs(sum) < 1e-11) return where;
    const double h = 1e-6 * size;
    const Point slope{(sum_at(where + Point{h, 0}) - sum_at(where - Point{h, 0})) / (2 * h),
                      (sum_at(where + Point{0, h}) - sum_at(where - Point{0, h})) / (2 * h)};
    if (slope.norm() < 1e-9) return std::nullopt;
    where -= sum * slope / slope.squaredNorm();
    if ((where - p.vertices[at(vertex)]).norm() > 0.2 * size) return std::nullopt;
  }
  return std::abs(sum_at(where)) < 1e-9 ? std::optional(where) : std::nullopt;
}

std::vector<LocalViolation> violations_of(const CreasePattern& p) {
  const HealedPattern h = healed(p);
  if (!h.crossings.empty()) return crossing_violations(h.crossings);
  return local_violations(h.pattern, graph_of(h.pattern));
}

} // namespace

CreasePattern repaired(const CreasePattern& pattern, const VertexRepair& repair) {
  CreasePattern p = pattern;
  using Kind = VertexRepair::Kind;
  switch (repair.kind) {
  case Kind::redirect:
    p.edges[at(repair.edge)].kind = turned_over(p.edges[at(repair.edge)].kind);
    break;
  case Kind::move:
    p.vertices[at(repair.vertex)] = repair.to;
    break;
  case Kind::swing: {
    PatternEdge& e = p.edges[at(repair.edge)];
    p.vertices.push_back(repair.to);
    (e.from == repair.vertex ? e.to : e.from) = VertexId(p.vertices.size() - 1);
    break;
  }
  case Kind::add:
    p.vertices.push_back(repair.to);
    p.edges.push_back({repair.vertex, VertexId(p.vertices.size() - 1), EdgeKind::undirected});
    break;
  case Kind::leave_out:
    p.edges.erase(p.edges.begin() + repair.edge);
    break;
  case Kind::join:
    return healed(p, {.tolerance_mm = 0, .split_crossings = true}).pattern;
  }
  return healed(p).pattern;
}

std::vector<VertexRepair> repairs_of(const CreasePattern& pattern, const PatternGraph& graph,
                                     const LocalViolation& violation, std::size_t most) {
  using Kind = VertexRepair::Kind;
  std::vector<VertexRepair> tried;
  if (!violation.vertex) {
    VertexRepair join;
    join.kind = Kind::join;
    join.to = violation.at;
    tried.push_back(join);
  } else {
    const VertexId v = *violation.vertex;
    const Point centre = pattern.vertices[at(v)];
    const std::vector<Spoke> spokes = spokes_of(pattern, graph, v);
    const auto propose = [&](Kind kind, CreaseId edge) -> VertexRepair& {
      VertexRepair r;
      r.kind = kind;
      r.vertex = v;
      r.edge = edge;
      return tried.emplace_back(r);
    };
    std::vector<double> degrees;
    degrees.reserve(spokes.size());
    for (const Spoke& s : spokes) degrees.push_back(s.degrees);
    switch (violation.rule) {
    case LocalRule::maekawa:
    case LocalRule::big_little_big:
      for (const Spoke& s : spokes) {
        if (pattern.edges[at(s.edge)].kind != EdgeKind::undirected) propose(Kind::redirect, s.edge);
      }
      break;
    case LocalRule::kawasaki: {
      const double sum = alternating_sum(degrees);
      for (std::size_t i = 0; i < spokes.size(); ++i) {
        // Swinging crease i by x turns x from the sector after it to the one before.
        const double x = (i % 2 ? -sum : sum) / 2;
        const double turned = degrees[i] + x;
        const auto hit = first_hit(pattern, v, turned);
        if (!hit) continue;
        VertexRepair& r = propose(Kind::swing, spokes[i].edge);
        r.degrees = x;
        r.to = *hit;
        r.shift_mm = (*hit - pattern.vertices[at(pattern.edges[at(spokes[i].edge)].other(v))]).norm();
      }
      if (const auto place = flat_place(pattern, spokes, v)) {
        VertexRepair& r = propose(Kind::move, {});
        r.to = *place;
        r.shift_mm = (*place - centre).norm();
      }
      break;
    }
    case LocalRule::even_degree: {
      for (const Spoke& s : spokes) propose(Kind::leave_out, s.edge);
      // A new crease in sector i splits it so that the sums of odd and even sectors agree.
      for (std::size_t i = 0; i < spokes.size(); ++i) {
        double sector = degrees[(i + 1) % degrees.size()] - degrees[i];
        if (sector <= 0) sector += 360;
        double even = 0;
        for (std::size_t k = 2; k < spokes.size(); k += 2) {
          const std::size_t n = (i + k) % degrees.size();
          double a = degrees[(n + 1) % degrees.size()] - degrees[n];
          if (a <= 0) a += 360;
          even += a;
        }
        const double x = 180 - even;
        if (x < 1 || x > sector - 1) continue;
        const auto hit = first_hit(pattern, v, degrees[i] + x);
        if (!hit) continue;
        VertexRepair& r = propose(Kind::add, {});
        r.degrees = degrees[i] + x;
        r.to = *hit;
      }
      break;
    }
    case LocalRule::dangling:
      for (const Spoke& s : spokes) {
        propose(Kind::leave_out, s.edge);
        const double on = s.degrees > 0 ? s.degrees - 180 : s.degrees + 180;
        if (const auto hit = first_hit(pattern, v, on)) {
          VertexRepair& r = propose(Kind::add, {});
          r.degrees = on;
          r.to = *hit;
        }
      }
      break;
    case LocalRule::crossing:
      break;
    }
  }
  std::vector<VertexRepair> good;
  for (VertexRepair& r : tried) {
    const auto left = violations_of(repaired(pattern, r));
    r.left_over = static_cast<int>(left.size());
    // It must at least mend the place itself.
    const Point place = r.kind == Kind::move ? r.to : violation.at;
    const double reach = 10 * snap_tolerance(pattern);
    const bool mends = std::none_of(left.begin(), left.end(), [&](const LocalViolation& l) {
      return l.rule == violation.rule && (l.at - place).norm() < reach;
    });
    if (mends) good.push_back(r);
  }
  std::stable_sort(good.begin(), good.end(), [](const VertexRepair& a, const VertexRepair& b) {
    return std::tie(a.left_over, a.shift_mm) < std::tie(b.left_over, b.shift_mm);
  });
  if (good.size() > most) good.resize(most);
  return good;
}

} // namespace uc
