#include "collapse/sheet_elements.h"

#include "base/index.h"
#include "collapse/fold_angle.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

using Vector = Eigen::Vector3d;

constexpr double thin = 0.15;         // a triangle's height over its longest side
constexpr double least_height = 0.05; // in units: what is lower resists as this does

/// How a bar resists a small move. In tension it also resists being turned; in compression it does not push back
/// (Gauss-Newton's part alone).
Eigen::Matrix3d bar_matrix(const Vector& d, double rest, double stiffness) {
  const double length = std::max(d.norm(), 1e-12);
  const Vector u = d / length;
  return stiffness * (u * u.transpose() +
                      std::max(0.0, length - rest) / length * (Eigen::Matrix3d::Identity() - u * u.transpose()));
}

double followed(double before, double raw) {
  constexpr double turn = 2 * std::numbers::pi;
  return raw + turn * std::round((before - raw) / turn);
}

} // namespace

std::vector<SheetElements::Altitude> SheetElements::thin_triangles(const FoldMesh& mesh, double unit_mm) {
  std::vector<Altitude> out;
  for (const auto& t : mesh.triangles) {
    const auto side = [&](std::size_t i) -> Point { return mesh.flat[at(t[(i + 1) % 3])] - mesh.flat[at(t[i])]; };
    std::size_t longest = 0;
    for (std::size_t i = 1; i < 3; ++i)
      if (side(i).squaredNorm() > side(longest).squaredNorm()) longest = i;
    const Point along = side(longest);
    const Point rest = mesh.flat[at(t[(longest + 2) % 3])] - mesh.flat[at(t[longest])];
    const double part = rest.dot(along) / along.squaredNorm();
    const double height = (rest - part * along).norm();
    if (height < thin * along.norm())
      out.push_back({{t[longest], t[(longest + 1) % 3], t[(longest + 2) % 3]},
                     {part - 1, -part, 1},
                     height / unit_mm,
                     1 / std::max(height / unit_mm, least_height)});
  }
  return out;
}

Vector SheetElements::across(const Shape& x, const Altitude& a) {
  return a.weights[0] * x[at(a.ends[0])] + a.weights[1] * x[at(a.ends[1])] + a.weights[2] * x[at(a.ends[2])];
}

SheetElements::SheetElements(const FoldMesh& mesh, const FoldStiffness& stiffness) : mesh_(mesh) {
  double sum = 0;
  for (const auto& b : mesh.bars) sum += b.rest_mm;
  unit_mm_ = sum / static_cast<double>(mesh.bars.size());
  for (const auto& b : mesh.bars) rest_.push_back(b.rest_mm / unit_mm_);
  if (stiffness.altitudes) altitudes_ = thin_triangles(mesh, unit_mm_);
  for (const auto& h : mesh.hinges)
    made_.push_back((folds(h.kind)      ? stiffness.crease
                     : stiffness.plates ? 0
                                        : stiffness.facet) *
                    h.length_mm / unit_mm_);
  if (stiffness.plates) plates_ = plates_of(mesh, stiffness.facet, unit_mm_);
  weight_ = made_;
  target_.assign(mesh.hinges.size(), 0);
}

void SheetElements::stiffen(int hinge, double factor) { weight_[at(hinge)] = factor * made_[at(hinge)]; }

double SheetElements::strain(const Shape& x, int bar) const {
  const auto& b = mesh_.bars[at(bar)];
  return (x[at(b.a)] - x[at(b.b)]).norm() / rest_[at(bar)] - 1;
}

Eigen::SparseMatrix<double> SheetElements::layout() {
  const auto n = 3 * static_cast<Eigen::Index>(mesh_.flat.size());
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
  for (const auto& b : mesh_.bars) element(ends(b));
  for (const auto& h : mesh_.hinges) element(corners(h));
  for (const Plate& p : plates_) element(p.vertices);
  for (int v = 0; v < static_cast<int>(mesh_.flat.size()); ++v) element(std::array{v});
  Eigen::SparseMatrix<double> matrix(n, n);
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
  bar_slots_.resize(mesh_.bars.size());
  hinge_slots_.resize(mesh_.hinges.size());
  block_slots_.resize(mesh_.flat.size());
  for (std::size_t b = 0; b < mesh_.bars.size(); ++b) slots(ends(mesh_.bars[b]), bar_slots_[b]);
  for (std::size_t h = 0; h < mesh_.hinges.size(); ++h) slots(corners(mesh_.hinges[h]), hinge_slots_[h]);
  for (int v = 0; v < static_cast<int>(mesh_.flat.size()); ++v) slots(std::array{v}, block_slots_[at(v)]);
  for (Altitude& a : altitudes_) slots(a.ends, a.places);
  for (const Plate& p : plates_) {
    const std::size_t n = 3 * p.vertices.size();
    slots(p.vertices, plate_slots_.emplace_back(n * (n + 1) / 2));
  }
  return matrix;
}

template <bool with_force> double SheetElements::sum(const Shape& x, Angles& angles, Eigen::VectorXd* force) const {
  double twice = 0;
  for (std::size_t b = 0; b < mesh_.bars.size(); ++b) {
    const int va = mesh_.bars[b].a;
    const int vb = mesh_.bars[b].b;
    const Vector d = x[at(va)] - x[at(vb)];
    const double length = d.norm();
    const double stretch = (length - rest_[b]) / rest_[b];
    twice += stretch * stretch * rest_[b];
    if constexpr (with_force) {
      const Vector pull = stretch / std::max(length, 1e-12) * d;
      force->segment<3>(3 * va) -= pull;
      force->segment<3>(3 * vb) += pull;
    }
  }
  for (const Altitude& a : altitudes_) {
    const Vector d = across(x, a);
    const double length = d.norm();
    const double pull = a.stiffness * (length - a.rest);
    twice += pull * (length - a.rest);
    if constexpr (with_force)
      for (std::size_t i = 0; i < 3; ++i)
        force->segment<3>(3 * a.ends[i]) -= a.weights[i] * pull / std::max(length, 1e-12) * d;
  }
  for (std::size_t h = 0; h < mesh_.hinges.size(); ++h) {
    const auto& hinge = mesh_.hinges[h];
    const Vector& a = x[at(hinge.a)];
    const Vector& left = x[at(hinge.left)];
    const Vector& right = x[at(hinge.right)];
    const FoldAngle folded(a, x[at(hinge.b)], left, right);
    angles[h] = followed(angles[h], folded.radians());
    if (std::isnan(target_[h])) continue;
    const double off = angles[h] - target_[h];
    twice += weight_[h] * off * off;
    if constexpr (with_force) {
      const auto g = folded.gradient(left - a, right - a);
      const std::array<int, 4> v{hinge.a, hinge.b, hinge.left, hinge.right};
      for (std::size_t i = 0; i < 4; ++i) force->segment<3>(3 * v[i]) -= weight_[h] * off * g[i];
    }
  }
  for (const Plate& p : plates_) {
    const PlateAngles folded = angles_of(p, angles);
    const PlateAngles moments = p.stiffness * folded;
    twice += moments.dot(folded);
    if constexpr (with_force) {
      const Eigen::Matrix<double, Eigen::Dynamic, 1, 0, 18, 1> pull = gradients_of(p, x) * moments;
      for (std::size_t i = 0; i < p.vertices.size(); ++i)
        force->segment<3>(3 * p.vertices[i]) -= pull.segment<3>(3 * static_cast<Eigen::Index>(i));
    }
  }
  return twice / 2;
}

PlateAngles SheetElements::angles_of(const Plate& p, const Angles& angles) {
  PlateAngles out(p.stiffness.rows());
  for (Eigen::Index i = 0; i < out.size(); ++i) out[i] = angles[at(p.hinges[static_cast<std::size_t>(i)])];
  return out;
}

/// How the angles of its hinges change as its vertices move: three rows a vertex, a column a hinge.
PlateGradients SheetElements::gradients_of(const Plate& p, const Shape& x) const {
  PlateGradients out = PlateGradients::Zero(3 * static_cast<Eigen::Index>(p.vertices.size()), p.stiffness.rows());
  for (std::size_t h = 0; h < p.hinges.size(); ++h) {
    const auto& hinge = mesh_.hinges[at(p.hinges[h])];
    const Vector& a = x[at(hinge.a)];
    const Vector& left = x[at(hinge.left)];
    const Vector& right = x[at(hinge.right)];
    const auto g = FoldAngle(a, x[at(hinge.b)], left, right).gradient(left - a, right - a);
    for (std::size_t k = 0; k < 4; ++k) out.block<3, 1>(3 * p.at[h][k], static_cast<Eigen::Index>(h)) = g[k];
  }
  return out;
}

double SheetElements::energy(const Shape& x, Angles& angles) const { return sum<false>(x, angles, nullptr); }
double SheetElements::energy(const Shape& x, Angles& angles, Eigen::VectorXd& force) const {
  return sum<true>(x, angles, &force);
}

void SheetElements::add_matrix(const Shape& x, double* values) const {
  for (std::size_t b = 0; b < mesh_.bars.size(); ++b) {
    const Eigen::Matrix3d k = bar_matrix(x[at(mesh_.bars[b].a)] - x[at(mesh_.bars[b].b)], rest_[b], 1 / rest_[b]);
    std::size_t s = 0;
    for (int i = 0; i < 6; ++i)
      for (int j = 0; j <= i; ++j) values[bar_slots_[b][s++]] += ((i < 3) == (j < 3) ? 1 : -1) * k(i % 3, j % 3);
  }
  for (const Altitude& a : altitudes_) {
    const Eigen::Matrix3d k = bar_matrix(across(x, a), a.rest, a.stiffness);
    std::size_t s = 0;
    for (std::size_t i = 0; i < 9; ++i)
      for (std::size_t j = 0; j <= i; ++j)
        values[a.places[s++]] +=
            a.weights[i / 3] * a.weights[j / 3] * k(static_cast<Eigen::Index>(i % 3), static_cast<Eigen::Index>(j % 3));
  }
  for (std::size_t h = 0; h < mesh_.hinges.size(); ++h) {
    if (std::isnan(target_[h])) continue;
    const auto& hinge = mesh_.hinges[h];
    const Vector& a = x[at(hinge.a)];
    const Vector& left = x[at(hinge.left)];
    const Vector& right = x[at(hinge.right)];
    const auto parts = FoldAngle(a, x[at(hinge.b)], left, right).gradient(left - a, right - a);
    std::array<double, 12> g{};
    for (std::size_t i = 0; i < 12; ++i) g[i] = parts[i / 3][static_cast<Eigen::Index>(i % 3)];
    std::size_t s = 0;
    for (std::size_t i = 0; i < 12; ++i)
      for (std::size_t k = 0; k <= i; ++k) values[hinge_slots_[h][s++]] += weight_[h] * g[i] * g[k];
  }
  for (std::size_t p = 0; p < plates_.size(); ++p) {
    const PlateGradients g = gradients_of(plates_[p], x);
    const Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, 18, 18> k = g * plates_[p].stiffness * g.transpose();
    std::size_t s = 0;
    for (Eigen::Index i = 0; i < k.rows(); ++i)
      for (Eigen::Index j = 0; j <= i; ++j) values[plate_slots_[p][s++]] += k(i, j);
  }
}

void SheetElements::add_block(VertexId vertex, const Eigen::Matrix3d& block, double* values) const {
  std::size_t s = 0;
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j <= i; ++j) values[block_slots_[at(vertex)][s++]] += block(i, j);
}

} // namespace uc
