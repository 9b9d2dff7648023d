#include "collapse/contact.h"

#include "base/index.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>
#include <utility>

namespace uc {
namespace {

using Vector = Eigen::Vector3d;

constexpr double reach = 0.6;   // in units, from which a side is known: twice the longest step
constexpr double skin = 0.3;    // in units, by which more is gathered, so that it serves for several steps
constexpr double clear = 1e-4;  // in units: what comes over each other nearer than this has no side yet
constexpr double give = 1e-3;   // in units: layers that lie in each other by less do not push, as in a flat packet
constexpr double deep = 0.04;   // in units: what has passed a layer by less only presses against it
constexpr double flat = 1e-12;  // what spans less has no side
constexpr double inner = -0.01; // of the weights: what stands on the rim still counts, for panels are often alike
constexpr double inside = 0.02; // of the weights: less is at a rim, where parts that fit exactly touch
constexpr double askew = 0.005; // the least sine of the angle at which edges cross; others lie along each other
constexpr double cell = 1.5;    // of the grid facets and edges are looked up in, in units
constexpr double soft = 3e-2;   // stiffness of a contact, over that of a bar
constexpr double firm = 3;      // the same where creases are driven hard

std::uint64_t key_of(int first, int second) {
  return static_cast<std::uint64_t>(first) << 32U | static_cast<std::uint64_t>(second);
}

/// Whether the boxes of two things come nearer than `gap` along each axis.
template <std::size_t n, std::size_t m>
bool near_each_other(const std::vector<Vector>& x, const std::array<VertexId, n>& first,
                     const std::array<VertexId, m>& second, double gap) {
  for (Eigen::Index axis = 0; axis < 3; ++axis) {
    const auto along = [&](VertexId v) { return x[at(v)][axis]; };
    const auto [low, high] = std::ranges::minmax(first, {}, along);
    const auto [lower, higher] = std::ranges::minmax(second, {}, along);
    if (along(lower) > along(high) + gap || along(low) > along(higher) + gap) return false;
  }
  return true;
}

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
  /// Things, each grown by so much.
  template <std::size_t n>
  Cells(const std::vector<Vector>& x, const std::vector<std::array<VertexId, n>>& things, double grown) {
    for (std::size_t i = 0; i < things.size(); ++i)
      each(x, things[i], grown, [&](std::uint64_t c) { held[c].push_back(static_cast<int>(i)); });
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

Contacts::Contacts(const FoldMesh& mesh, double thickness, LayerContact how)
    : triangles_(mesh.triangles), star_(mesh.flat.size()), thickness_(thickness - give),
      stiffness_(how == LayerContact::firm ? firm : soft),
      rims_slide_(how == LayerContact::sliding || how == LayerContact::counted) {
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

Contacts::Lift Contacts::lift(const Vector& p, const Vector& q, const Vector& r, const Vector& s, bool of_edges) {
  Lift out;
  out.first = of_edges ? q - p : r - q;
  out.second = of_edges ? s - r : s - q;
  out.between = of_edges ? r - p : p - q;
  out.normal = out.first.cross(out.second);
  out.square = out.normal.squaredNorm();
  out.along = out.between.dot(out.normal);
  return out;
}

/// Whether no side can be told: what spans nothing, and edges that lie along each other.
bool Contacts::level(const Lift& l, bool of_edges) {
  return l.square < flat * flat ||
         (of_edges && l.square < askew * askew * l.first.squaredNorm() * l.second.squaredNorm());
}

double Contacts::height(const Places& ends, bool of_edges) {
  const Lift l = lift(ends[0], ends[1], ends[2], ends[3], of_edges);
  return level(l, of_edges) ? 0 : l.along / std::sqrt(l.square);
}

std::optional<Contacts::Stand> Contacts::over(const Lift& l, bool of_edges) {
  // Most pairs are told apart by the first of these, so nothing is divided before.
  if (l.square < flat * flat || l.along * l.along >= reach * reach * l.square) return std::nullopt;
  double first = l.between.cross(l.second).dot(l.normal);
  if (first <= inner * l.square || first >= (1 - inner) * l.square) return std::nullopt;
  double second = l.first.cross(l.between).dot(l.normal);
  // Of each part all weights have one sign where the nearest place lies on it.
  const double last = of_edges ? l.square + second : l.square - first - second;
  if (std::min(of_edges ? -second : second, last) <= inner * l.square) return std::nullopt;
  if (level(l, of_edges)) return std::nullopt;
  first /= l.square;
  second /= l.square;
  Stand out;
  const double size = std::sqrt(l.square);
  out.normal = l.normal / size;
  out.height = l.along / size;
  if (of_edges)
    out.weights = {first - 1, -first, 1 + second, -second};
  else
    out.weights = {1, first + second - 1, -first, -second};
  return out;
}

/// How a pair stands that has come nearer than it may, or got through.
std::optional<Contacts::Stand> Contacts::pressing(const Shape& x, const Pair& pair) const {
  const Lift l = lift(x, pair);
  if (pair.side * l.along >= thickness_ * std::sqrt(l.square)) return std::nullopt;
  return over(l, pair.of_edges);
}

/// How a pair stood when it went through since the shape before, if it did.
std::optional<Contacts::Stand> Contacts::crossing(const Shape& x, const Pair& pair, double now) const {
  if (last_.empty()) return std::nullopt;
  const Places from = places(last_, pair);
  const double before = height(from, pair.of_edges);
  if (before * now >= 0) return std::nullopt;
  const double part = before / (before - now);
  Places p = places(x, pair);
  for (std::size_t i = 0; i < 4; ++i) p[i] = (1 - part) * from[i] + part * p[i];
  auto stand = over(lift(p[0], p[1], p[2], p[3], pair.of_edges), pair.of_edges);
  // Where they are still apart then, it is the normal that has turned over.
  if (stand && std::abs(stand->height) < std::max(std::abs(before), std::abs(now)) / 2) return stand;
  return std::nullopt;
}

bool Contacts::at_rim(const Stand& stand) { return stand.weights.cwiseAbs().minCoeff() < inside; }

/// The side on which a pair has come over each other: that of the shape before if it went through since, else that on
/// which it is; 0 while that cannot be told. Where rims slide, what went through at one has gone round.
double Contacts::side_of(const Shape& x, const Pair& pair, const Stand& now) const {
  if (pair.side != 0 && pair.side * now.height >= 0) return pair.side;
  const auto through = crossing(x, pair, now.height);
  const double here = std::abs(now.height) <= clear ? 0 : now.height > 0 ? 1 : -1;
  if (!through) return pair.side != 0 ? pair.side : here;
  if (rims_slide_ && at_rim(*through)) return here;
  return pair.side != 0 ? pair.side : now.height > 0 ? -1 : 1;
}

void Contacts::gather_corners(const Shape& x) {
  const Cells cells(x, triangles_, reach + skin);
  for (VertexId v(0); at(v) < x.size(); ++v)
    for (const int t : cells.at_key(Cells::key(Cells::place(x[at(v)])))) {
      const auto& corners = triangles_[at(t)];
      if (std::binary_search(star_[at(v)].begin(), star_[at(v)].end(), t)) continue;
      if (near_each_other(x, std::array{v}, corners, reach + skin))
        gathered_.push_back({{v, corners[0], corners[1], corners[2]}});
    }
}

void Contacts::gather_edges(const Shape& x) {
  const Cells cells(x, edges_, reach + skin);
  std::vector<int> seen(edges_.size(), -1);
  for (std::size_t e = 0; e < edges_.size(); ++e) {
    const VertexId a = edges_[e][0];
    const VertexId b = edges_[e][1];
    const int own = static_cast<int>(e);
    cells.each_near(x, edges_[e], own, seen, [&](int f) {
      const auto& [g, h] = edges_[at(f)];
      if (f <= own || a == g || a == h || b == g || b == h) return;
      if (near_each_other(x, edges_[e], edges_[at(f)], reach + skin)) gathered_.push_back({{a, b, g, h}, true});
    });
  }
}

/// What may come within reach before a vertex has moved by half the skin; sides that are known are kept.
void Contacts::gather(const Shape& x) {
  std::map<std::pair<std::array<VertexId, 4>, bool>, double> sides;
  for (const Pair& p : gathered_)
    if (p.side != 0) sides.emplace(std::pair(p.ends, p.of_edges), p.side);
  gathered_.clear();
  gather_corners(x);
  gather_edges(x);
  for (Pair& p : gathered_) {
    const auto known = sides.find({p.ends, p.of_edges});
    if (known != sides.end()) p.side = known->second;
  }
  gathered_at_ = x;
}

void Contacts::find(const Shape& x) {
  bool serves = gathered_at_.size() == x.size();
  for (std::size_t v = 0; serves && v < x.size(); ++v) serves = (x[v] - gathered_at_[v]).norm() < skin / 2;
  if (!serves) gather(x);
  near_.clear();
  for (Pair& p : gathered_) {
    const auto s = over(lift(x, p), p.of_edges);
    if (!s)
      p.side = 0;
    else
      p.side = side_of(x, p, *s);
    if (p.side != 0) near_.push_back(p);
  }
  last_ = x;
}

double Contacts::energy(const Shape& x) const {
  double sum = 0;
  for (const Pair& p : near_) {
    if (const auto s = pressing(x, p)) sum += std::pow(thickness_ - p.side * s->height, 2);
  }
  return stiffness_ * sum / 2;
}

std::vector<Push> Contacts::pushes(const Shape& x) const {
  std::vector<Push> out;
  for (const Pair& p : near_)
    if (const auto s = pressing(x, p))
      out.push_back(
          {p.ends, s->weights, s->normal, stiffness_ * (thickness_ - p.side * s->height) * p.side, stiffness_});
  return out;
}

void add_pushes(const std::vector<Push>& pushes, Eigen::VectorXd& force, std::vector<Eigen::Matrix3d>& blocks) {
  for (const Push& p : pushes) {
    const Eigen::Matrix3d across = p.stiffness * p.normal * p.normal.transpose();
    for (std::size_t i = 0; i < 4; ++i) {
      const double w = p.weights[static_cast<Eigen::Index>(i)];
      force.segment<3>(3 * p.ends[i]) += w * p.strength * p.normal;
      blocks[at(p.ends[i])] += 2 * std::abs(w) * across;
    }
  }
}

void add_resistance(const std::vector<Push>& pushes, const Eigen::VectorXd& move, Eigen::VectorXd& force) {
  for (const Push& p : pushes) {
    double nearer = 0;
    for (std::size_t i = 0; i < 4; ++i)
      nearer += p.weights[static_cast<Eigen::Index>(i)] * p.normal.dot(move.segment<3>(3 * p.ends[i]));
    for (std::size_t i = 0; i < 4; ++i)
      force.segment<3>(3 * p.ends[i]) += p.stiffness * nearer * p.weights[static_cast<Eigen::Index>(i)] * p.normal;
  }
}

/// Edges that go through a facet inside it, with both ends clear of its plane.
int Contacts::piercing(const Shape& x) const {
  const Cells cells(x, triangles_, 0);
  std::vector<int> seen(triangles_.size(), -1);
  int count = 0;
  for (std::size_t e = 0; e < edges_.size(); ++e) {
    const VertexId a = edges_[e][0];
    const VertexId b = edges_[e][1];
    cells.each_near(x, edges_[e], static_cast<int>(e), seen, [&](int t) {
      const auto& [p, q, r] = triangles_[at(t)];
      if (a == p || a == q || a == r || b == p || b == q || b == r) return;
      const double from = height({x[at(a)], x[at(p)], x[at(q)], x[at(r)]}, false);
      const double to = height({x[at(b)], x[at(p)], x[at(q)], x[at(r)]}, false);
      if (from * to >= 0 || std::min(std::abs(from), std::abs(to)) < deep) return;
      const Vector through = (from * x[at(b)] - to * x[at(a)]) / (from - to);
      const auto there = over(lift(through, x[at(p)], x[at(q)], x[at(r)], false), false);
      count += there && there->weights.tail<3>().maxCoeff() < -deep;
    });
  }
  return count;
}

int Contacts::passed_through(const Shape& x) const {
  const auto beyond = std::count_if(near_.begin(), near_.end(), [&](const Pair& p) {
    const auto s = over(lift(x, p), p.of_edges);
    return s && p.side * s->height < -deep && !at_rim(*s);
  });
  return static_cast<int>(beyond) + piercing(x);
}

} // namespace uc
