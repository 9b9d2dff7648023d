#include "collapse/contact.h"

#include "base/index.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

using Vector = Eigen::Vector3d;

constexpr double reach = 0.6;      // in units, from which a side is known: twice the longest step
constexpr double clear = 1e-4;     // in units: a vertex nearer to the plane when it comes over it has no side yet
constexpr double deep = 0.02;      // in units: what has passed a layer by less only presses against it
constexpr double inner = -0.01;    // of the weights: what stands on the rim still counts, for panels are often alike
constexpr double cell = 1.5;       // of the grid triangles are looked up in, in units
constexpr double stiffness = 1e-2; // of a contact, over that of a bar

std::uint64_t key_of(int vertex, int triangle) {
  return static_cast<std::uint64_t>(vertex) << 32U | static_cast<std::uint64_t>(triangle);
}

std::uint64_t cell_key(const Eigen::Vector3i& c) {
  constexpr std::int64_t offset = 1 << 20;
  const auto part = [](int v) { return static_cast<std::uint64_t>((v + offset) & 0x1F'FFFF); };
  return part(c.x()) << 42U | part(c.y()) << 21U | part(c.z());
}

} // namespace

Contacts::Contacts(const FoldMesh& mesh, double thickness)
    : triangles_(mesh.triangles), star_(mesh.flat.size()), thickness_(thickness) {
  for (std::size_t t = 0; t < triangles_.size(); ++t)
    for (const VertexId v : triangles_[t]) star_[at(v)].push_back(static_cast<int>(t));
  // Across a hinge layers close on each other: the angle says how far, not the contact.
  std::unordered_map<std::uint64_t, int> of_edge;
  for (std::size_t t = 0; t < triangles_.size(); ++t)
    for (std::size_t i = 0; i < 3; ++i)
      of_edge[key_of(triangles_[t][i], triangles_[t][(i + 1) % 3])] = static_cast<int>(t);
  for (const FoldMesh::Hinge& h : mesh.hinges) {
    const auto left = of_edge.find(key_of(h.a, h.b));
    const auto right = of_edge.find(key_of(h.b, h.a));
    if (left == of_edge.end() || right == of_edge.end()) continue;
    star_[at(h.left)].push_back(right->second);
    star_[at(h.right)].push_back(left->second);
  }
  for (auto& own : star_) std::sort(own.begin(), own.end());
}

Contacts::Stand Contacts::stand(const std::vector<Vector>& x, VertexId vertex, int triangle) const {
  const auto& t = triangles_[at(triangle)];
  const Vector& a = x[at(t[0])];
  const Vector u = x[at(t[1])] - a;
  const Vector w = x[at(t[2])] - a;
  Stand out;
  const Vector n = u.cross(w);
  const double area = n.norm();
  if (area < 1e-12) return out;
  out.normal = n / area;
  const Vector d = x[at(vertex)] - a;
  out.height = d.dot(out.normal);
  const double b = d.cross(w).dot(out.normal) / area;
  const double c = u.cross(d).dot(out.normal) / area;
  out.weights = {1 - b - c, b, c};
  out.over = out.weights.minCoeff() > inner && std::abs(out.height) < reach;
  return out;
}

void Contacts::find(const std::vector<Vector>& x) {
  // Triangles by the cells of a grid that their boxes, grown by the reach, meet.
  std::unordered_map<std::uint64_t, std::vector<int>> cells;
  const auto cell_of = [](const Vector& p) -> Eigen::Vector3i { return (p / cell).array().floor().cast<int>(); };
  for (std::size_t t = 0; t < triangles_.size(); ++t) {
    Vector low = x[at(triangles_[t][0])];
    Vector high = low;
    for (const VertexId v : triangles_[t]) low = low.cwiseMin(x[at(v)]), high = high.cwiseMax(x[at(v)]);
    const Eigen::Vector3i from = cell_of(low - Vector::Constant(reach));
    const Eigen::Vector3i to = cell_of(high + Vector::Constant(reach));
    for (int i = from.x(); i <= to.x(); ++i)
      for (int j = from.y(); j <= to.y(); ++j)
        for (int k = from.z(); k <= to.z(); ++k) cells[cell_key({i, j, k})].push_back(static_cast<int>(t));
  }
  std::unordered_map<std::uint64_t, double> sides;
  near_.clear();
  for (VertexId v(0); at(v) < x.size(); ++v) {
    const auto here = cells.find(cell_key(cell_of(x[at(v)])));
    if (here == cells.end()) continue;
    for (const int t : here->second) {
      if (std::binary_search(star_[at(v)].begin(), star_[at(v)].end(), t)) continue;
      const Stand s = stand(x, v, t);
      if (!s.over) continue;
      const std::uint64_t key = key_of(v, t);
      const auto known = side_.find(key);
      double side = known == side_.end() ? 0 : known->second;
      if (side == 0 && std::abs(s.height) > clear) side = s.height > 0 ? 1 : -1;
      if (side == 0) continue;
      sides.emplace(key, side);
      near_.push_back({v, t, side});
    }
  }
  side_ = std::move(sides);
}

double Contacts::energy(const std::vector<Vector>& x) const {
  double sum = 0;
  for (const Pair& p : near_) {
    const Stand s = stand(x, p.vertex, p.triangle);
    if (!s.over) continue;
    const double lacking = thickness_ - p.side * s.height;
    if (lacking > 0) sum += lacking * lacking;
  }
  return stiffness * sum / 2;
}

void Contacts::add(const std::vector<Vector>& x, Eigen::VectorXd& force, std::vector<Eigen::Matrix3d>& blocks) const {
  for (const Pair& p : near_) {
    const Stand s = stand(x, p.vertex, p.triangle);
    const double lacking = s.over ? thickness_ - p.side * s.height : 0;
    if (!(lacking > 0)) continue;
    const Vector push = stiffness * lacking * p.side * s.normal;
    const Eigen::Matrix3d across = stiffness * s.normal * s.normal.transpose();
    force.segment<3>(3 * p.vertex) += push;
    blocks[at(p.vertex)] += 2 * across;
    const auto& t = triangles_[at(p.triangle)];
    for (std::size_t i = 0; i < 3; ++i) {
      const double w = s.weights[static_cast<Eigen::Index>(i)];
      force.segment<3>(3 * t[i]) -= w * push;
      blocks[at(t[i])] += 2 * w * across;
    }
  }
}

int Contacts::passed_through(const std::vector<Vector>& x) const {
  return static_cast<int>(std::count_if(near_.begin(), near_.end(), [&](const Pair& p) {
    const Stand s = stand(x, p.vertex, p.triangle);
    return s.over && p.side * s.height < -deep;
  }));
}

} // namespace uc
