#include "collapse/held_flat.h"

#include "base/index.h"
#include "collapse/rigid_motion.h"
#include "geometry/planar_graph.h"

#include <numeric>
#include <set>

namespace uc {

std::vector<char> held_triangles(const FoldMesh& mesh, std::span<const HeldFlat> held) {
  std::vector<char> out(mesh.triangles.size(), 0);
  for (const HeldFlat& h : held) {
    std::vector<VertexId> cycle;
    for (std::size_t i = 0; i < h.part.size(); ++i) cycle.emplace_back(i);
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
      const auto& t = mesh.triangles[i];
      const Point middle = (mesh.flat[at(t[0])] + mesh.flat[at(t[1])] + mesh.flat[at(t[2])]) / 3;
      if (contains(h.part, cycle, middle)) out[i] = 1;
    }
  }
  return out;
}

void lay_on_table(const FoldMesh& mesh, std::span<const HeldFlat> held, std::vector<Eigen::Vector3d>& vertices) {
  if (held.empty()) return;
  const std::vector<char> mine = held_triangles(mesh, held.first(1));
  std::set<int> corners;
  for (std::size_t i = 0; i < mine.size(); ++i)
    if (mine[i] != 0) corners.insert(mesh.triangles[i].begin(), mesh.triangles[i].end());
  if (corners.size() < 3) return;
  std::vector<Eigen::Vector3d> now;
  std::vector<Eigen::Vector3d> flat;
  for (const int v : corners) {
    now.push_back(vertices[at(v)]);
    flat.emplace_back(mesh.flat[at(v)].x(), mesh.flat[at(v)].y(), 0);
  }
  const RigidMotion onto = motion_onto(now, flat);
  for (Eigen::Vector3d& v : vertices) v = onto * v;
}

} // namespace uc
