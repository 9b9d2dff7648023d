#include "unit/ridges.h"

#include "base/index.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double no_ridge_deg = 0.5; // nearer to flat than a hand folds

/// How far the facet through the edge and the face's tip rises over the face, in degrees.
double rise_deg(const Polyhedron& solid, FaceId face, const std::array<VertexId, 2>& edge, const Point3& tip) {
  const Point3& a = solid.vertices[at(edge[0])];
  const Point3 along = (solid.vertices[at(edge[1])] - a).normalized();
  const Point3 up = solid.normal_of(face);
  Point3 inward = up.cross(along);
  if (inward.dot(solid.centre_of(face) - a) < 0) inward = -inward;
  return std::atan2((tip - a).dot(up), (tip - a).dot(inward)) * 180 / std::numbers::pi;
}

} // namespace

Fold Ridge::fold() const {
  if (std::abs(angle_deg - 180) < no_ridge_deg) return Fold::undirected;
  return angle_deg < 180 ? Fold::mountain : Fold::valley;
}

std::vector<Ridge> ridges_of(const Polyhedron& solid, const UnitFamily& family) {
  std::vector<Ridge> out;
  if (family.stands_for != StandsFor::edge) return out;
  const auto edges = solid.edges();
  const auto beside = faces_beside(solid);
  const auto tips = family.tips ? family.tips(solid) : std::vector<Point3>{};
  std::vector<double> angles = dihedral_degrees(solid);
  for (std::size_t e = 0; e < edges.size() && !tips.empty(); ++e)
    for (const FaceId f : beside[e]) angles[e] += rise_deg(solid, f, edges[e], tips[at(f)]);
  std::sort(angles.begin(), angles.end());
  for (const double a : angles) {
    if (out.empty() || a - out.back().angle_deg > 0.01) out.push_back({a, 0});
    ++out.back().units;
  }
  return out;
}

std::vector<std::string> ridge_texts(const std::vector<Ridge>& ridges, const TextStyle& style) {
  std::vector<std::string> out;
  int all = 0;
  for (const Ridge& r : ridges) all += r.units;
  for (const Fold fold : {Fold::mountain, Fold::valley, Fold::undirected}) {
    int units = 0;
    double least = 360;
    double most = 0;
    for (const Ridge& r : ridges) {
      if (r.fold() != fold) continue;
      units += r.units;
      least = std::min(least, r.angle_deg);
      most = std::max(most, r.angle_deg);
    }
    if (units == 0) continue;
    const std::string who =
        units == all ? say(style, "each unit") : say(style, "{count} units", {{"count", std::to_string(units)}});
    if (fold == Fold::undirected) {
      out.push_back(say(style, "Leave {units} flat at the ridge: its two facets lie in one plane.", {{"units", who}}));
      continue;
    }
    const bool one = most - least < 0.5;
    const std::string angle = one ? format_number(most, 0) : format_number(least, 0) + " - " + format_number(most, 0);
    out.push_back(say(style,
                      fold == Fold::mountain
                          ? "Fold the ridge of {units} as a mountain, seen from outside: {angle}° inside the solid."
                          : "Fold the ridge of {units} as a valley, seen from outside: {angle}° inside the solid.",
                      {{"units", who}, {"angle", angle}}));
  }
  return out;
}

} // namespace uc
