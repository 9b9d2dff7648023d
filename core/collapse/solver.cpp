#include "collapse/solver.h"

#include "base/index.h"
#include "collapse/contact.h"
#include "collapse/dissected_cholesky.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace uc {
namespace {

constexpr double pi = std::numbers::pi;
constexpr double holding = 0.1; // stiffness of a hand and of the ground, over that of a bar
using Vector = Eigen::Vector3d;

/// The fold angle at the edge from a to b, valley positive seen from where triangles run counter-clockwise.
double fold_angle(const Vector& a, const Vector& b, const Vector& left, const Vector& right) {
  const Vector e = b - a;
  const Vector n_left = e.cross(left - a);
  const Vector n_right = (right - a).cross(e);
  return std::atan2(n_right.cross(n_left).dot(e) / e.norm(), n_left.dot(n_right));
}

/// The same and its gradient at a, b, left and right (Bridson, Marino and Fedkiw 2003).
struct Dihedral {
  double angle = 0;
  std::array<Vector, 4> gradient;
};
Dihedral dihedral(const Vector& a, const Vector& b, const Vector& left, const Vector& right) {
  const Vector e = b - a;
  const double length = e.norm();
  const Vector n_left = e.cross(left - a);
  const Vector n_right = (right - a).cross(e);
  const double area_left = std::max(n_left.norm(), 1e-300);
  const double area_right = std::max(n_right.norm(), 1e-300);
  const Vector u = n_left / area_left;
  const Vector v = n_right / area_right;
  Dihedral out;
  out.angle = std::atan2(v.cross(u).dot(e) / length, u.dot(v));
  const Vector up_left = length / area_left * u;
  const Vector up_right = length / area_right * v;
  const double t_left = (left - a).dot(e) / (length * length);
  const double t_right = (right - a).dot(e) / (length * length);
  out.gradient = {-(1 - t_left) * up_left - (1 - t_right) * up_right, -t_left * up_left - t_right * up_right, up_left,
                  up_right};
  return out;
}

} // namespace

struct FoldSolver::State {
  FoldMesh mesh;
  double unit_mm = 1;
  double reach = 1; // of a step, in units: 1, or a tenth of the sheet where that is more
  FoldStiffness stiffness;
  std::vector<Vector> x;              // in units
  std::vector<double> rest;           // per bar, in units
  std::vector<double> length;         // per hinge
  std::vector<double> target;         // per hinge, radians
  std::vector<double> weight;         // per hinge: 0 for those that move freely
  std::vector<double> angle;          // per hinge, followed beyond half a turn
  Eigen::SparseMatrix<double> matrix; // lower half
  std::vector<std::array<int, 21>> bar_slots;
  std::vector<std::array<int, 78>> hinge_slots;
  std::vector<int> diagonal;
  std::vector<std::array<int, 6>> block_slots; // per vertex, lower half
  std::optional<DissectedCholesky> factor;
  std::vector<double> stiffer;             // per hinge
  std::vector<std::optional<Vector>> held; // per vertex, in units
  std::vector<double> share;               // per vertex, of the sheet's area, 1 on average
  FoldLoads loads;
  std::optional<Contacts> contacts;
  bool pushing = false; // else they are only counted
  double damping = 1e-6;
  int steps = 0;
  std::optional<double> energy_known; // at x
  std::vector<double> tried_angle;    // of the shape tried last
  int factor_age = none;              // steps made with the factor there is
  static constexpr int none = -1;
  static constexpr int oldest_factor = 24; // of 8, 16 and 40 steps none was clearly faster

  void lay_out();
  void weigh();
  [[nodiscard]] double followed(int hinge, double raw) const {
    const double before = angle[at(hinge)];
    return raw + 2 * pi * std::round((before - raw) / (2 * pi));
  }
  /// `angles` become those of the hinges there.
  [[nodiscard]] double energy_at(const std::vector<Vector>& y, std::vector<double>* angles = nullptr) const;
  [[nodiscard]] double energy_now();
  void take(std::vector<Vector>& tried, double its_energy);
  void changed() {
    factor_age = none;
    energy_known.reset();
  }
  [[nodiscard]] double outside_energy(const std::vector<Vector>& y) const;
  void assemble(Eigen::VectorXd& force);
  void add_outside(Eigen::VectorXd& force, bool with_matrix);
  [[nodiscard]] Eigen::VectorXd force_alone();
  std::optional<double> step_by_old_factor();
  [[nodiscard]] double most_moved(const Eigen::VectorXd& move) const;
  void follow();
};

void FoldSolver::State::lay_out() {
  const Eigen::Index n = 3 * static_cast<Eigen::Index>(x.size());
  std::vector<Eigen::Triplet<double>> places;
  const auto element = [&](const auto& vertices) {
    for (std::size_t i = 0; i < vertices.size() * 3; ++i)
      for (std::size_t k = 0; k <= i; ++k) {
        const int r = 3 * vertices[i / 3] + static_cast<int>(i % 3);
        const int c = 3 * vertices[k / 3] + static_cast<int>(k % 3);
        places.emplace_back(std::max(r, c), std::min(r, c), 1.0);
      }
  };
  const auto ends = [](const FoldMesh::Bar& b) { return std::array{b.a, b.b}; };
  const auto corners = [](const FoldMesh::Hinge& h) { return std::array{h.a, h.b, h.left, h.right}; };
  for (const auto& b : mesh.bars) element(ends(b));
  for (const auto& h : mesh.hinges) element(corners(h));
  for (int i = 0; i < n; ++i) places.emplace_back(i, i, 1.0);
  matrix.resize(n, n);
  matrix.setFromTriplets(places.begin(), places.end());
  matrix.makeCompressed();
  const auto slot = [&](int r, int c) {
    const int row = std::max(r, c);
    const int column = std::min(r, c);
    const int* begin = matrix.innerIndexPtr() + matrix.outerIndexPtr()[column];
    const int* end = matrix.innerIndexPtr() + matrix.outerIndexPtr()[column + 1];
    return static_cast<int>(std::lower_bound(begin, end, row) - matrix.innerIndexPtr());
  };
  const auto slots = [&](const auto& vertices, auto& out) {
    std::size_t s = 0;
    for (std::size_t i = 0; i < vertices.size() * 3; ++i)
      for (std::size_t k = 0; k <= i; ++k)
        out[s++] = slot(3 * vertices[i / 3] + static_cast<int>(i % 3), 3 * vertices[k / 3] + static_cast<int>(k % 3));
  };
  bar_slots.resize(mesh.bars.size());
  hinge_slots.resize(mesh.hinges.size());
  for (std::size_t b = 0; b < mesh.bars.size(); ++b) slots(ends(mesh.bars[b]), bar_slots[b]);
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h) slots(corners(mesh.hinges[h]), hinge_slots[h]);
  for (int i = 0; i < n; ++i) diagonal.push_back(slot(i, i));
  block_slots.resize(x.size());
  for (int v = 0; v < static_cast<int>(x.size()); ++v) slots(std::array{v}, block_slots[at(v)]);
  factor.emplace(matrix, mesh.flat);
}

void FoldSolver::State::weigh() {
  weight.resize(mesh.hinges.size());
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h)
    weight[h] = (folds(mesh.hinges[h].kind) ? stiffness.crease : stiffness.facet) * length[h];
}

double FoldSolver::State::energy_at(const std::vector<Vector>& y, std::vector<double>* angles) const {
  double sum = 0;
  for (std::size_t b = 0; b < mesh.bars.size(); ++b) {
    const double d = (y[at(mesh.bars[b].a)] - y[at(mesh.bars[b].b)]).norm() - rest[b];
    sum += d * d / rest[b];
  }
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h) {
    if (std::isnan(target[h]) && !angles) continue;
    const auto& hinge = mesh.hinges[h];
    const double raw = fold_angle(y[at(hinge.a)], y[at(hinge.b)], y[at(hinge.left)], y[at(hinge.right)]);
    const double now = followed(static_cast<int>(h), raw);
    if (angles) (*angles)[h] = now;
    if (std::isnan(target[h])) continue;
    sum += weight[h] * (now - target[h]) * (now - target[h]);
  }
  return sum / 2 + outside_energy(y);
}

double FoldSolver::State::energy_now() {
  if (!energy_known || contacts) energy_known = energy_at(x); // contacts are others after each search
  return *energy_known;
}

/// The shape that was tried last becomes the shape.
void FoldSolver::State::take(std::vector<Vector>& tried, double its_energy) {
  x = std::move(tried);
  std::swap(angle, tried_angle);
  energy_known = its_energy;
}

double FoldSolver::State::outside_energy(const std::vector<Vector>& y) const {
  double sum = contacts && pushing ? contacts->energy(y) : 0;
  const bool pulled = loads.weight > 0;
  for (std::size_t v = 0; v < y.size(); ++v) {
    if (held[v]) sum += holding * (y[v] - *held[v]).squaredNorm() / 2;
    if (pulled) sum += loads.weight * share[v] * y[v].z();
    const double sunk = loads.ground_mm ? std::max(0.0, *loads.ground_mm / unit_mm - y[v].z()) : 0;
    sum += holding * sunk * sunk / 2;
  }
  return sum;
}

/// Forces from outside the sheet, and blocks of the matrix that are never softer than they are.
void FoldSolver::State::add_outside(Eigen::VectorXd& force, bool with_matrix) {
  std::vector<Eigen::Matrix3d> blocks(x.size(), Eigen::Matrix3d::Zero());
  if (contacts && pushing) contacts->add(x, force, blocks);
  for (std::size_t v = 0; v < x.size(); ++v) {
    const auto row = 3 * static_cast<Eigen::Index>(v);
    if (held[v]) {
      force.segment<3>(row) -= holding * (x[v] - *held[v]);
      blocks[v] += holding * Eigen::Matrix3d::Identity();
    }
    force[row + 2] -= loads.weight * share[v];
    const double sunk = loads.ground_mm ? *loads.ground_mm / unit_mm - x[v].z() : 0;
    if (sunk > 0) {
      force[row + 2] += holding * sunk;
      blocks[v](2, 2) += holding;
    }
    if (!with_matrix) continue;
    std::size_t s = 0;
    for (int i = 0; i < 3; ++i)
      for (int j = 0; j <= i; ++j) matrix.valuePtr()[block_slots[v][s++]] += blocks[v](i, j);
  }
}

void FoldSolver::State::assemble(Eigen::VectorXd& force) {
  double* values = matrix.valuePtr();
  std::fill(values, values + matrix.nonZeros(), 0.0);
  force.setZero(matrix.rows());
  for (std::size_t b = 0; b < mesh.bars.size(); ++b) {
    const int va = mesh.bars[b].a;
    const int vb = mesh.bars[b].b;
    const Vector d = x[at(va)] - x[at(vb)];
    const double l = std::max(d.norm(), 1e-12);
    const Vector u = d / l;
    const double stretch = (l - rest[b]) / rest[b];
    force.segment<3>(3 * va) -= stretch * u;
    force.segment<3>(3 * vb) += stretch * u;
    // In tension a bar also resists being turned; in compression it does not push back (Gauss-Newton's part alone).
    const Eigen::Matrix3d k =
        u * u.transpose() / rest[b] + std::max(0.0, stretch) / l * (Eigen::Matrix3d::Identity() - u * u.transpose());
    std::size_t s = 0;
    for (int i = 0; i < 6; ++i)
      for (int j = 0; j <= i; ++j) values[bar_slots[b][s++]] += ((i < 3) == (j < 3) ? 1 : -1) * k(i % 3, j % 3);
  }
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h) {
    if (std::isnan(target[h])) continue;
    const auto& hinge = mesh.hinges[h];
    const std::array<int, 4> v{hinge.a, hinge.b, hinge.left, hinge.right};
    const Dihedral d = dihedral(x[at(v[0])], x[at(v[1])], x[at(v[2])], x[at(v[3])]);
    const double off = followed(static_cast<int>(h), d.angle) - target[h];
    std::array<double, 12> g{};
    for (std::size_t i = 0; i < 12; ++i) g[i] = d.gradient[i / 3][static_cast<Eigen::Index>(i % 3)];
    for (std::size_t i = 0; i < 12; ++i) force[3 * v[i / 3] + static_cast<int>(i % 3)] -= weight[h] * off * g[i];
    std::size_t s = 0;
    for (std::size_t i = 0; i < 12; ++i)
      for (std::size_t k = 0; k <= i; ++k) values[hinge_slots[h][s++]] += weight[h] * g[i] * g[k];
  }
  add_outside(force, true);
}

Eigen::VectorXd FoldSolver::State::force_alone() {
  Eigen::VectorXd force = Eigen::VectorXd::Zero(matrix.rows());
  for (std::size_t b = 0; b < mesh.bars.size(); ++b) {
    const int va = mesh.bars[b].a;
    const int vb = mesh.bars[b].b;
    const Vector d = x[at(va)] - x[at(vb)];
    const double l = std::max(d.norm(), 1e-12);
    const Vector pull = (l - rest[b]) / rest[b] / l * d;
    force.segment<3>(3 * va) -= pull;
    force.segment<3>(3 * vb) += pull;
  }
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h) {
    if (std::isnan(target[h])) continue;
    const auto& hinge = mesh.hinges[h];
    const std::array<int, 4> v{hinge.a, hinge.b, hinge.left, hinge.right};
    const Dihedral d = dihedral(x[at(v[0])], x[at(v[1])], x[at(v[2])], x[at(v[3])]);
    const double off = followed(static_cast<int>(h), d.angle) - target[h];
    for (std::size_t i = 0; i < 4; ++i) force.segment<3>(3 * v[i]) -= weight[h] * off * d.gradient[i];
  }
  add_outside(force, false);
  return force;
}

double FoldSolver::State::most_moved(const Eigen::VectorXd& move) const {
  double most = 0;
  for (Eigen::Index i = 0; i < move.size(); i += 3) most = std::max(most, move.segment<3>(i).norm() / reach);
  return most;
}

/// A step with the factor of an earlier one (the chord method, Kelley 1995, chapter 5): it costs a back-substitution
/// and a pass over the elements. Nothing, and nothing is changed, where it takes less than a fifth of what the model
/// promises: then the factor is too old.
std::optional<double> FoldSolver::State::step_by_old_factor() {
  if (factor_age == none || factor_age >= oldest_factor) return std::nullopt;
  if (contacts && pushing) return std::nullopt; // what touches changes from step to step
  const Eigen::VectorXd force = force_alone();
  const Eigen::VectorXd move = factor->solve(force);
  const double most = most_moved(move);
  if (!(most <= 0.3)) return std::nullopt;
  std::vector<Vector> tried = x;
  for (std::size_t v = 0; v < tried.size(); ++v) tried[v] += move.segment<3>(3 * static_cast<Eigen::Index>(v));
  const double before = energy_now();
  const double after = energy_at(tried, &tried_angle);
  if (!(before - after > 0.2 * force.dot(move))) return std::nullopt;
  take(tried, after);
  ++factor_age;
  ++steps;
  return most;
}

void FoldSolver::State::follow() {
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h) {
    const auto& hinge = mesh.hinges[h];
    angle[h] = followed(static_cast<int>(h),
                        dihedral(x[at(hinge.a)], x[at(hinge.b)], x[at(hinge.left)], x[at(hinge.right)]).angle);
  }
}

FoldSolver::FoldSolver(const FoldMesh& mesh, const FoldStiffness& stiffness) : state_(std::make_unique<State>()) {
  State& s = *state_;
  s.mesh = mesh;
  s.stiffness = stiffness;
  double sum = 0;
  for (const auto& b : mesh.bars) sum += b.rest_mm;
  s.unit_mm = sum / static_cast<double>(mesh.bars.size());
  s.reach = std::max(1.0, bounding_box(mesh.flat).size().norm() / s.unit_mm / 10);
  for (const Point& p : mesh.flat) s.x.emplace_back(p.x() / s.unit_mm, p.y() / s.unit_mm, 0);
  for (const auto& b : mesh.bars) s.rest.push_back(b.rest_mm / s.unit_mm);
  for (const auto& h : mesh.hinges) s.length.push_back(h.length_mm / s.unit_mm);
  s.target.assign(mesh.hinges.size(), 0);
  s.angle.assign(mesh.hinges.size(), 0);
  s.tried_angle.assign(mesh.hinges.size(), 0);
  s.stiffer.assign(mesh.hinges.size(), 1);
  s.held.assign(mesh.flat.size(), std::nullopt);
  s.share.assign(mesh.flat.size(), 0);
  double area = 0;
  for (const auto& t : mesh.triangles) {
    const Point u = mesh.flat[at(t[1])] - mesh.flat[at(t[0])];
    const Point v = mesh.flat[at(t[2])] - mesh.flat[at(t[0])];
    const double own = std::abs(u.x() * v.y() - u.y() * v.x()) / 2;
    for (const int corner : t) s.share[at(corner)] += own / 3;
    area += own;
  }
  for (double& share : s.share) share *= static_cast<double>(mesh.flat.size()) / area;
  s.weigh();
  s.lay_out();
}
FoldSolver::~FoldSolver() = default;
FoldSolver::FoldSolver(FoldSolver&&) noexcept = default;
FoldSolver& FoldSolver::operator=(FoldSolver&&) noexcept = default;

void FoldSolver::drive(const std::vector<std::optional<double>>& target_deg) {
  state_->energy_known.reset();
  for (std::size_t h = 0; h < state_->target.size(); ++h)
    state_->target[h] = target_deg[h] ? *target_deg[h] * pi / 180 : std::nan("");
}

void FoldSolver::push_apart(double thickness_mm, bool push) {
  state_->pushing = push;
  state_->changed();
  state_->contacts.emplace(state_->mesh, thickness_mm / state_->unit_mm);
  state_->contacts->find(state_->x);
}
void FoldSolver::load(const FoldLoads& loads) {
  state_->changed();
  state_->loads = loads;
}
void FoldSolver::hold(int vertex, const std::optional<Eigen::Vector3d>& place_mm) {
  state_->changed();
  state_->held[at(vertex)] = place_mm ? std::optional<Vector>(*place_mm / state_->unit_mm) : std::optional<Vector>();
}
void FoldSolver::stiffen(int hinge, double factor) {
  State& s = *state_;
  s.changed();
  s.weight[at(hinge)] *= factor / s.stiffer[at(hinge)];
  s.stiffer[at(hinge)] = factor;
}
int FoldSolver::passed_through() const { return state_->contacts ? state_->contacts->passed_through(state_->x) : 0; }

double FoldSolver::step() {
  State& s = *state_;
  if (s.contacts) s.contacts->find(s.x);
  if (const auto moved = s.step_by_old_factor()) return *moved;
  s.factor_age = State::none;
  Eigen::VectorXd force;
  s.assemble(force);
  std::vector<double> own; // the diagonal without damping
  own.reserve(s.diagonal.size());
  for (const int d : s.diagonal) own.push_back(s.matrix.valuePtr()[d]);
  const double before = s.energy_now();
  for (int attempt = 0; attempt < 12; ++attempt) {
    for (std::size_t i = 0; i < own.size(); ++i) s.matrix.valuePtr()[s.diagonal[i]] = own[i] + s.damping;
    ++s.steps;
    if (s.factor->factorize(s.matrix.valuePtr())) {
      const Eigen::VectorXd move = s.factor->solve(force);
      // A step of more than a part of an edge leaves the ground on which it was worked out; a large sheet moves farther
      // as a whole while each part of it moves little.
      const double most = s.most_moved(move);
      if (std::isfinite(most)) {
        double scale = most > 0.3 ? 0.3 / most : 1;
        // A shorter step costs little; another factor costs much.
        for (int shorter = 0; shorter < 3; ++shorter, scale /= 3) {
          std::vector<Vector> tried = s.x;
          for (std::size_t v = 0; v < tried.size(); ++v)
            tried[v] += scale * move.segment<3>(3 * static_cast<Eigen::Index>(v));
          const double after = s.energy_at(tried, &s.tried_angle);
          if (!std::isfinite(after) || after > before) continue;
          s.take(tried, after);
          s.factor_age = shorter == 0 ? 0 : State::none;
          s.damping = shorter == 0 ? std::max(1e-9, s.damping / 8) : s.damping;
          return scale * most;
        }
      }
    }
    s.damping = std::min(1e3, s.damping * 8);
  }
  return 0;
}

bool FoldSolver::rest(double still, int most_steps, const Progress* progress) {
  for (int i = 0; i < most_steps; ++i) {
    if (progress && progress->stopped()) return false;
    const double moved = step();
    if (moved != 0 && (moved >= still || state_->damping >= 1e-6))
      continue; // a small step says little while it is damped
    if (moved == 0 || state_->factor_age <= 0) return true;
    state_->factor_age = State::none; // nor one by an old factor
  }
  return false;
}

std::vector<Eigen::Vector3d> FoldSolver::vertices() const {
  std::vector<Vector> out;
  for (const Vector& v : state_->x) out.push_back(state_->unit_mm * v);
  return out;
}
void FoldSolver::set_vertices(const std::vector<Eigen::Vector3d>& vertices) {
  state_->changed();
  for (std::size_t v = 0; v < vertices.size(); ++v) state_->x[v] = vertices[v] / state_->unit_mm;
  state_->follow();
}
void FoldSolver::set_angle(int hinge, double degrees) {
  state_->energy_known.reset();
  state_->angle[at(hinge)] = degrees * pi / 180;
}
double FoldSolver::angle_deg(int hinge) const { return state_->angle[at(hinge)] * 180 / pi; }
double FoldSolver::strain(int bar) const {
  const auto& b = state_->mesh.bars[at(bar)];
  return (state_->x[at(b.a)] - state_->x[at(b.b)]).norm() / state_->rest[at(bar)] - 1;
}
double FoldSolver::max_strain() const {
  double most = 0;
  for (int b = 0; b < static_cast<int>(state_->mesh.bars.size()); ++b) most = std::max(most, std::abs(strain(b)));
  return most;
}
double FoldSolver::energy() const { return state_->energy_at(state_->x); }
int FoldSolver::steps() const { return state_->steps; }

} // namespace uc
