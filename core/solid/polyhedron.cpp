#include "solid/polyhedron.h"

#include "base/index.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace uc {
namespace {

constexpr double to_degrees = 180 / std::numbers::pi;

} // namespace

std::vector<std::array<VertexId, 2>> Polyhedron::edges() const {
  std::vector<std::array<VertexId, 2>> out;
  for (const auto& f : faces) {
    for (std::size_t i = 0; i < f.size(); ++i) {
      const VertexId a = f[i];
      const VertexId b = f[(i + 1) % f.size()];
      out.push_back({std::min(a, b), std::max(a, b)});
    }
  }
  std::sort(out.begin(), out.end());
  out.erase(std::unique(out.begin(), out.end()), out.end());
  return out;
}

Point3 Polyhedron::centre_of(FaceId face) const {
  Point3 sum = Point3::Zero();
  for (const VertexId v : faces[at(face)]) sum += vertices[at(v)];
  return sum / static_cast<double>(faces[at(face)].size());
}

Point3 Polyhedron::normal_of(FaceId face) const {
  const auto& f = faces[at(face)];
  const Point3& origin = vertices[at(f[0])];
  Point3 twice = Point3::Zero();
  for (std::size_t i = 0; i < f.size(); ++i)
    twice += (vertices[at(f[i])] - origin).cross(vertices[at(f[(i + 1) % f.size()])] - origin);
  return twice.normalized();
}

std::vector<std::array<FaceId, 2>> faces_beside(const Polyhedron& p) {
  const auto edges = p.edges();
  std::vector<std::array<FaceId, 2>> out(edges.size());
  for (std::size_t f = 0; f < p.faces.size(); ++f) {
    const auto& face = p.faces[f];
    for (std::size_t i = 0; i < face.size(); ++i) {
      const VertexId a = face[i];
      const VertexId b = face[(i + 1) % face.size()];
      const auto e = std::lower_bound(edges.begin(), edges.end(), std::array{std::min(a, b), std::max(a, b)});
      out[static_cast<std::size_t>(e - edges.begin())][a < b ? 0 : 1] = FaceId(f);
    }
  }
  return out;
}

std::vector<std::vector<VertexId>> rings_of(const Polyhedron& p) {
  std::map<std::array<VertexId, 2>, VertexId> before; // in the face left of v -> w, what comes before v
  for (const auto& f : p.faces)
    for (std::size_t i = 0; i < f.size(); ++i) before[{f[i], f[(i + 1) % f.size()]}] = f[(i + f.size() - 1) % f.size()];
  std::vector<std::vector<VertexId>> out(p.vertices.size());
  for (const auto& [edge, previous] : before) {
    auto& ring = out[at(edge[0])];
    if (!ring.empty()) continue;
    for (VertexId w = edge[1];;) {
      ring.push_back(w);
      w = before.at({edge[0], w});
      if (w == edge[1]) break;
    }
  }
  return out;
}

std::vector<double> dihedral_degrees(const Polyhedron& p) {
  const auto edges = p.edges();
  const auto beside = faces_beside(p);
  std::vector<double> out;
  for (std::size_t e = 0; e < edges.size(); ++e) {
    const Point3 along = (p.vertices[at(edges[e][1])] - p.vertices[at(edges[e][0])]).normalized();
    const Point3 left = p.normal_of(beside[e][0]);
    const Point3 right = p.normal_of(beside[e][1]);
    out.push_back(180 - std::atan2(right.cross(left).dot(-along), left.dot(right)) * to_degrees);
  }
  return out;
}

double diameter(const Polyhedron& p) {
  Point3 mean = Point3::Zero();
  for (const Point3& v : p.vertices) mean += v / static_cast<double>(p.vertices.size());
  double least = 1e300;
  double most = 0;
  for (const Point3& v : p.vertices) {
    least = std::min(least, (v - mean).norm());
    most = std::max(most, (v - mean).norm());
  }
  if (most - least < 1e-9 * most) return least + most;
  double far = 0;
  for (std::size_t i = 0; i < p.vertices.size(); ++i)
    for (std::size_t k = 0; k < i; ++k) far = std::max(far, (p.vertices[i] - p.vertices[k]).norm());
  return far;
}

double shortest_edge(const Polyhedron& p) {
  double least = 1e300;
  for (const auto& [a, b] : p.edges()) least = std::min(least, (p.vertices[at(a)] - p.vertices[at(b)]).norm());
  return least;
}

double planarity_error(const Polyhedron& p) {
  double worst = 0;
  for (FaceId f(0); at(f) < p.faces.size(); ++f) {
    const Point3 n = p.normal_of(f);
    const Point3 c = p.centre_of(f);
    for (const VertexId v : p.faces[at(f)]) worst = std::max(worst, std::abs(n.dot(p.vertices[at(v)] - c)));
  }
  return worst;
}

Polyhedron with_edge(Polyhedron p, double edge) {
  Point3 mean = Point3::Zero();
  for (const Point3& v : p.vertices) mean += v / static_cast<double>(p.vertices.size());
  const double scale = edge / shortest_edge(p);
  for (Point3& v : p.vertices) v = scale * (v - mean);
  return p;
}

Result<Polyhedron> triangulated_hull(const std::vector<Point3>& points) {
  const int n = static_cast<int>(points.size());
  using Face = std::array<int, 3>;
  const auto height = [&](const Face& f, int v) {
    const Point3& o = points[at(f[0])];
    return (points[at(f[1])] - o).cross(points[at(f[2])] - o).dot(points[at(v)] - o);
  };
  // A first tetrahedron, then one point after another: what it sees is replaced by triangles from its horizon.
  std::array<int, 4> first{0, -1, -1, -1};
  for (int v = 1; v < n && first[3] < 0; ++v) {
    const Point3 d = points[at(v)] - points[0];
    if (first[1] < 0) {
      if (d.norm() > 1e-9) first[1] = v;
    } else if (first[2] < 0) {
      if (d.cross(points[at(first[1])] - points[0]).norm() > 1e-9) first[2] = v;
    } else if (std::abs(height({first[0], first[1], first[2]}, v)) > 1e-9) {
      first[3] = v;
    }
  }
  if (first[3] < 0) return Error{"the points lie in one plane"};
  std::vector<Face> faces;
  for (int skip = 0; skip < 4; ++skip) {
    Face f{first[at(skip == 0 ? 1 : 0)], first[at(skip <= 1 ? 2 : 1)], first[at(skip <= 2 ? 3 : 2)]};
    if (height(f, first[at(skip)]) > 0) std::swap(f[1], f[2]);
    faces.push_back(f);
  }
  for (int v = 0; v < n; ++v) {
    if (std::find(first.begin(), first.end(), v) != first.end()) continue;
    std::map<std::array<int, 2>, bool> horizon;
    std::vector<Face> kept;
    for (const Face& f : faces) {
      if (height(f, v) <= 1e-13) {
        kept.push_back(f);
        continue;
      }
      for (std::size_t i = 0; i < 3; ++i) horizon[{f[i], f[(i + 1) % 3]}] = true;
    }
    for (const auto& [edge, unused] : horizon)
      if (!horizon.contains({edge[1], edge[0]})) kept.push_back({edge[0], edge[1], v});
    faces = std::move(kept);
  }
  Polyhedron out;
  out.vertices = points;
  for (const Face& f : faces) out.faces.push_back({VertexId(f[0]), VertexId(f[1]), VertexId(f[2])});
  return out;
}

Polyhedron with_least_edges(std::vector<Point3> vertices) {
  Polyhedron out;
  out.vertices = std::move(vertices);
  const std::size_t n = out.vertices.size();
  double least = 1e300;
  for (std::size_t i = 0; i < n; ++i)
    for (std::size_t k = 0; k < i; ++k) least = std::min(least, (out.vertices[i] - out.vertices[k]).norm());
  // Neighbours counter-clockwise, seen from outside.
  std::vector<std::vector<VertexId>> around(n);
  for (std::size_t i = 0; i < n; ++i) {
    const Point3 up = out.vertices[i].normalized();
    const Point3 east = up.unitOrthogonal();
    const Point3 north = up.cross(east);
    std::vector<std::pair<double, VertexId>> found;
    for (std::size_t k = 0; k < n; ++k) {
      const Point3 d = out.vertices[k] - out.vertices[i];
      if (k != i && d.norm() < least * (1 + 1e-6)) found.emplace_back(std::atan2(d.dot(north), d.dot(east)), k);
    }
    std::sort(found.begin(), found.end());
    for (const auto& [angle, k] : found) around[i].push_back(k);
  }
  std::map<std::array<VertexId, 2>, bool> walked;
  for (VertexId i(0); at(i) < n; ++i) {
    for (const VertexId k : around[at(i)]) {
      if (walked[{i, k}]) continue;
      std::vector<VertexId> face;
      VertexId from = i;
      VertexId to = k;
      while (!walked[{from, to}]) {
        walked[{from, to}] = true;
        face.push_back(from);
        const auto& ring = around[at(to)];
        const auto back = std::find(ring.begin(), ring.end(), from);
        const VertexId next = back == ring.begin() ? ring.back() : *(back - 1);
        from = to;
        to = next;
      }
      out.faces.push_back(std::move(face));
    }
  }
  return out;
}

} // namespace uc
