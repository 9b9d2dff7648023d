#include "form/rigid_form.h"

#include "base/index.h"

#include <Eigen/Geometry>

#include <numbers>

namespace uc {
namespace {

/// From the bare sheet to space.
using Placement = Eigen::Isometry3d;

Eigen::Vector3d on_table(const Point& p) { return {p.x(), p.y(), 0}; }

double signed_fold(EdgeKind kind, double deg) {
  if (kind == EdgeKind::mountain) return -deg * std::numbers::pi / 180;
  return kind == EdgeKind::valley ? deg * std::numbers::pi / 180 : 0;
}

/// What turns the face to the right of a directed edge up by an angle, seen from the one to its left.
Placement turned_about(const Point& from, const Point& to, double radians) {
  const Eigen::Vector3d axis = (on_table(to) - on_table(from)).normalized();
  return Eigen::Translation3d(on_table(from)) * Eigen::AngleAxisd(-radians, axis) *
         Eigen::Translation3d(-on_table(from));
}

} // namespace

std::optional<RigidForm> rigid_form(const CreasePattern& pattern, const std::vector<double>& full_deg) {
  const PatternGraph graph = graph_of(pattern);
  const std::size_t faces = graph.faces.size();
  if (faces == 0) return std::nullopt;
  std::vector<std::vector<std::size_t>> rims(faces); // edges of each face
  for (std::size_t e = 0; e < pattern.edges.size(); ++e)
    for (const FaceId f : graph.sides[e])
      if (f >= 0 && joins(pattern.edges[e].kind)) rims[at(f)].push_back(e);
  std::vector<std::optional<Placement>> place(faces);
  place[0] = Placement::Identity();
  const auto across = [&](std::size_t e, FaceId known) {
    const PatternEdge& edge = pattern.edges[e];
    const double deg = full_deg.empty() ? 180 : full_deg[e];
    const bool left = graph.sides[e][0] == known;
    const Point& from = pattern.vertices[at(left ? edge.from : edge.to)];
    const Point& to = pattern.vertices[at(left ? edge.to : edge.from)];
    return *place[at(known)] * turned_about(from, to, signed_fold(edge.kind, deg));
  };
  std::vector<FaceId> order{FaceId(0)};
  for (std::size_t i = 0; i < order.size(); ++i)
    for (const std::size_t e : rims[at(order[i])]) {
      const FaceId other = graph.sides[e][graph.sides[e][0] == order[i] ? 1 : 0];
      if (other < 0 || place[at(other)]) continue;
      place[at(other)] = across(e, order[i]);
      order.push_back(other);
    }
  if (order.size() < faces) return std::nullopt;
  const double apart = 1e-6 * bounding_box(pattern.vertices).size().norm();
  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    const auto [f, g] = graph.sides[e];
    if (f < 0 || g < 0 || !joins(pattern.edges[e].kind)) continue;
    const Placement again = across(e, f);
    for (const VertexId v : graph.faces[at(g)].cycle) {
      const Eigen::Vector3d p = on_table(pattern.vertices[at(v)]);
      if ((again * p - *place[at(g)] * p).norm() > apart) return std::nullopt;
    }
  }
  RigidForm out;
  out.vertices.resize(pattern.vertices.size(), Eigen::Vector3d::Zero());
  for (std::size_t f = 0; f < faces; ++f) {
    out.normals.push_back(place[f]->linear() * Eigen::Vector3d::UnitZ());
    for (const VertexId v : graph.faces[f].cycle) out.vertices[at(v)] = *place[f] * on_table(pattern.vertices[at(v)]);
    for (const auto& hole : graph.faces[f].holes)
      for (const int v : hole) out.vertices[at(v)] = *place[f] * on_table(pattern.vertices[at(v)]);
  }
  return out;
}

} // namespace uc
