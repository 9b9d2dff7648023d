#include "collapse/solver.h"

#include "collapse/sheet_elements.h"

#include "base/index.h"
#include "collapse/contact.h"
#include "collapse/dissected_cholesky.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <limits>
#include <numbers>
#include <utility>

namespace uc {
namespace {

constexpr double degree = std::numbers::pi / 180;
constexpr double holding = 0.1;       // stiffness of a hand and of the ground, over that of a bar
constexpr double longest = 0.3;       // movement of a vertex in a step, in reaches
constexpr int tries = 3;              // of a step, each a third as long
constexpr double enough = 0.05;       // of what the model promises
constexpr double enough_mended = 0.2; // where a step is mended
constexpr int most_corrections = 3;
constexpr double mending_damping = 0.1; // of 0.01 to 0.3 the quickest
constexpr double least_gain = 1e-14;    // less of the energy cannot be told from rounding
constexpr int most_betterings = 30;
constexpr double good_enough = 1e-4; // what is left of the square of the force
constexpr double slow_mending = 0.3; // what a correction leaves above: more, and its matrix is too old
constexpr int steps_on_the_way = 24; // with 12, sheets of 64 divisions fall behind
constexpr double near_rest = 1e-3;   // in reaches
constexpr int quick_steps = 24;      // before those that are mended
using Vector = Eigen::Vector3d;
using Shape = SheetElements::Shape;
using Angles = SheetElements::Angles;

} // namespace

struct FoldSolver::State {
  /// What is known of a shape.
  struct Look {
    double energy = 0;
    double contact = 0; // its part of layers that push each other
    Angles angle;
    Eigen::VectorXd force; // without that of contacts; empty where they push at the outset of a step
  };
  /// A movement and by how much the force fell along it.
  struct Learnt {
    Eigen::VectorXd move;
    Eigen::VectorXd fall;
    double both = 0; // their product
  };

  FoldMesh mesh;
  SheetElements elements;
  double reach = 1;                   // of a step, in units: 1, or a tenth of the sheet where that is more
  Shape x;                            // in units
  Angles angle;                       // per hinge
  Eigen::SparseMatrix<double> matrix; // lower half
  std::vector<int> diagonal;
  std::optional<DissectedCholesky> factor;
  std::optional<DissectedCholesky> mending; // of a matrix in which nothing is soft: what it moves, bars ask for
  bool can_mend = false;
  std::vector<std::optional<Vector>> held; // per vertex, in units
  std::vector<double> share;               // per vertex, of the sheet's area, 1 on average
  FoldLoads loads;
  std::optional<Contacts> contacts;
  std::vector<Push> pushes; // in the matrix, as the blocks `bound`
  std::vector<Eigen::Matrix3d> bound;
  bool pushing = false; // else they are only counted
  double damping = 1e-6;
  int steps = 0;
  int factors = 0;
  std::optional<Look> known; // of x
  int factor_age = none;     // steps made with the factor there is
  bool thorough = false;     // steps are mended rather than made shorter
  double stride = 1;         // what of a step by an older factor is tried
  std::deque<Learnt> learnt; // since it was made, the latest last
  static constexpr int none = -1;
  static constexpr int oldest_mended = 24; // of 8, 16 and 40 steps none was clearly faster
  static constexpr int oldest_quick = 48;  // 24 were as fast, but more steps cost much
  static constexpr std::size_t most_learnt = 8;

  State(const FoldMesh& its_mesh, const FoldStiffness& stiffness);
  void changed() {
    factor_age = none;
    can_mend = false;
    known.reset();
  }
  [[nodiscard]] bool apart() const { return contacts && pushing; }
  [[nodiscard]] bool mends() const { return thorough || apart(); }
  /// Whether layers push each other in the shape there is.
  [[nodiscard]] bool pressed() const { return known && known->contact > 0; }
  [[nodiscard]] double outside_energy(const Shape& y) const;
  void add_outside(const Shape& y, Eigen::VectorXd& force) const;
  Eigen::VectorXd assemble();
  [[nodiscard]] Look look(const Shape& y, bool with_force) const;
  [[nodiscard]] Shape moved(const Eigen::VectorXd& move) const;
  [[nodiscard]] double most_moved(const Eigen::VectorXd& move) const;
  void take(Shape& tried, Look& its_look);
  void learn(const Eigen::VectorXd& move, const Eigen::VectorXd& before, const Eigen::VectorXd& after);
  [[nodiscard]] Eigen::VectorXd new_move(const Eigen::VectorXd& force) const;
  [[nodiscard]] Eigen::VectorXd learnt_move(const Eigen::VectorXd& force) const;
  std::optional<double> go_along(const Eigen::VectorXd& move, const Eigen::VectorXd& force, double enough);
  std::optional<double> step_by_old_factor();
  double step_by_new_factor();
  double step(bool mended);
};

FoldSolver::State::State(const FoldMesh& its_mesh, const FoldStiffness& stiffness)
    : mesh(its_mesh), elements(mesh, stiffness), matrix(elements.layout()) {
  const double unit = elements.unit();
  reach = std::max(1.0, bounding_box(mesh.flat).size().norm() / unit / 10);
  for (const Point& p : mesh.flat) x.emplace_back(p.x() / unit, p.y() / unit, 0);
  angle.assign(mesh.hinges.size(), 0);
  held.assign(mesh.flat.size(), std::nullopt);
  share.assign(mesh.flat.size(), 0);
  double area = 0;
  for (const auto& t : mesh.triangles) {
    const Point u = mesh.flat[at(t[1])] - mesh.flat[at(t[0])];
    const Point v = mesh.flat[at(t[2])] - mesh.flat[at(t[0])];
    const double own = std::abs(u.x() * v.y() - u.y() * v.x()) / 2;
    for (const int corner : t) share[at(corner)] += own / 3;
    area += own;
  }
  for (double& s : share) s *= static_cast<double>(mesh.flat.size()) / area;
  for (int column = 0; column < matrix.outerSize(); ++column) diagonal.push_back(matrix.outerIndexPtr()[column]);
  factor.emplace(matrix, mesh.flat);
  mending.emplace(matrix, mesh.flat);
}

double FoldSolver::State::outside_energy(const Shape& y) const {
  double sum = 0;
  const double ground = loads.ground_mm ? *loads.ground_mm / elements.unit() : 0;
  for (std::size_t v = 0; v < y.size(); ++v) {
    if (held[v]) sum += holding * (y[v] - *held[v]).squaredNorm() / 2;
    sum += loads.weight * share[v] * y[v].z();
    const double sunk = loads.ground_mm ? std::max(0.0, ground - y[v].z()) : 0;
    sum += holding * sunk * sunk / 2;
  }
  return sum;
}

/// Forces from outside the sheet, without those of contacts.
void FoldSolver::State::add_outside(const Shape& y, Eigen::VectorXd& force) const {
  const double ground = loads.ground_mm ? *loads.ground_mm / elements.unit() : 0;
  for (std::size_t v = 0; v < y.size(); ++v) {
    const auto row = 3 * static_cast<Eigen::Index>(v);
    if (held[v]) force.segment<3>(row) -= holding * (y[v] - *held[v]);
    force[row + 2] -= loads.weight * share[v];
    if (loads.ground_mm) force[row + 2] += holding * std::max(0.0, ground - y[v].z());
  }
}

FoldSolver::State::Look FoldSolver::State::look(const Shape& y, bool with_force) const {
  Look out{0, apart() ? contacts->energy(y) : 0, angle, {}};
  if (with_force) {
    out.force.setZero(matrix.rows());
    out.energy = elements.energy(y, out.angle, out.force);
    add_outside(y, out.force);
  } else {
    out.energy = elements.energy(y, out.angle);
  }
  out.energy += out.contact + outside_energy(y);
  return out;
}

/// Fills the matrix for the shape there is; all forces come back.
Eigen::VectorXd FoldSolver::State::assemble() {
  double* values = matrix.valuePtr();
  std::fill(values, values + matrix.nonZeros(), 0.0);
  elements.add_matrix(x, values);
  Eigen::VectorXd force = pressed() ? look(x, true).force : known->force;
  // Blocks from outside are never softer than they are.
  bound.assign(x.size(), Eigen::Matrix3d::Zero());
  pushes = pressed() ? contacts->pushes(x) : std::vector<Push>{};
  add_pushes(pushes, force, bound);
  std::vector<Eigen::Matrix3d> blocks = bound;
  for (std::size_t v = 0; v < x.size(); ++v) {
    if (held[v]) blocks[v] += holding * Eigen::Matrix3d::Identity();
    if (loads.ground_mm && x[v].z() < *loads.ground_mm / elements.unit()) blocks[v](2, 2) += holding;
    elements.add_block(VertexId(v), blocks[v], values);
  }
  return force;
}

Shape FoldSolver::State::moved(const Eigen::VectorXd& move) const {
  Shape out = x;
  for (std::size_t v = 0; v < out.size(); ++v) out[v] += move.segment<3>(3 * static_cast<Eigen::Index>(v));
  return out;
}

double FoldSolver::State::most_moved(const Eigen::VectorXd& move) const {
  double most = 0;
  for (Eigen::Index i = 0; i < move.size(); i += 3) most = std::max(most, move.segment<3>(i).norm() / reach);
  return most;
}

void FoldSolver::State::take(Shape& tried, Look& its_look) {
  x = std::move(tried);
  angle = its_look.angle;
  known = std::move(its_look);
}

/// What a step taught of the second derivatives, unless it says that they are not positive there.
void FoldSolver::State::learn(const Eigen::VectorXd& move, const Eigen::VectorXd& before,
                              const Eigen::VectorXd& after) {
  Learnt l{move, before - after, 0};
  l.both = l.move.dot(l.fall);
  if (!(l.both > 1e-10 * l.move.norm() * l.fall.norm())) return;
  if (learnt.size() == most_learnt) learnt.pop_front();
  learnt.push_back(std::move(l));
}

/// The step of the factor there is, mended by what was learnt since (L-BFGS, Nocedal 1980).
Eigen::VectorXd FoldSolver::State::learnt_move(const Eigen::VectorXd& force) const {
  Eigen::VectorXd rest = force;
  std::vector<double> shares(learnt.size());
  for (std::size_t i = learnt.size(); i-- > 0;) {
    shares[i] = learnt[i].move.dot(rest) / learnt[i].both;
    rest -= shares[i] * learnt[i].fall;
  }
  Eigen::VectorXd move = factor->solve(rest);
  for (std::size_t i = 0; i < learnt.size(); ++i)
    move += (shares[i] - learnt[i].fall.dot(move) / learnt[i].both) * learnt[i].move;
  return move;
}

/// The step of the factor just made. Layers that push each other move freely together, which the blocks they have in
/// the matrix do not say: from these the step is bettered (conjugate gradients, Hestenes and Stiefel 1952).
Eigen::VectorXd FoldSolver::State::new_move(const Eigen::VectorXd& force) const {
  if (pushes.empty()) return factor->solve(force);
  Eigen::VectorXd move = Eigen::VectorXd::Zero(force.size());
  Eigen::VectorXd rest = force;
  Eigen::VectorXd z = factor->solve(rest);
  Eigen::VectorXd way = z;
  double size = rest.dot(z);
  const double enough = good_enough * size;
  for (int i = 0; i < most_betterings && size > enough; ++i) {
    Eigen::VectorXd resisted = matrix.selfadjointView<Eigen::Lower>() * way;
    for (std::size_t v = 0; v < bound.size(); ++v) {
      const auto row = 3 * static_cast<Eigen::Index>(v);
      resisted.segment<3>(row) -= bound[v] * way.segment<3>(row);
    }
    add_resistance(pushes, way, resisted);
    const double by = size / way.dot(resisted);
    move += by * way;
    rest -= by * resisted;
    z = factor->solve(rest);
    const double last = std::exchange(size, rest.dot(z));
    way = z + size / last * way;
  }
  return move;
}

/// Goes along a move. Where the paper turns on the way and so its bars stretch, that is mended with a matrix in which
/// nothing is soft (a second-order correction, Nocedal and Wright 2006, chapter 18). Nothing, and nothing is changed,
/// unless the energy falls by `enough`; else the movement of the vertex that moved most.
std::optional<double> FoldSolver::State::go_along(const Eigen::VectorXd& move, const Eigen::VectorXd& force,
                                                  double enough) {
  Eigen::VectorXd all = move;
  double above = std::numeric_limits<double>::infinity();
  for (int correction = 0;; ++correction) {
    Shape tried = moved(all);
    Look there = look(tried, !pressed());
    if (known->energy - there.energy >= enough) {
      if (correction == 0 && !pressed() && there.contact == 0) learn(all, force, there.force);
      take(tried, there);
      return most_moved(all);
    }
    if (correction == most_corrections || !mends() || pressed() || there.contact > 0 || !can_mend) return std::nullopt;
    const double last = std::exchange(above, there.energy - known->energy);
    if (!(above < slow_mending * last)) return std::nullopt;
    all += mending->solve(there.force);
    if (!(most_moved(all) <= longest)) return std::nullopt;
  }
}

/// A step with the factor of an earlier one: it costs a back-substitution and a pass over the elements, more where it
/// is mended or made shorter. Nothing where it takes too little of what the model promises: then the factor is too old.
std::optional<double> FoldSolver::State::step_by_old_factor() {
  // What touches changes from step to step.
  if (factor_age == none || factor_age >= (mends() ? oldest_mended : oldest_quick) || pressed() ||
      (apart() && contacts->near() > 0))
    return std::nullopt;
  const Eigen::VectorXd force = known->force;
  const Eigen::VectorXd move = learnt_move(force);
  const double most = most_moved(move);
  const double promised = force.dot(move);
  std::optional<double> made;
  if (mends()) {
    if (most <= longest) made = go_along(move, force, enough_mended * promised);
  } else {
    double part = std::min({1.0, stride, longest / most});
    for (int i = 0; i < tries && !made; ++i) {
      if (i > 0) part /= 3;
      made = go_along(part * move, force, enough * part * promised);
      stride = i == 0 ? 1.5 * part : part;
    }
  }
  if (!made) return std::nullopt;
  ++factor_age;
  ++steps;
  return made;
}

/// 0 when no step was for the better.
double FoldSolver::State::step_by_new_factor() {
  factor_age = none;
  learnt.clear();
  const bool pushed = pressed();
  const Eigen::VectorXd force = assemble();
  std::vector<double> own; // the diagonal without damping
  own.reserve(diagonal.size());
  for (const int d : diagonal) own.push_back(matrix.valuePtr()[d]);
  const auto damp = [&](double by) {
    for (std::size_t i = 0; i < own.size(); ++i) matrix.valuePtr()[diagonal[i]] = own[i] + by;
  };
  bool fresh = false;
  for (int attempt = 0; attempt < 12; ++attempt) {
    damp(damping);
    ++steps;
    ++factors;
    if (factor->factorize(matrix.valuePtr())) {
      Eigen::VectorXd move = new_move(force);
      if (attempt == 0 && force.dot(move) < least_gain * known->energy) return 0;
      // A step of more than a part of an edge leaves the ground on which it was worked out; a large sheet moves farther
      // as a whole while each part of it moves little.
      const double most = most_moved(move);
      if (std::isfinite(most)) {
        if (most > longest) move *= longest / most;
        // A shorter step costs little; another factor costs much.
        for (int shorter = 0; shorter < tries; ++shorter, move /= 3) {
          auto moved = go_along(move, force, 0);
          if (!moved && mends() && !fresh && !pressed()) {
            damp(mending_damping);
            ++factors;
            fresh = can_mend = mending->factorize(matrix.valuePtr());
            moved = go_along(move, force, 0);
          }
          if (!moved) continue;
          if (shorter == 0) damping = std::max(1e-9, damping / 8);
          if (shorter == 0 || !mends()) factor_age = pushed ? none : 0;
          stride = std::pow(3.0, -shorter);
          return *moved;
        }
      }
    }
    damping = std::min(1e3, damping * 8);
  }
  return 0;
}

FoldSolver::FoldSolver(const FoldMesh& mesh, const FoldStiffness& stiffness)
    : state_(std::make_unique<State>(mesh, stiffness)) {}
FoldSolver::~FoldSolver() = default;
FoldSolver::FoldSolver(FoldSolver&&) noexcept = default;
FoldSolver& FoldSolver::operator=(FoldSolver&&) noexcept = default;

void FoldSolver::drive(const std::vector<std::optional<double>>& target_deg) {
  state_->known.reset();
  Angles target;
  target.reserve(target_deg.size());
  for (const auto& t : target_deg) target.push_back(t ? *t * degree : std::nan(""));
  state_->elements.aim(std::move(target));
}

void FoldSolver::push_apart(double thickness_mm, LayerContact how) {
  state_->pushing = how != LayerContact::counted;
  state_->changed();
  state_->contacts.emplace(state_->mesh, thickness_mm / state_->elements.unit(), how);
  state_->contacts->find(state_->x);
}
void FoldSolver::load(const FoldLoads& loads) {
  state_->changed();
  state_->loads = loads;
}
void FoldSolver::hold(VertexId vertex, const std::optional<Eigen::Vector3d>& place_mm) {
  state_->changed();
  state_->held[at(vertex)] =
      place_mm ? std::optional<Vector>(*place_mm / state_->elements.unit()) : std::optional<Vector>();
}
void FoldSolver::stiffen(int hinge, double factor) {
  state_->changed();
  state_->elements.stiffen(hinge, factor);
}
int FoldSolver::passed_through() const { return state_->contacts ? state_->contacts->passed_through(state_->x) : 0; }

double FoldSolver::State::step(bool mended) {
  thorough = mended;
  if (contacts) contacts->find(x);
  // What lies over what may have changed.
  const double contact = apart() ? contacts->energy(x) : 0;
  if (!known || known->contact != contact || known->force.size() == 0) known = look(x, contact == 0);
  if (const auto moved = step_by_old_factor()) return *moved;
  return step_by_new_factor();
}

double FoldSolver::step() { return state_->step(false); }

void FoldSolver::come_near(const Progress* progress) {
  for (int i = 0; i < steps_on_the_way && !(progress && progress->stopped()); ++i)
    if (step() < near_rest * std::min(1.0, state_->stride)) return;
}

bool FoldSolver::rest(double still, int most_steps, const Progress* progress) {
  for (int i = 0; i < most_steps; ++i) {
    if (progress && progress->stopped()) return false;
    const double moved = state_->step(i >= quick_steps);
    if (moved != 0 && (moved >= still || state_->damping >= 1e-6))
      continue; // a small step says little while it is damped
    if (moved == 0 || state_->factor_age <= 0) return true;
    state_->factor_age = State::none; // nor one by an old factor
  }
  return false;
}

std::vector<Eigen::Vector3d> FoldSolver::vertices() const {
  std::vector<Vector> out;
  for (const Vector& v : state_->x) out.push_back(state_->elements.unit() * v);
  return out;
}
void FoldSolver::set_vertices(const std::vector<Eigen::Vector3d>& vertices) {
  State& s = *state_;
  s.changed();
  for (std::size_t v = 0; v < vertices.size(); ++v) s.x[v] = vertices[v] / s.elements.unit();
  s.elements.energy(s.x, s.angle); // angles follow
}
void FoldSolver::set_angle(int hinge, double degrees) {
  state_->known.reset();
  state_->angle[at(hinge)] = degrees * degree;
}
double FoldSolver::angle_deg(int hinge) const { return state_->angle[at(hinge)] / degree; }
double FoldSolver::strain(int bar) const { return state_->elements.strain(state_->x, bar); }
double FoldSolver::max_strain() const {
  double most = 0;
  for (int b = 0; b < static_cast<int>(state_->mesh.bars.size()); ++b) most = std::max(most, std::abs(strain(b)));
  return most;
}
double FoldSolver::energy() const { return state_->look(state_->x, false).energy; }
int FoldSolver::steps() const { return state_->steps; }
int FoldSolver::factors() const { return state_->factors; }

} // namespace uc
