// What the collapse is worked out with, each by itself: forces against the slope of the energy, the factor against a
// dense one and against itself on other threads, steps that never raise the energy.
#include "patterns.h"
#include "runner.h"
#include "support.h"

#include "base/parallel.h"
#include "collapse/dissected_cholesky.h"
#include "collapse/sheet_elements.h"
#include "collapse/solver.h"
#include "collapse/stages.h"
#include "paper/sheet.h"
#include "pattern/family.h"

#include <Eigen/Cholesky>
#include <QtTest>

#include <cmath>
#include <random>
#include <stdexcept>

using namespace uc;

namespace {

FoldMesh mesh_of(const CreasePattern& pattern) {
  auto mesh = fold_mesh(healed(pattern));
  if (!mesh) qFatal("%s", mesh.error().c_str());
  return std::move(mesh).value();
}
CreasePattern family(const char* name, ParameterValues values) {
  const DrawnPattern d = drawn_pattern(family_design(name, std::move(values)), Sheet().outline());
  if (!d.wrong.empty()) qFatal("%s", d.wrong[0].sentence.c_str());
  return d.healed.pattern;
}
} // namespace

class SolverTest : public QObject {
  Q_OBJECT
private slots:
  /// The forces are the slope of the energy, and the matrix that of the forces where nothing is strained.
  void forces_are_the_slope_of_the_energy() {
    slope_of_the_energy(mesh_of(family("waterbomb", {{"across", 2}})), {});
    FoldStiffness with_altitudes;
    with_altitudes.altitudes = true;
    slope_of_the_energy(mesh_of(family("wrap", {{"rings", 1}})), with_altitudes); // of thin triangles
  }
  static void slope_of_the_energy(const FoldMesh& mesh, const FoldStiffness& stiffness) {
    SheetElements elements(mesh, stiffness);
    std::mt19937 random(5);
    std::uniform_real_distribution<double> any(-1, 1);
    SheetElements::Shape x;
    for (const Point& p : mesh.flat)
      x.emplace_back(p.x() / elements.unit() + 0.1 * any(random), p.y() / elements.unit() + 0.1 * any(random),
                     0.3 * any(random));
    SheetElements::Angles aims;
    for (std::size_t h = 0; h < mesh.hinges.size(); ++h)
      aims.push_back(h % 5 == 0 ? std::nan("") : any(random)); // some move freely
    elements.aim(aims);
    SheetElements::Angles angles(mesh.hinges.size(), 0.0);
    Eigen::VectorXd force = Eigen::VectorXd::Zero(3 * static_cast<Eigen::Index>(x.size()));
    const double here = elements.energy(x, angles, force);
    QVERIFY(here > 0);
    QCOMPARE(elements.energy(x, angles), here);
    const double h = 1e-6;
    for (std::size_t v = 0; v < x.size(); ++v) {
      for (int k = 0; k < 3; ++k) {
        SheetElements::Shape moved = x;
        moved[v][k] += h;
        const double after = elements.energy(moved, angles);
        moved[v][k] -= 2 * h;
        const double slope = (after - elements.energy(moved, angles)) / (2 * h);
        const double wanted = -force[3 * static_cast<Eigen::Index>(v) + k];
        QVERIFY2(std::abs(slope - wanted) < 1e-7 * (1 + std::abs(wanted)),
                 qPrintable(QString("vertex %1: %2 for %3").arg(v).arg(slope).arg(wanted)));
      }
    }
  }

  /// Against a dense factor, on meshes of several shapes and with random stiffness.
  void the_factor_solves_what_a_dense_one_solves() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> uniform(-1, 1);
    for (const auto& [name, count] : {std::pair{"chevron", 4}, {"chevron", 9}, {"map", 2}, {"concentric-pleats", 0}}) {
      const FoldMesh mesh =
          mesh_of(family(name, count > 0 ? ParameterValues{{"count", static_cast<double>(count)}} : ParameterValues{}));
      const int n = 3 * static_cast<int>(mesh.flat.size());
      std::vector<Eigen::Triplet<double>> entries;
      const auto add = [&](const std::vector<int>& vertices) {
        Eigen::VectorXd g(3 * static_cast<Eigen::Index>(vertices.size()));
        for (auto& v : g) v = uniform(random);
        for (Eigen::Index i = 0; i < g.size(); ++i)
          for (Eigen::Index k = 0; k < g.size(); ++k) {
            const int r = 3 * vertices[static_cast<std::size_t>(i / 3)] + static_cast<int>(i % 3);
            const int c = 3 * vertices[static_cast<std::size_t>(k / 3)] + static_cast<int>(k % 3);
            if (r >= c) entries.emplace_back(r, c, g[i] * g[k]);
          }
      };
      for (const auto& b : mesh.bars) add({b.a, b.b});
      for (const auto& h : mesh.hinges) add({h.a, h.b, h.left, h.right});
      for (int i = 0; i < n; ++i) entries.emplace_back(i, i, 1e-3);
      Eigen::SparseMatrix<double> lower(n, n);
      lower.setFromTriplets(entries.begin(), entries.end());
      lower.makeCompressed();
      DissectedCholesky factor(lower, mesh.flat);
      Eigen::VectorXd right(n);
      for (auto& v : right) v = uniform(random);
      for (int round = 0; round < 2; ++round) { // made twice, the second time of other numbers
        QVERIFY(factor.factorize(lower.valuePtr()));
        Eigen::MatrixXd dense = lower;
        const Eigen::VectorXd wanted = Eigen::MatrixXd(dense.selfadjointView<Eigen::Lower>()).ldlt().solve(right);
        QVERIFY((factor.solve(right) - wanted).norm() < 1e-8 * wanted.norm());
        lower *= 2;
      }
      lower *= -1;
      QVERIFY(!factor.factorize(lower.valuePtr()));
    }
  }

  /// A thin triangle is flattened at hardly any strain of its sides; with its altitude it takes as much as paper does,
  /// and one that is not thin has none.
  void thin_triangles_resist_being_flattened() {
    const auto energy = [](double height, bool altitudes) {
      FoldMesh mesh;
      mesh.flat = {{-1, 0}, {1, 0}, {0, height}};
      mesh.triangles = {{VertexId(0), VertexId(1), VertexId(2)}};
      for (const auto& [a, b] : {std::pair{0, 1}, {1, 2}, {2, 0}})
        mesh.bars.push_back(
            {VertexId(a), VertexId(b), (mesh.flat[at(VertexId(a))] - mesh.flat[at(VertexId(b))]).norm()});
      FoldStiffness stiffness;
      stiffness.altitudes = altitudes;
      const SheetElements elements(mesh, stiffness);
      SheetElements::Angles none;
      SheetElements::Shape x = {{-1, 0, 0}, {1, 0, 0}, {0, 0, 0}};
      for (auto& v : x) v /= elements.unit();
      return std::pair{elements.energy(x, none), elements.unit()};
    };
    const auto [sides, unit] = energy(0.1, false);
    QVERIFY(sides < 1e-4);
    // Half the square of the height, over the height.
    QVERIFY(std::abs(energy(0.1, true).first - sides - 0.1 / unit / 2) < 1e-12);
    QCOMPARE(energy(0.4, true).first, energy(0.4, false).first);
    QVERIFY(std::isfinite(energy(1e-9, true).first));
  }

  /// On a sheet that is large enough for parts of it to be worked out at once.
  void factors_do_not_depend_on_threads() {
    const FoldMesh mesh = mesh_of(family("chevron", {{"count", testing::sanitized ? 20 : 32}}));
    SheetElements elements(mesh, {});
    Eigen::SparseMatrix<double> matrix = elements.layout();
    std::fill(matrix.valuePtr(), matrix.valuePtr() + matrix.nonZeros(), 0.0);
    SheetElements::Shape flat;
    for (const Point& p : mesh.flat) flat.emplace_back(p.x() / elements.unit(), p.y() / elements.unit(), 0);
    elements.add_matrix(flat, matrix.valuePtr());
    for (VertexId v(0); at(v) < flat.size(); ++v)
      elements.add_block(v, 1e-3 * Eigen::Matrix3d::Identity(), matrix.valuePtr());
    const Eigen::VectorXd right = Eigen::VectorXd::LinSpaced(matrix.rows(), -1, 1);
    DissectedCholesky first(matrix, mesh.flat);
    QVERIFY(first.factorize(matrix.valuePtr()));
    const Eigen::VectorXd wanted = first.solve(right);
    for (int i = 0; i < (testing::sanitized ? 3 : 40); ++i) {
      QVERIFY(first.factorize(matrix.valuePtr()));
      QVERIFY(first.solve(right) == wanted);
    }
    parallel_for(4, [&](std::size_t) {
      DissectedCholesky another(matrix, mesh.flat);
      if (!another.factorize(matrix.valuePtr()) || another.solve(right) != wanted)
        throw std::runtime_error("another thread has another answer");
    });
  }

  void energy_never_rises_and_stays_finite() {
    std::mt19937 random(3);
    for (const char* name : {"square-twists", "triangle-sink", "concentric-pleats"}) {
      const FoldMesh mesh = mesh_of(family(name, {}));
      FoldSolver solver(mesh, {});
      std::vector<std::optional<double>> targets(mesh.hinges.size());
      for (auto& t : targets) t = std::uniform_real_distribution<double>(-180, 180)(random); // contradicting each other
      solver.drive(targets);
      double before = solver.energy();
      for (int i = 0; i < 60; ++i) {
        solver.step();
        QVERIFY(std::isfinite(solver.energy()) && solver.energy() <= before * (1 + 1e-12));
        before = solver.energy();
      }
    }
  }

  /// The same way, near to rest at each fiftieth and at rest there: they end in the same shape, and the first makes a
  /// factor in few of its steps.
  void coming_near_keeps_to_the_way_of_coming_to_rest() {
    const FoldMesh mesh = mesh_of(family("chevron", {{"count", 16}}));
    FoldSolver near(mesh, {});
    FoldSolver at_rest(mesh, {});
    std::vector<Eigen::Vector3d> leaning = near.vertices();
    for (auto& v : leaning) v.z() = 1e-6 * (v.x() - 100) * (v.y() - 60);
    for (FoldSolver* s : {&near, &at_rest}) s->set_vertices(leaning);
    for (int part = 1; part <= 25; ++part) {
      const auto targets = targets_at(mesh, {}, part / 50.0);
      for (FoldSolver* s : {&near, &at_rest}) s->drive(targets);
      if (part > 2)
        near.come_near();
      else
        QVERIFY(near.rest(1e-4, 400));
      QVERIFY(at_rest.rest(1e-7, 400));
      QVERIFY2(near.max_strain() < 1e-3, qPrintable(QString::number(near.max_strain())));
      for (int h = 0; h < static_cast<int>(mesh.hinges.size()); ++h)
        QVERIFY2(std::abs(near.angle_deg(h) - at_rest.angle_deg(h)) < 2, qPrintable(QString::number(part)));
    }
    QVERIFY2(near.factors() < 0.06 * near.steps(),
             qPrintable(QString("%1 of %2").arg(near.factors()).arg(near.steps())));
    QVERIFY(near.rest(1e-7, 400));
    for (int h = 0; h < static_cast<int>(mesh.hinges.size()); ++h)
      QVERIFY(std::abs(near.angle_deg(h) - at_rest.angle_deg(h)) < 0.01);
  }
};

UC_TEST(SolverTest)
#include "solver_test.moc"
