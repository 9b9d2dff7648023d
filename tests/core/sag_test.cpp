// Sheets that are held along one edge sag as beams and plates do, whatever they are divided into.
#include "base/index.h"
#include "collapse/settling.h"
#include "runner.h"

#include <QtTest>

#include <cmath>

using namespace uc;

namespace {

enum class Diagonals { one_way, in_turn, as_the_mesh_has_them };

/// A rectangle of nx x ny cells.
HealedPattern celled(double length, double width, int nx, int ny, Diagonals diagonals) {
  CreasePattern p;
  for (int i = 0; i <= nx; ++i)
    for (int j = 0; j <= ny; ++j) p.vertices.emplace_back(length * i / nx, width * j / ny);
  const auto put = [&](int i, int j, int k, int l, bool rim) {
    p.edges.push_back(
        {VertexId(i * (ny + 1) + j), VertexId(k * (ny + 1) + l), rim ? EdgeKind::raw : EdgeKind::unfolded});
  };
  for (int i = 0; i <= nx; ++i)
    for (int j = 0; j <= ny; ++j) {
      if (i < nx) put(i, j, i + 1, j, j == 0 || j == ny);
      if (j < ny) put(i, j, i, j + 1, i == 0 || i == nx);
      if (i == nx || j == ny || diagonals == Diagonals::as_the_mesh_has_them) continue;
      if (diagonals == Diagonals::in_turn && (i + j) % 2 == 1)
        put(i + 1, j, i, j + 1, false);
      else
        put(i, j, i + 1, j + 1, false);
    }
  return healed(p);
}

} // namespace

class SagTest : public QObject {
  Q_OBJECT

private slots:
  void strips_sag_as_beams_data() {
    QTest::addColumn<double>("length");
    QTest::addColumn<double>("width");
    QTest::addColumn<int>("nx");
    QTest::addColumn<int>("ny");
    QTest::addColumn<double>("over_beam"); // of plate theory
    const auto row = [](double l, double w, int nx, int ny, double over = 1) {
      QTest::addRow("%gx%g in %dx%d", l, w, nx, ny) << l << w << nx << ny << over;
    };
    row(80, 10, 8, 1); // cells along, across and square
    row(80, 10, 4, 1);
    row(80, 10, 32, 1);
    row(80, 10, 16, 2);
    row(80, 10, 20, 4);
    row(80, 5, 40, 1);
    row(80, 5, 8, 1);
    row(80, 20, 16, 4);
    row(240, 20, 24, 2);
    row(240, 20, 12, 6);
    row(80, 40, 16, 2);
    // A square plate with one clamped side, evenly loaded, v = 0.3: 0.129 q a^4 / D at the middle of the free side
    // (Timoshenko and Woinowsky-Krieger 1959), where a beam has 0.125 / 0.91.
    row(60, 60, 12, 12, 0.129 * 0.91 / 0.125);
  }

  void strips_sag_as_beams() {
    QFETCH(double, length);
    QFETCH(double, width);
    QFETCH(int, nx);
    QFETCH(int, ny);
    QFETCH(double, over_beam);
    for (const auto diagonals : {Diagonals::one_way, Diagonals::in_turn, Diagonals::as_the_mesh_has_them}) {
      const auto mesh = fold_mesh(celled(length, width, nx, ny, diagonals));
      QVERIFY(mesh);
      const double cell = length / nx;
      double unit = 0;
      for (const auto& b : mesh->bars) unit += b.rest_mm / static_cast<double>(mesh->bars.size());
      Stock stock;
      stock.caliper_mm = 0.1;
      FoldStiffness paper = stiffness_of(stock, unit);
      QVERIFY(paper.plates);
      FoldSolver solver(*mesh, paper);
      solver.drive(std::vector<std::optional<double>>(mesh->hinges.size(), 0.0));
      for (std::size_t v = 0; v < mesh->flat.size(); ++v)
        if (mesh->flat[v].x() <= cell + 1e-9)
          solver.hold(VertexId(v), Eigen::Vector3d(mesh->flat[v].x(), mesh->flat[v].y(), 0));
      // From the middle of the held cells on: the folds at their ends stand for the half cell before them as well.
      const double free = length - cell / 2;
      const double beam_rigidity = std::pow(0.1, 3) / 12; // over Young's modulus, mm³, per mm of width
      // By weight enough for a hundredth of the length, which is still small.
      const double wanted = 0.01 * free;
      const double load = wanted * 8 * beam_rigidity / std::pow(free, 4); // over Young's modulus, per mm²
      const double bar = 0.1 * unit;                                      // what a bar's stiffness is, over the modulus
      solver.load({load * length * width / static_cast<double>(mesh->flat.size()) / bar, std::nullopt});
      QVERIFY(solver.rest(1e-10, 8000));
      double sag = 0;
      const auto vertices = solver.vertices();
      for (int j = 0; j <= ny; ++j) sag -= vertices[vertices.size() - 1 - static_cast<std::size_t>(j)].z() / (ny + 1);
      const double found = sag / wanted / over_beam;
      QVERIFY2(found > 0.94 && found < 1.03, qPrintable(QString("%1 of the beam's").arg(found)));
    }
  }
};

UC_TEST(SagTest)
#include "sag_test.moc"
