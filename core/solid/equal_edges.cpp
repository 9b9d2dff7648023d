#include "solid/equal_edges.h"

#include <Eigen/Geometry>
#include <Eigen/SparseCholesky>

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

namespace uc {
namespace {

/// A number that is to vanish, of a few vertices.
struct Residual {
  std::vector<VertexId> of;
  std::function<double(const std::vector<Point3>&)> value; // of these vertices, in order
  double weight = 1;
};

double angle_between(const Point3& a, const Point3& b) { return std::atan2(a.cross(b).norm(), a.dot(b)); }

double regular_angle(std::size_t sides) { return std::numbers::pi * (1 - 2.0 / static_cast<double>(sides)); }

std::vector<Residual> edge_residuals(const Polyhedron& p) {
  std::vector<Residual> out;
  for (const auto& [a, b] : p.edges())
    out.push_back({{a, b}, [](const std::vector<Point3>& v) { return (v[0] - v[1]).norm() - 1; }, 1});
  return out;
}

/// By how much the dihedral angle at an edge is not flat, in radians: their squares are least where they are even.
std::vector<Residual> fold_residuals(const Polyhedron& p) {
  std::vector<Residual> out;
  const auto edges = p.edges();
  const auto beside = faces_beside(p);
  for (std::size_t e = 0; e < edges.size(); ++e) {
    const auto across = [&](FaceId f) {
      for (const VertexId v : p.faces[at(f)])
        if (v != edges[e][0] && v != edges[e][1]) return v;
      return edges[e][0];
    };
    out.push_back({{edges[e][0], edges[e][1], across(beside[e][0]), across(beside[e][1])},
                   [](const std::vector<Point3>& v) {
                     const Point3 along = v[1] - v[0];
                     return angle_between(along.cross(v[2] - v[0]), (v[3] - v[0]).cross(along));
                   },
                   1});
  }
  return out;
}

/// Of each corner how far it is from that of the regular face, and how far the next vertex but one leaves its plane.
std::vector<Residual> corner_residuals(const Polyhedron& p) {
  std::vector<Residual> out;
  for (const auto& face : p.faces) {
    const std::size_t n = face.size();
    for (std::size_t i = 0; i < n; ++i) {
      const VertexId before = face[(i + n - 1) % n];
      const VertexId here = face[i];
      const VertexId after = face[(i + 1) % n];
      out.push_back({{before, here, after},
                     [right = regular_angle(n)](const std::vector<Point3>& v) {
                       return angle_between(v[0] - v[1], v[2] - v[1]) - right;
                     },
                     1});
      if (n > 3)
        out.push_back({{before, here, after, face[(i + 2) % n]},
                       [](const std::vector<Point3>& v) { return (v[1] - v[0]).cross(v[2] - v[1]).dot(v[3] - v[2]); },
                       1});
    }
  }
  return out;
}

double sum_of_squares(const std::vector<Residual>& all, const std::vector<Point3>& at_vertex) {
  double sum = 0;
  std::vector<Point3> v;
  for (const Residual& r : all) {
    v.clear();
    for (const VertexId i : r.of) v.push_back(at_vertex[at(i)]);
    const double value = r.value(v);
    sum += r.weight * value * value;
  }
  return sum;
}

/// A step of Levenberg (1944) and Marquardt (1963): J'WJ + damping, solved once.
std::vector<Point3> stepped(const std::vector<Residual>& all, const std::vector<Point3>& from, double damping) {
  constexpr double h = 1e-6;
  const auto size = static_cast<Eigen::Index>(3 * from.size());
  std::vector<Eigen::Triplet<double>> entries;
  Eigen::VectorXd right = Eigen::VectorXd::Zero(size);
  for (const Residual& r : all) {
    std::vector<Point3> v;
    for (const VertexId i : r.of) v.push_back(from[at(i)]);
    const double value = r.value(v);
    std::vector<double> slope;
    std::vector<int> column;
    for (std::size_t k = 0; k < v.size(); ++k)
      for (int d = 0; d < 3; ++d) {
        const double kept = v[k][d];
        v[k][d] = kept + h;
        const double up = r.value(v);
        v[k][d] = kept - h;
        const double down = r.value(v);
        v[k][d] = kept;
        slope.push_back((up - down) / (2 * h));
        column.push_back(3 * static_cast<int>(r.of[k]) + d);
      }
    for (std::size_t i = 0; i < slope.size(); ++i) {
      right[column[i]] -= r.weight * slope[i] * value;
      for (std::size_t j = 0; j < slope.size(); ++j)
        entries.emplace_back(column[i], column[j], r.weight * slope[i] * slope[j]);
    }
  }
  for (int i = 0; i < size; ++i) entries.emplace_back(i, i, damping);
  Eigen::SparseMatrix<double> matrix(size, size);
  matrix.setFromTriplets(entries.begin(), entries.end());
  const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(matrix);
  const Eigen::VectorXd step = solver.solve(right);
  std::vector<Point3> out = from;
  for (std::size_t i = 0; i < out.size(); ++i) out[i] += step.segment<3>(static_cast<Eigen::Index>(3 * i));
  return out;
}

/// Longest over shortest edge, less 1.
double unevenness(const Polyhedron& p) {
  double least = std::numeric_limits<double>::max();
  double most = 0;
  for (const auto& [a, b] : p.edges()) {
    const double length = (p.vertices[at(a)] - p.vertices[at(b)]).norm();
    least = std::min(least, length);
    most = std::max(most, length);
  }
  return most / least - 1;
}

bool fits(const Polyhedron& p) {
  const bool triangles = std::all_of(p.faces.begin(), p.faces.end(), [](const auto& f) { return f.size() == 3; });
  const auto rings = rings_of(p);
  const auto degrees = [&](auto allowed) {
    return std::all_of(rings.begin(), rings.end(), [&](const auto& r) { return allowed(r.size()); });
  };
  const auto five_or_six = [](std::size_t n) { return n == 5 || n == 6; };
  if (triangles) return degrees(five_or_six);
  return degrees([](std::size_t n) { return n == 3; }) &&
         std::all_of(p.faces.begin(), p.faces.end(), [&](const auto& f) { return five_or_six(f.size()); });
}

/// Comes to rest for the weights as they are.
void settle(const std::vector<Residual>& all, std::vector<Point3>& vertices, const Progress* progress) {
  double damping = 1e-3;
  double now = sum_of_squares(all, vertices);
  for (int i = 0; i < 60 && !(progress && progress->stopped()); ++i) {
    auto next = stepped(all, vertices, damping);
    const double then = sum_of_squares(all, next);
    if (!(then < now)) {
      damping *= 8;
      if (damping > 1e8) return;
      continue;
    }
    const bool rests = now - then < 1e-12 * now;
    vertices = std::move(next);
    now = then;
    damping = std::max(1e-9, damping / 4);
    if (rests) return;
  }
}

} // namespace

Result<Polyhedron> with_equal_edges(const Polyhedron& map, const Progress* progress) {
  Polyhedron p = map;
  if (!fits(p)) return Error{"it takes a geodesic sphere, as geodesic:3,1, or the dual of one"};
  double mean = 0;
  const auto edges = p.edges();
  for (const auto& [a, b] : edges) mean += (p.vertices[at(a)] - p.vertices[at(b)]).norm();
  for (Point3& v : p.vertices) v *= static_cast<double>(edges.size()) / mean;
  std::vector<Residual> all = edge_residuals(p);
  const std::size_t of_edges = all.size();
  const bool triangles = p.faces.front().size() == 3 && p.faces.back().size() == 3;
  for (Residual& r : triangles ? fold_residuals(p) : corner_residuals(p)) all.push_back(std::move(r));
  // Edges are made to count more and more, only until they are equal enough.
  for (double weight = 100; weight < 1e12; weight *= 2) {
    for (std::size_t i = 0; i < of_edges; ++i) all[i].weight = weight;
    settle(all, p.vertices, progress);
    if (progress && progress->stopped()) return Error{"it was stopped before the shape was found"};
    if (unevenness(p) < 0.95 * equal_edge_tolerance) return with_edge(std::move(p), 1);
  }
  return Error{"no shape with equal edges was found for this map"};
}

FaceBend bend_of_faces(const Polyhedron& p) {
  FaceBend out;
  int corners = 0;
  for (const auto& face : p.faces) {
    const std::size_t n = face.size();
    for (std::size_t i = 0; i < n; ++i) {
      const Point3& a = p.vertices[at(face[(i + n - 1) % n])];
      const Point3& b = p.vertices[at(face[i])];
      const Point3& c = p.vertices[at(face[(i + 1) % n])];
      const Point3& d = p.vertices[at(face[(i + 2) % n])];
      const double wide = std::abs(angle_between(a - b, c - b) - regular_angle(n));
      const double bent = n > 3 ? angle_between((b - a).cross(c - b), (c - b).cross(d - c)) : 0;
      const double deg = std::max(wide, bent) * 180 / std::numbers::pi;
      out.worst_deg = std::max(out.worst_deg, deg);
      out.mean_deg += deg;
      ++corners;
    }
  }
  out.mean_deg /= std::max(1, corners);
  return out;
}

} // namespace uc
