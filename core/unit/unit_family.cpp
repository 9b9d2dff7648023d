#include "unit/unit_family.h"

#include "base/index.h"
#include "solid/equal_edges.h"
#include "unit/families/all.h"

#include <algorithm>

namespace uc {

const std::vector<UnitFamily>& unit_families() {
  static const std::vector<UnitFamily> all = {parallelogram_unit(), half_square_star_unit(), zigzag_strip_unit(),
                                              rhombic_unit(),       strip_and_clip_unit(),   triangle_tabs_unit(),
                                              pentagon_tabs_unit(), box_corner_unit()};
  return all;
}

const UnitFamily* find_unit_family(std::string_view name) {
  const auto it =
      std::find_if(unit_families().begin(), unit_families().end(), [&](const UnitFamily& f) { return f.name == name; });
  return it == unit_families().end() ? nullptr : &*it;
}

bool equal_edges(const Polyhedron& solid) {
  const double least = shortest_edge(solid);
  for (const auto& [a, b] : solid.edges())
    if ((solid.vertices[at(a)] - solid.vertices[at(b)]).norm() > least * (1 + equal_edge_tolerance)) return false;
  return true;
}

namespace {

std::vector<int> each_once(std::vector<int> all) {
  std::sort(all.begin(), all.end());
  all.erase(std::unique(all.begin(), all.end()), all.end());
  return all;
}

} // namespace

bool regular_faces(const Polyhedron& solid) {
  if (!equal_edges(solid)) return false;
  for (FaceId f(0); at(f) < solid.faces.size(); ++f) {
    // With sides alike, corners at one distance from the middle make a polygon regular.
    const Point3 middle = solid.centre_of(f);
    const auto& corners = solid.faces[at(f)];
    const double first = (solid.vertices[at(corners[0])] - middle).norm();
    for (const int v : corners) {
      if (std::abs((solid.vertices[at(v)] - middle).norm() - first) > 2 * equal_edge_tolerance * first) return false;
    }
  }
  return true;
}

std::vector<int> face_sizes(const Polyhedron& solid) {
  std::vector<int> all;
  for (const auto& f : solid.faces) all.push_back(static_cast<int>(f.size()));
  return each_once(std::move(all));
}

std::vector<int> valences(const Polyhedron& solid) {
  std::vector<int> all(solid.vertices.size(), 0);
  for (const auto& [a, b] : solid.edges()) {
    ++all[at(a)];
    ++all[at(b)];
  }
  return each_once(std::move(all));
}

} // namespace uc
