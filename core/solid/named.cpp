#include "solid/named.h"

#include "base/index.h"

#include "base/clean_text.h"

#include <Eigen/LU>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <tuple>

namespace uc {
namespace {

constexpr double pi = std::numbers::pi;

/// The mirrors of the kaleidoscope with angles pi/p, pi/3 and pi/2 between them (Wythoff 1918; Coxeter 1954).
Eigen::Matrix3d mirrors(int p) {
  // Rows: unit normals n0, n1, n2 with n0.n1 = -cos(pi/p), n1.n2 = -cos(pi/3), n0.n2 = 0.
  const double a = -std::cos(pi / p);
  const double b = -0.5;
  Eigen::Matrix3d n = Eigen::Matrix3d::Zero();
  n.row(0) << 1, 0, 0;
  n.row(1) << a, std::sqrt(1 - a * a), 0;
  const double y = b / n(1, 1);
  n.row(2) << 0, y, std::sqrt(1 - y * y);
  return n;
}

/// The symmetries that keep orientation, from products of two mirrors.
std::vector<Eigen::Matrix3d> rotations(int p) {
  const Eigen::Matrix3d n = mirrors(p);
  const auto mirror = [&](int i) -> Eigen::Matrix3d {
    return Eigen::Matrix3d::Identity() - 2 * n.row(i).transpose() * n.row(i);
  };
  const Eigen::Matrix3d generators[] = {mirror(0) * mirror(1), mirror(1) * mirror(2)};
  std::vector<Eigen::Matrix3d> all{Eigen::Matrix3d::Identity()};
  for (std::size_t i = 0; i < all.size(); ++i) {
    for (const auto& g : generators) {
      const Eigen::Matrix3d next = g * all[i];
      if (std::none_of(all.begin(), all.end(), [&](const Eigen::Matrix3d& m) { return (m - next).norm() < 1e-6; }))
        all.push_back(next);
    }
  }
  return all;
}

void add_new(std::vector<Point3>& points, const Point3& p) {
  if (std::none_of(points.begin(), points.end(), [&](const Point3& q) { return (p - q).norm() < 1e-6; }))
    points.push_back(p);
}

/// Vertices at the images of a point at distance 1 from the mirrors of `ringed` and on the others.
Polyhedron wythoff(int p, const std::array<int, 3>& ringed) {
  const Eigen::Matrix3d n = mirrors(p);
  const Point3 point = n.inverse() * Point3(ringed[0], ringed[1], ringed[2]);
  const Eigen::Matrix3d across = Eigen::Matrix3d::Identity() - 2 * n.row(0).transpose() * n.row(0);
  std::vector<Point3> vertices;
  for (const Eigen::Matrix3d& r : rotations(p)) {
    add_new(vertices, r * point);
    add_new(vertices, r * (across * point));
  }
  return with_least_edges(std::move(vertices));
}

/// Vertices at the rotated images of the point whose images by the three generating rotations are equally far.
Polyhedron snub(int p) {
  const Eigen::Matrix3d n = mirrors(p);
  const auto mirror = [&](int i) -> Eigen::Matrix3d {
    return Eigen::Matrix3d::Identity() - 2 * n.row(i).transpose() * n.row(i);
  };
  const Eigen::Matrix3d turn[] = {mirror(0) * mirror(1), mirror(1) * mirror(2), mirror(0) * mirror(2)};
  Point3 x = (n.inverse() * Point3(1, 1, 1)).normalized(); // inside the triangle
  const auto residual = [&](const Point3& v) {
    double d[3];
    for (int i = 0; i < 3; ++i) d[i] = (turn[i] * v - v).squaredNorm();
    return Point3(d[0] - d[1], d[1] - d[2], v.squaredNorm() - 1);
  };
  for (int round = 0; round < 60; ++round) { // Newton
    const Point3 r = residual(x);
    Eigen::Matrix3d jacobian;
    for (int k = 0; k < 3; ++k) {
      // All three are quadratic, so central differences are exact but for rounding.
      jacobian.col(k) = (residual(x + 0.5 * Point3::Unit(k)) - residual(x - 0.5 * Point3::Unit(k)));
    }
    const Point3 step = jacobian.inverse() * r;
    x -= step;
    if (step.norm() < 1e-16) break;
  }
  std::vector<Point3> vertices;
  for (const Eigen::Matrix3d& r : rotations(p)) add_new(vertices, r * x);
  return with_least_edges(std::move(vertices));
}

Polyhedron prism(int n, bool anti) {
  const double r = 0.5 / std::sin(pi / n);
  // The side edges of an antiprism join corners half a step apart.
  const double chord = 2 * r * std::sin(pi / n / 2);
  const double h = anti ? std::sqrt(1 - chord * chord) / 2 : 0.5;
  std::vector<Point3> vertices;
  for (int i = 0; i < n; ++i) {
    const double low = 2 * pi * i / n;
    const double high = low + (anti ? pi / n : 0);
    vertices.emplace_back(r * std::cos(low), r * std::sin(low), -h);
    vertices.emplace_back(r * std::cos(high), r * std::sin(high), h);
  }
  Polyhedron out;
  out.vertices = std::move(vertices);
  std::vector<VertexId> top;
  std::vector<VertexId> bottom;
  const auto low = [&](int i) { return VertexId(2 * (i % n)); };
  const auto high = [&](int i) { return VertexId(2 * (i % n) + 1); };
  for (int i = 0; i < n; ++i) {
    top.push_back(high(i));
    bottom.push_back(low(n - 1 - i));
    if (anti) {
      out.faces.push_back({low(i), low(i + 1), high(i)});
      out.faces.push_back({low(i + 1), high(i + 1), high(i)});
    } else {
      out.faces.push_back({low(i), low(i + 1), high(i + 1), high(i)});
    }
  }
  out.faces.push_back(top);
  out.faces.push_back(bottom);
  return out;
}

/// Points of the triangular lattice in each face of an icosahedron, brought onto the sphere (Caspar and Klug 1962).
Result<Polyhedron> geodesic(int a, int b) {
  const Polyhedron icosahedron = wythoff(5, {0, 0, 1});
  std::vector<Point3> points;
  std::map<std::tuple<long, long, long>, bool> seen;
  const int t = a * a + a * b + b * b;
  for (const auto& f : icosahedron.faces) {
    const Point3 corner[] = {icosahedron.vertices[at(f[0])], icosahedron.vertices[at(f[1])],
                             icosahedron.vertices[at(f[2])]};
    // In lattice coordinates (i, j) the corners are (0,0), (a,b) and (-b,a+b).
    for (int i = -b; i <= a; ++i) {
      for (int j = 0; j <= a + b; ++j) {
        const int second = (a + b) * i + b * j; // times t
        const int third = a * j - b * i;
        const int first = t - second - third;
        if (first < 0 || second < 0 || third < 0) continue;
        const Point3 p = (first * corner[0] + second * corner[1] + third * corner[2]).normalized();
        const std::tuple key{std::lround(p.x() * 1e7), std::lround(p.y() * 1e7), std::lround(p.z() * 1e7)};
        bool known = false;
        for (long dx = -1; dx <= 1 && !known; ++dx)
          for (long dy = -1; dy <= 1 && !known; ++dy)
            for (long dz = -1; dz <= 1 && !known; ++dz)
              known = seen.contains({std::get<0>(key) + dx, std::get<1>(key) + dy, std::get<2>(key) + dz});
        if (known) continue;
        seen[key] = true;
        points.push_back(p);
      }
    }
  }
  return triangulated_hull(points);
}

struct Uniform {
  const char* name;
  const char* dual; // by its own name; null for those that are in the list themselves
  int p;
  std::array<int, 3> ringed; // all zero: snub
};
constexpr Uniform uniform[] = {
    {"tetrahedron", nullptr, 3, {1, 0, 0}},
    {"cube", nullptr, 4, {1, 0, 0}},
    {"octahedron", nullptr, 4, {0, 0, 1}},
    {"dodecahedron", nullptr, 5, {1, 0, 0}},
    {"icosahedron", nullptr, 5, {0, 0, 1}},
    {"truncated-tetrahedron", "triakis-tetrahedron", 3, {1, 1, 0}},
    {"cuboctahedron", "rhombic-dodecahedron", 4, {0, 1, 0}},
    {"truncated-cube", "triakis-octahedron", 4, {1, 1, 0}},
    {"truncated-octahedron", "tetrakis-hexahedron", 4, {0, 1, 1}},
    {"rhombicuboctahedron", "deltoidal-icositetrahedron", 4, {1, 0, 1}},
    {"truncated-cuboctahedron", "disdyakis-dodecahedron", 4, {1, 1, 1}},
    {"snub-cube", "pentagonal-icositetrahedron", 4, {0, 0, 0}},
    {"icosidodecahedron", "rhombic-triacontahedron", 5, {0, 1, 0}},
    {"truncated-dodecahedron", "triakis-icosahedron", 5, {1, 1, 0}},
    {"truncated-icosahedron", "pentakis-dodecahedron", 5, {0, 1, 1}},
    {"rhombicosidodecahedron", "deltoidal-hexecontahedron", 5, {1, 0, 1}},
    {"truncated-icosidodecahedron", "disdyakis-triacontahedron", 5, {1, 1, 1}},
    {"snub-dodecahedron", "pentagonal-hexecontahedron", 5, {0, 0, 0}},
};
Polyhedron made(const Uniform& u) { return u.ringed == std::array{0, 0, 0} ? snub(u.p) : wythoff(u.p, u.ringed); }

constexpr int most_sides = 500;
constexpr int most_frequency = 16;

} // namespace

const std::vector<std::string>& named_solids() {
  static const std::vector<std::string> all = [] {
    std::vector<std::string> names;
    for (const Uniform& u : uniform) names.emplace_back(u.name);
    for (const Uniform& u : uniform)
      if (u.dual) names.emplace_back(u.dual);
    return names;
  }();
  return all;
}

const std::vector<std::string>& numbered_solids() {
  static const std::vector<std::string> all = {"prism:7", "antiprism:5", "dipyramid:6", "trapezohedron:5",
                                               "geodesic:3,1"};
  return all;
}

Polyhedron polar_dual(const Polyhedron& p) {
  Point3 mean = Point3::Zero();
  for (const Point3& v : p.vertices) mean += v / static_cast<double>(p.vertices.size());
  Polyhedron out;
  for (FaceId f(0); at(f) < p.faces.size(); ++f) {
    const Point3 n = p.normal_of(f);
    out.vertices.push_back(n / n.dot(p.centre_of(f) - mean));
  }
  // Round each vertex, the face to the left of each edge that leaves it.
  std::map<std::array<VertexId, 2>, VertexId> left_of; // the dual's vertex in that face
  for (std::size_t f = 0; f < p.faces.size(); ++f)
    for (std::size_t i = 0; i < p.faces[f].size(); ++i)
      left_of[{p.faces[f][i], p.faces[f][(i + 1) % p.faces[f].size()]}] = VertexId(f);
  const auto rings = rings_of(p);
  for (VertexId v(0); at(v) < rings.size(); ++v) {
    std::vector<VertexId> around;
    for (const VertexId w : rings[at(v)]) around.push_back(left_of.at({v, w}));
    out.faces.push_back(std::move(around));
  }
  return out;
}

Result<Polyhedron> named_solid(std::string_view name, const std::vector<int>& numbers) {
  for (const Uniform& u : uniform) {
    if ((name == u.name || (u.dual && name == u.dual)) && !numbers.empty())
      return Error{fmt::format("{} takes no numbers", name)};
    if (name == u.name) return with_edge(made(u), 1);
    if (u.dual && name == u.dual) return with_edge(polar_dual(made(u)), 1);
  }
  const bool around = name == "prism" || name == "antiprism" || name == "dipyramid" || name == "trapezohedron";
  if (around) {
    if (numbers.size() != 1 || numbers[0] < 3 || numbers[0] > most_sides)
      return Error{fmt::format("{} takes its sides, 3 to {}, as {}:7", name, most_sides, name)};
    const int n = numbers[0];
    if (name == "prism") return with_edge(prism(n, false), 1);
    if (name == "antiprism") return with_edge(prism(n, true), 1);
    return with_edge(polar_dual(prism(n, name == "trapezohedron")), 1);
  }
  if (name == "geodesic") {
    if (numbers.size() != 2 || numbers[0] < 0 || numbers[1] < 0 || numbers[0] + numbers[1] < 1 ||
        numbers[0] + numbers[1] > most_frequency)
      return Error{
          fmt::format("geodesic takes two whole numbers whose sum is 1 to {}, as geodesic:3,1", most_frequency)};
    auto made = geodesic(numbers[0], numbers[1]);
    if (!made) return made;
    // On a sphere about the origin; moving it to the mean of the vertices would not change it but for rounding.
    const double scale = 1 / shortest_edge(*made);
    Polyhedron out = std::move(made).value();
    for (Point3& v : out.vertices) v *= scale;
    return out;
  }
  return Error{fmt::format("\"{}\" is not a solid known here; take one as icosahedron, prism:7 or geodesic:3,1",
                           clipped(shown_text(name), 60))};
}

} // namespace uc
