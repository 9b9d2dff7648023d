#include "collapse/settling.h"

#include "base/index.h"
#include "collapse/plates.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace uc {
namespace {

constexpr double youngs_gpa = 3;
constexpr double gravity = 9.81;
constexpr double crease_length_mm = 30; // of paper as soft as a crease
constexpr double at_rest = 1e-6;
constexpr int most_steps = 600;
constexpr int parts = 10; // in which it is let go

double mean_edge(const FoldMesh& mesh) {
  double sum = 0;
  for (const auto& b : mesh.bars) sum += b.rest_mm;
  return sum / static_cast<double>(mesh.bars.size());
}

double area_mm2(const FoldMesh& mesh) {
  double sum = 0;
  for (const auto& t : mesh.triangles) {
    const Point u = mesh.flat[at(t[1])] - mesh.flat[at(t[0])];
    const Point v = mesh.flat[at(t[2])] - mesh.flat[at(t[0])];
    sum += std::abs(u.x() * v.y() - u.y() * v.x()) / 2;
  }
  return sum;
}

} // namespace

FoldStiffness stiffness_of(const Stock& stock, double unit_mm) {
  constexpr std::array memory = {2.0, 1.0, 0.5};
  const double plate = std::pow(stock.caliper_mm / unit_mm, 2) / (12 * (1 - paper_poisson * paper_poisson));
  const double softer = unit_mm / crease_length_mm * memory.at(static_cast<std::size_t>(stock.memory));
  // Softer than that nothing can be told from rounding.
  return {std::max(1e-9, plate * softer), std::max(1e-8, plate), false, true};
}

double kept_angle(const Stock& stock) {
  constexpr std::array kept = {0.7, 0.82, 0.93};
  return kept.at(static_cast<std::size_t>(stock.memory));
}

double weight_of(const Stock& stock, const FoldMesh& mesh) {
  const double unit_mm = mean_edge(mesh);
  const double newtons =
      gravity * stock.grammage * 1e-3 * area_mm2(mesh) * 1e-6 / static_cast<double>(mesh.flat.size());
  return newtons / (youngs_gpa * 1e9 * stock.caliper_mm * 1e-3 * unit_mm * 1e-3);
}

std::optional<CollapseState> let_go(const FoldMesh& mesh, const CollapseState& from, const Stock& stock,
                                    const Progress* progress) {
  FoldSolver solver(mesh, stiffness_of(stock, mean_edge(mesh)));
  for (std::size_t e = 0; e < mesh.hinge_of.size(); ++e)
    if (mesh.hinge_of[e] >= 0) solver.set_angle(mesh.hinge_of[e], from.angle_deg[e]);
  solver.set_vertices(from.vertices);
  double lowest = 1e300;
  for (const auto& v : from.vertices) lowest = std::min(lowest, v.z());
  solver.load({weight_of(stock, mesh), lowest});
  const double kept = kept_angle(stock);
  std::vector<std::optional<double>> target(mesh.hinges.size(), 0.0);
  for (int part = 1; part <= parts; ++part) {
    const double share = 1 + (kept - 1) * part / parts;
    for (std::size_t h = 0; h < mesh.hinges.size(); ++h) {
      if (!folds(mesh.hinges[h].kind)) continue;
      target[h] = mesh.hinges[h].edge < 0 ? 0 : share * from.angle_deg[at(mesh.hinges[h].edge)];
    }
    solver.drive(target);
    solver.rest(at_rest, part == parts ? most_steps : most_steps / parts, progress);
    if (progress && progress->stopped()) return std::nullopt;
  }
  return state_of(solver, mesh, target, from.part);
}

} // namespace uc
