#include "solid/operators.h"

#include "base/index.h"
#include "solid/named.h"

#include <Eigen/Geometry>
#include <Eigen/SparseCholesky>

#include <algorithm>
#include <cmath>
#include <map>

namespace uc {
namespace {

using Key = std::array<int, 2>; // what a corner is made from: an edge, a corner of a face
using Edges = std::vector<std::array<VertexId, 2>>;

/// The corners of a new polyhedron, numbered as they come up, with the place each has for a start.
class Corners {
public:
  VertexId number(const Key& key, const Point3& place) {
    const auto [it, fresh] = number_.try_emplace(key, places_.size());
    if (fresh) places_.push_back(place);
    return it->second;
  }
  [[nodiscard]] VertexId of(const Key& key) const { return number_.at(key); }
  [[nodiscard]] const std::vector<Point3>& places() const { return places_; }

private:
  std::map<Key, VertexId> number_;
  std::vector<Point3> places_;
};

/// Every edge moved to touch the sphere, every face made plane, in turn (Hart 1997): a start for Newton's method.
void settle(Polyhedron& p, const Edges& edges, int rounds, const Progress* progress) {
  for (int round = 0; round < rounds && !(progress && progress->stopped()); ++round) {
    Point3 mean = Point3::Zero();
    std::vector<Point3> shift(p.vertices.size(), Point3::Zero());
    for (const auto& [a, b] : edges) {
      const Point3& u = p.vertices[at(a)];
      const Point3 d = p.vertices[at(b)] - u;
      const Point3 near = u - u.dot(d) / d.squaredNorm() * d;
      const Point3 c = 0.25 * (1 - near.norm()) / near.norm() * near;
      shift[at(a)] += c;
      shift[at(b)] += c;
      mean += near / static_cast<double>(edges.size());
    }
    for (std::size_t v = 0; v < p.vertices.size(); ++v) p.vertices[v] += shift[v] - mean;
    std::fill(shift.begin(), shift.end(), Point3::Zero());
    for (FaceId f(0); at(f) < p.faces.size(); ++f) {
      if (p.faces[at(f)].size() < 4) continue;
      const Point3 n = p.normal_of(f);
      const Point3 c = p.centre_of(f);
      for (const VertexId v : p.faces[at(f)]) shift[at(v)] += 0.3 * n.dot(c - p.vertices[at(v)]) * n;
    }
    for (std::size_t v = 0; v < p.vertices.size(); ++v) p.vertices[v] += shift[v];
  }
}

/// What is not yet canonical, one number for each condition, and its derivatives: edges that touch the sphere, corners
/// of faces in one plane with the three before them, the mean of the points of contact.
struct Conditions {
  Eigen::VectorXd value;
  Eigen::SparseMatrix<double> slope;
};
Conditions conditions(const Polyhedron& p, const Edges& edges) {
  std::vector<Eigen::Triplet<double>> entries;
  std::vector<double> values;
  const auto put = [&](VertexId v, const Point3& gradient) {
    for (int k = 0; k < 3; ++k) entries.emplace_back(static_cast<int>(values.size()), 3 * v + k, gradient[k]);
  };
  for (const auto& [a, b] : edges) {
    // The squared distance of the line from the origin is |u x w|^2 / |w - u|^2.
    const Point3& u = p.vertices[at(a)];
    const Point3& w = p.vertices[at(b)];
    const Point3 d = w - u;
    const Point3 c = u.cross(w);
    const double l = d.squaredNorm();
    put(a, 2 * w.cross(c) / l + 2 * c.squaredNorm() / (l * l) * d);
    put(b, 2 * c.cross(u) / l - 2 * c.squaredNorm() / (l * l) * d);
    values.push_back(c.squaredNorm() / l - 1);
  }
  for (const auto& f : p.faces) {
    const std::size_t n = f.size();
    for (std::size_t i = 0; n > 3 && i < n; ++i) {
      const std::array<VertexId, 4> v{f[i], f[(i + 1) % n], f[(i + 2) % n], f[(i + 3) % n]};
      const Point3 a = p.vertices[at(v[1])] - p.vertices[at(v[0])];
      const Point3 b = p.vertices[at(v[2])] - p.vertices[at(v[0])];
      const Point3 c = p.vertices[at(v[3])] - p.vertices[at(v[0])];
      put(v[1], b.cross(c));
      put(v[2], c.cross(a));
      put(v[3], a.cross(b));
      put(v[0], -(b.cross(c) + c.cross(a) + a.cross(b)));
      values.push_back(a.dot(b.cross(c)));
    }
  }
  // The mean of contacts, with the contact's own movement left to the edges.
  Point3 mean = Point3::Zero();
  std::vector<double> share(p.vertices.size(), 0);
  for (const auto& [a, b] : edges) {
    const Point3& u = p.vertices[at(a)];
    const Point3 d = p.vertices[at(b)] - u;
    const double t = -u.dot(d) / d.squaredNorm();
    mean += (u + t * d) / static_cast<double>(edges.size());
    share[at(a)] += (1 - t) / static_cast<double>(edges.size());
    share[at(b)] += t / static_cast<double>(edges.size());
  }
  for (int k = 0; k < 3; ++k) {
    for (std::size_t v = 0; v < p.vertices.size(); ++v)
      entries.emplace_back(static_cast<int>(values.size()), 3 * static_cast<int>(v) + k, share[v]);
    values.push_back(mean[k]);
  }
  Conditions out;
  out.value = Eigen::Map<Eigen::VectorXd>(values.data(), static_cast<Eigen::Index>(values.size()));
  out.slope.resize(out.value.size(), 3 * static_cast<Eigen::Index>(p.vertices.size()));
  out.slope.setFromTriplets(entries.begin(), entries.end());
  return out;
}

Polyhedron rested(Polyhedron p, const Progress* progress) {
  auto made = canonical(p, progress);
  return made ? std::move(made).value() : p;
}

Polyhedron centred(Polyhedron p) {
  Point3 mean = Point3::Zero();
  for (const Point3& v : p.vertices) mean += v / static_cast<double>(p.vertices.size());
  for (Point3& v : p.vertices) v -= mean;
  return p;
}

} // namespace

Result<Polyhedron> canonical(Polyhedron p, const Progress* progress) {
  const Edges edges = p.edges();
  p = centred(std::move(p));
  double mean = 0;
  for (const auto& [a, b] : edges)
    mean += ((p.vertices[at(a)] + p.vertices[at(b)]) / 2).norm() / static_cast<double>(edges.size());
  for (Point3& v : p.vertices) v /= mean;
  for (int attempt = 0; attempt < 8; ++attempt) {
    settle(p, edges, 150 << attempt, progress);
    if (progress && progress->stopped()) return Error{"stopped before the canonical form was found"};
    Polyhedron tried = p;
    Conditions now = conditions(tried, edges);
    for (int round = 0; round < 60 && !(progress && progress->stopped()); ++round) {
      Eigen::SparseMatrix<double> square = now.slope.transpose() * now.slope;
      for (Eigen::Index i = 0; i < square.rows(); ++i) square.coeffRef(i, i) += 1e-9; // turning is free
      const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(square);
      const Eigen::VectorXd step = solver.solve(now.slope.transpose() * now.value);
      // Newton's step, halved until it is one for the better.
      bool better = false;
      for (double part = 1; part > 1e-3 && !better; part /= 2) {
        Polyhedron next = tried;
        for (std::size_t v = 0; v < next.vertices.size(); ++v)
          next.vertices[v] -= part * step.segment<3>(3 * static_cast<Eigen::Index>(v));
        Conditions then = conditions(next, edges);
        better = then.value.allFinite() && then.value.norm() < now.value.norm();
        if (better) tried = std::move(next), now = std::move(then);
      }
      if (!better) break;
    }
    if (now.value.cwiseAbs().maxCoeff() < 1e-11) return tried;
  }
  return Error{"no canonical form was found; try a simpler expression"};
}

Polyhedron dual(const Polyhedron& p) { return polar_dual(p); }

Polyhedron ambo(const Polyhedron& p, const Progress* progress) {
  Corners corners;
  const auto middle = [&](VertexId a, VertexId b) {
    return corners.number({std::min(a, b), std::max(a, b)}, (p.vertices[at(a)] + p.vertices[at(b)]) / 2);
  };
  Polyhedron out;
  for (const auto& f : p.faces) {
    std::vector<VertexId> face;
    for (std::size_t i = 0; i < f.size(); ++i) face.push_back(middle(f[i], f[(i + 1) % f.size()]));
    out.faces.push_back(std::move(face));
  }
  const auto rings = rings_of(p);
  for (VertexId v(0); at(v) < rings.size(); ++v) {
    std::vector<VertexId> face;
    for (const VertexId w : rings[at(v)]) face.push_back(middle(v, w));
    out.faces.push_back(std::move(face));
  }
  out.vertices = corners.places();
  return rested(std::move(out), progress);
}

Polyhedron truncate(const Polyhedron& p, const Progress* progress) {
  Corners corners;
  const auto near = [&](VertexId v, VertexId w) {
    return corners.number({v, w}, (2 * p.vertices[at(v)] + p.vertices[at(w)]) / 3);
  };
  Polyhedron out;
  for (const auto& f : p.faces) {
    std::vector<VertexId> face;
    for (std::size_t i = 0; i < f.size(); ++i) {
      face.push_back(near(f[i], f[(i + 1) % f.size()]));
      face.push_back(near(f[(i + 1) % f.size()], f[i]));
    }
    out.faces.push_back(std::move(face));
  }
  const auto rings = rings_of(p);
  for (VertexId v(0); at(v) < rings.size(); ++v) {
    std::vector<VertexId> face;
    for (const VertexId w : rings[at(v)]) face.push_back(near(v, w));
    out.faces.push_back(std::move(face));
  }
  out.vertices = corners.places();
  return rested(std::move(out), progress);
}

namespace {

/// One corner for each corner of a face, near that face's corner: what expand and snub have in common.
Polyhedron loosened(const Polyhedron& p, bool twisted, const Progress* progress) {
  Corners corners;
  Polyhedron out;
  std::map<std::array<VertexId, 2>, FaceId> left_of;
  for (FaceId f(0); at(f) < p.faces.size(); ++f) {
    const auto& old = p.faces[at(f)];
    const Point3 middle = p.centre_of(f);
    const Point3 axis = p.normal_of(f);
    std::vector<VertexId> face;
    for (std::size_t i = 0; i < old.size(); ++i) {
      left_of[{old[i], old[(i + 1) % old.size()]}] = f;
      const Point3 arm = 0.6 * (p.vertices[at(old[i])] - middle);
      face.push_back(corners.number({f, old[i]}, middle + arm + (twisted ? 0.3 : 0.0) * axis.cross(arm)));
    }
    out.faces.push_back(std::move(face));
  }
  for (const auto& [edge, f] : left_of) {
    const VertexId v = edge[0];
    const VertexId w = edge[1];
    if (v > w) continue;
    const FaceId g = left_of.at({w, v});
    // Round the gap: the corners at v and w of both faces.
    const VertexId fv = corners.of({f, v});
    const VertexId fw = corners.of({f, w});
    const VertexId gv = corners.of({g, v});
    const VertexId gw = corners.of({g, w});
    if (twisted) {
      out.faces.push_back({fw, fv, gw});
      out.faces.push_back({fv, gv, gw});
    } else {
      out.faces.push_back({fw, fv, gv, gw});
    }
  }
  const auto rings = rings_of(p);
  for (VertexId v(0); at(v) < rings.size(); ++v) {
    std::vector<VertexId> face;
    for (const VertexId w : rings[at(v)]) face.push_back(corners.of({left_of.at({v, w}), v}));
    out.faces.push_back(std::move(face));
  }
  out.vertices = corners.places();
  return rested(std::move(out), progress);
}

Polyhedron with_pyramids(const Polyhedron& p, double height) {
  Polyhedron out;
  out.vertices = p.vertices;
  for (FaceId f(0); at(f) < p.faces.size(); ++f) {
    const auto& face = p.faces[at(f)];
    double edge = 0;
    for (std::size_t i = 0; i < face.size(); ++i)
      edge += (p.vertices[at(face[i])] - p.vertices[at(face[(i + 1) % face.size()])]).norm();
    const VertexId apex(out.vertices.size());
    out.vertices.emplace_back(p.centre_of(f) + height * edge / static_cast<double>(face.size()) * p.normal_of(f));
    for (std::size_t i = 0; i < face.size(); ++i) out.faces.push_back({face[i], face[(i + 1) % face.size()], apex});
  }
  return out;
}

} // namespace

Polyhedron expand(const Polyhedron& p, const Progress* progress) { return loosened(p, false, progress); }
Polyhedron snub(const Polyhedron& p, const Progress* progress) { return loosened(p, true, progress); }
Polyhedron kis(const Polyhedron& p, double height) { return with_pyramids(p, height); }
Polyhedron kis(const Polyhedron& p, const Progress* progress) { return rested(with_pyramids(p, 0.2), progress); }

} // namespace uc
