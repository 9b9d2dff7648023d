#include "collapse/contact.h"

#include "base/index.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <utility>

namespace uc {
namespace {

using Vector = Eigen::Vector3d;

constexpr double reach = 0.6;      // in units, from which a side is known: twice the longest step
constexpr double clear = 1e-4;     // in units: what comes over each other nearer than this has no side yet
constexpr double deep = 0.04;      // in units: what has passed a layer by less only presses against it
constexpr double inner = -0.01;    // of the weights: what stands on the rim still counts, for panels are often alike
constexpr double askew = 0.005;    // the least sine of the angle at which edges cross; others lie along each other
constexpr double cell = 1.5;       // of the grid facets and edges are looked up in, in units
constexpr double stiffness = 1e-2; // of a contact, over that of a bar

std::uint64_t key_of(int first, int second) {
  return static_cast<std::uint64_t>(first) << 32U | static_cast<std::uint64_t>(second);
}
constexpr std::uint64_t between_edges = std::uint64_t{1} << 63U;

struct Cells {
  std::unordered_map<std::uint64_t, std::vector<int>> held;

  static Eigen::Vector3i place(const Vector& p) { return (p / cell).array().floor().cast<int>(); }
  static std::uint64_t key(const Eigen::Vector3i& c) {
    constexpr std::int64_t offset = 1 << 20;
    const auto part = [](int v) { return static_cast<std::uint64_t>((v + offset) & 0x1F'FFFF); };
    return part(c.x()) << 42U | part(c.y()) << 21U | part(c.z());
  }
  /// The cells that the box of some vertices, grown by so much, meets.
  template <std::size_t n, class Use>
  static void each(const std::vector<Vector>& x, const std::array<VertexId, n>& ends, double grown, Use use) {
    Vector low = x[at(ends[0])];
    Vector high = low;
    for (const VertexId v : ends) low = low.cwiseMin(x[at(v)]), high = high.cwiseMax(x[at(v)]);
    const Eigen::Vector3i from = place(low - Vector::Constant(grown));
    const Eigen::Vector3i to = place(high + Vector::Constant(grown));
    for (int i = from.x(); i <= to.x(); ++i)
      for (int j = from.y(); j <= to.y(); ++j)
        for (int k = from.z(); k <= to.z(); ++k) use(key({i, j, k}));
  }
  template <std::size_t n> Cells(const std::vector<Vector>& x, const std::vector<std::array<VertexId, n>>& things) {
    for (std::size_t i = 0; i < things.size(); ++i)
      each(x, things[i], reach, [&](std::uint64_t c) { held[c].push_back(static_cast<int>(i)); });
  }
  /// Each thing whose cells an edge meets, once; `seen` has a place for each thing.
  template <class Use>
  void each_near(const std::vector<Vector>& x, const std::array<VertexId, 2>& edge, int own, std::vector<int>& seen,
                 Use use) const {
    each(x, edge, 0, [&](std::uint64_t c) {
      for (const int thing : at_key(c))
        if (std::exchange(seen[at(thing)], own) != own) use(thing);
    });
  }
  [[nodiscard]] const std::vector<int>& at_key(std::uint64_t c) const {
    static const std::vector<int> none;
    const auto found = held.find(c);
    return found == held.end() ? none : found->second;
  }
};

} // namespace

Contacts::Contacts(const FoldMesh& mesh, double thickness)
    : triangles_(mesh.triangles), star_(mesh.flat.size()), thickness_(thickness) {
  for (const FoldMesh::Bar& bar : mesh.bars) edges_.push_back({bar.a, bar.b});
  std::unordered_map<std::uint64_t, int> triangle_at; // to the left of an edge
  for (std::size_t t = 0; t < triangles_.size(); ++t)
    for (std::size_t i = 0; i < 3; ++i) {
      star_[at(triangles_[t][i])].push_back(static_cast<int>(t));
      triangle_at[key_of(triangles_[t][i], triangles_[t][(i + 1) % 3])] = static_cast<int>(t);
    }
  // Across a hinge layers close on each other: the angle says how far, not the contact.
  for (const FoldMesh::Hinge& h : mesh.hinges) {
    const auto left = triangle_at.find(key_of(h.a, h.b));
    const auto right = triangle_at.find(key_of(h.b, h.a));
    if (left == triangle_at.end() || right == triangle_at.end()) continue;
    star_[at(h.left)].push_back(right->second);
    star_[at(h.right)].push_back(left->second);
  }
  for (auto& own : star_) std::sort(own.begin(), own.end());
}

Contacts::Stand Contacts::stand(const Places& ends, bool of_edges) {
  const auto& [p, q, r, s] = ends;
  Stand out;
  const Vector u = of_edges ? q - p : r - q;
  const Vector w = of_edges ? s - r : s - q;
  const Vector n = u.cross(w);
  const double size = n.norm();
  if (size < 1e-12 || (of_edges && size < askew * u.norm() * w.norm())) return out;
  out.normal = n / size;
  const Vector d = of_edges ? r - p : p - q;
  out.height = d.dot(out.normal);
  const double first = d.cross(w).dot(out.normal) / size;
  const double second = u.cross(d).dot(out.normal) / size;
  if (of_edges)
    out.weights = {first - 1, -first, 1 + second, -second};
  else
    out.weights = {1, first + second - 1, -first, -second};
  // Of each part all weights have one sign where the nearest place lies on it.
  const double least =
      of_edges ? std::min({1 - first, first, 1 + second, -second}) : std::min({1 - first - second, first, second});
  out.over = least > inner && std::abs(out.height) < reach;
  return out;
}

/// The side on which a pair has come over each other: that of the shape before if it went through since, else that on
/// which it is; 0 while that cannot be told.
double Contacts::side_of(const Shape& x, const Pair& pair, const Stand& now) const {
  if (!last_.empty()) {
    const Places from = places(last_, pair);
    const double before = stand(from, pair.of_edges).height;
    if (before * now.height < 0) {
      const double part = before / (before - now.height);
      Places between = places(x, pair);
      for (std::size_t i = 0; i < 4; ++i) between[i] = (1 - part) * from[i] + part * between[i];
      if (stand(between, pair.of_edges).over) return before > 0 ? 1 : -1;
    }
  }
  if (std::abs(now.height) <= clear) return 0;
  return now.height > 0 ? 1 : -1;
}

void Contacts::take(const Shape& x, std::uint64_t key, Pair pair, Sides& sides) {
  const Stand s = stand(x, pair);
  if (!s.over) return;
  const auto known = side_.find(key);
  pair.side = known != side_.end() ? known->second : side_of(x, pair, s);
  if (pair.side == 0) return;
  sides.emplace(key, pair.side);
  near_.push_back(pair);
}

void Contacts::find_corners(const Shape& x, Sides& sides) {
  const Cells cells(x, triangles_);
  for (VertexId v(0); at(v) < x.size(); ++v)
    for (const int t : cells.at_key(Cells::key(Cells::place(x[at(v)])))) {
      if (std::binary_search(star_[at(v)].begin(), star_[at(v)].end(), t)) continue;
      const auto& corners = triangles_[at(t)];
      take(x, key_of(v, t), {{v, corners[0], corners[1], corners[2]}}, sides);
    }
}

void Contacts::find_edges(const Shape& x, Sides& sides) {
  const Cells cells(x, edges_);
  std::vector<int> seen(edges_.size(), -1);
  for (std::size_t e = 0; e < edges_.size(); ++e) {
    const VertexId a = edges_[e][0];
    const VertexId b = edges_[e][1];
    const int own = static_cast<int>(e);
    cells.each_near(x, edges_[e], own, seen, [&](int f) {
      const auto& [g, h] = edges_[at(f)];
      if (f <= own || a == g || a == h || b == g || b == h) return;
      take(x, between_edges | key_of(own, f), {{a, b, g, h}, true}, sides);
    });
  }
}

void Contacts::find(const Shape& x) {
  Sides sides;
  near_.clear();
  find_corners(x, sides);
  find_edges(x, sides);
  side_ = std::move(sides);
  last_ = x;
}

double Contacts::energy(const Shape& x) const {
  double sum = 0;
  for (const Pair& p : near_) {
    const Stand s = stand(x, p);
    if (!s.over) continue;
    const double lacking = thickness_ - p.side * s.height;
    if (lacking > 0) sum += lacking * lacking;
  }
  return stiffness * sum / 2;
}

void Contacts::add(const Shape& x, Eigen::VectorXd& force, std::vector<Eigen::Matrix3d>& blocks) const {
  for (const Pair& p : near_) {
    const Stand s = stand(x, p);
    const double lacking = s.over ? thickness_ - p.side * s.height : 0;
    if (!(lacking > 0)) continue;
    const Vector push = stiffness * lacking * p.side * s.normal;
    const Eigen::Matrix3d across = stiffness * s.normal * s.normal.transpose();
    for (std::size_t i = 0; i < 4; ++i) {
      const double w = s.weights[static_cast<Eigen::Index>(i)];
      force.segment<3>(3 * p.ends[i]) += w * push;
      blocks[at(p.ends[i])] += 2 * std::abs(w) * across;
    }
  }
}

/// Edges that go through a facet inside it, with both ends clear of its plane.
int Contacts::piercing(const Shape& x) const {
  const Cells cells(x, triangles_);
  std::vector<int> seen(triangles_.size(), -1);
  int count = 0;
  for (std::size_t e = 0; e < edges_.size(); ++e) {
    const VertexId a = edges_[e][0];
    const VertexId b = edges_[e][1];
    cells.each_near(x, edges_[e], static_cast<int>(e), seen, [&](int t) {
      const auto& [p, q, r] = triangles_[at(t)];
      if (a == p || a == q || a == r || b == p || b == q || b == r) return;
      const double from = stand({x[at(a)], x[at(p)], x[at(q)], x[at(r)]}, false).height;
      const double to = stand({x[at(b)], x[at(p)], x[at(q)], x[at(r)]}, false).height;
      if (from * to >= 0 || std::min(std::abs(from), std::abs(to)) < deep) return;
      const Vector through = (from * x[at(b)] - to * x[at(a)]) / (from - to);
      const Eigen::Vector4d w = stand({through, x[at(p)], x[at(q)], x[at(r)]}, false).weights;
      count += std::max({w[1], w[2], w[3]}) < -deep;
    });
  }
  return count;
}

int Contacts::passed_through(const Shape& x) const {
  const auto beyond = std::count_if(near_.begin(), near_.end(), [&](const Pair& p) {
    const Stand s = stand(x, p);
    return s.over && p.side * s.height < -deep;
  });
  return static_cast<int>(beyond) + piercing(x);
}

} // namespace uc
