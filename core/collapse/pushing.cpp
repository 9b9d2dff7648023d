#include "collapse/pushing.h"

#include "base/index.h"
#include "base/quantity.h"
#include "collapse/rigid_motion.h"

#include <Eigen/Geometry>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace uc {
namespace {

constexpr int push_parts = 24;
constexpr double held_still = 1e-5;
constexpr double let_go_still = 1e-7;
constexpr double beyond = 1.1; // a little more than the mirror image, so that the other shape catches it
constexpr double level =
    0.005; // of the sheet's size: a corner no higher than that over the middle stands on neither side
constexpr double another_shape = 0.01;

VertexId nearest_vertex(const FoldMesh& mesh, const Point& to) {
  VertexId best(0);
  for (VertexId v(1); at(v) < mesh.flat.size(); ++v)
    if ((mesh.flat[at(v)] - to).norm() < (mesh.flat[at(best)] - to).norm() - 1e-9) best = v;
  return best;
}

/// The mean direction of the faces.
Eigen::Vector3d up_of(const FoldMesh& mesh, const std::vector<Eigen::Vector3d>& x) {
  Eigen::Vector3d sum = Eigen::Vector3d::Zero();
  for (const auto& t : mesh.triangles) sum += (x[at(t[1])] - x[at(t[0])]).cross(x[at(t[2])] - x[at(t[0])]);
  return sum.normalized();
}

} // namespace

Result<Pushed> pushed(const FoldMesh& mesh, const CollapseState& from, const FoldStiffness& stiffness,
                      const PushWish& wish, const Progress* progress) {
  const Box box = bounding_box(mesh.flat);
  const double size = box.size().norm();
  Pushed out;
  out.corner = nearest_vertex(mesh, wish.at_mm);
  const VertexId middle = nearest_vertex(mesh, box.centre());
  const VertexId across = nearest_vertex(mesh, 2 * box.centre() - mesh.flat[at(out.corner)]);
  const Point& place = mesh.flat[at(out.corner)];
  const std::string name = fmt::format("{}, {} mm", format_number(place.x(), 1), format_number(place.y(), 1));
  if (out.corner == middle || out.corner == across)
    return Error{fmt::format("{} is the middle of the sheet, which is held; push a corner", name)};

  FoldSolver solver(mesh, stiffness);
  for (std::size_t e = 0; e < mesh.hinge_of.size(); ++e)
    if (mesh.hinge_of[e] >= 0) solver.set_angle(mesh.hinge_of[e], from.angle_deg[e]);
  solver.set_vertices(from.vertices);
  std::vector<std::optional<double>> targets(mesh.hinges.size(), 0.0);
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h)
    if (mesh.hinges[h].edge >= 0) targets[h] = from.target_deg[at(mesh.hinges[h].edge)];
  solver.drive(targets);
  if (!solver.rest(let_go_still, 400, progress) && progress && progress->stopped()) return Error{"it was stopped"};

  const std::vector<Eigen::Vector3d> before = solver.vertices();
  out.energy_before = solver.energy();
  const Eigen::Vector3d up = up_of(mesh, before);
  const double height = up.dot(before[at(out.corner)] - before[at(middle)]);
  if (!wish.by_mm && std::abs(height) < level * size)
    return Error{fmt::format("the corner at {} lies level with the middle; say how far to push it", name)};
  const double by = wish.by_mm.value_or(-2 * beyond * height);
  if (!(std::abs(by) <= 2 * size))
    return Error{fmt::format("no corner of this sheet can be pushed by {} mm; type up to {} either way",
                             format_number(by, 1), format_number(2 * size, 0))};
  for (const VertexId v : {middle, across}) solver.hold(v, before[at(v)]);
  for (int part = 1; part <= push_parts; ++part) {
    solver.hold(out.corner, Eigen::Vector3d(before[at(out.corner)] + part * by / push_parts * up));
    solver.rest(held_still, 200, progress);
    if (progress && progress->stopped()) return Error{"it was stopped"};
    out.way.push_back(state_of(solver, mesh, targets, from.part));
  }
  for (const VertexId v : {middle, across, out.corner}) solver.hold(v, std::nullopt);
  solver.rest(let_go_still, 3000, progress);
  if (progress && progress->stopped()) return Error{"it was stopped"};
  out.after = state_of(solver, mesh, targets, from.part);
  out.energy_after = solver.energy();

  const RigidMotion onto = motion_onto(out.after.vertices, before);
  double squares = 0;
  for (std::size_t v = 0; v < before.size(); ++v) squares += (onto * out.after.vertices[v] - before[v]).squaredNorm();
  out.moved_mm = std::sqrt(squares / static_cast<double>(before.size()));
  out.gone_over = out.moved_mm > another_shape * size;
  return out;
}

} // namespace uc
