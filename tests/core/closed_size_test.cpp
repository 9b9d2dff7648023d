// Finished sizes that only the collapse knows.
#include "collapse/closed_size.h"
#include "paper/sheet.h"
#include "pattern/sizing.h"
#include "runner.h"
#include "support.h"

#include <Eigen/Geometry>
#include <QtTest>

#include <algorithm>
#include <cmath>

using namespace uc;

namespace {

SizedFamily sized(const char* name, double side_mm = 240) {
  return {normal_choice(*find_pattern_family(name)), Sheet::square(Millimetres{side_mm})};
}

} // namespace

class ClosedSizeTest : public QObject {
  Q_OBJECT

private slots:
  /// Where a formula gives the size, the closed sheet has it too.
  void the_closed_sheet_is_as_large_as_the_formula_says_data() {
    QTest::addColumn<QString>("family");
    for (const char* name : {"map", "tray", "carton", "blintz-tray", "triangle-row"})
      QTest::newRow(name) << QString(name);
  }
  void the_closed_sheet_is_as_large_as_the_formula_says() {
    QFETCH(QString, family);
    const DrawnPattern drawn = drawn_pattern(sized(family.toUtf8().constData()));
    const auto closed = closed_size(drawn);
    QVERIFY2(closed, closed ? "" : closed.error().c_str());
    QVERIFY(closed->x() >= closed->y() && closed->y() >= closed->z());
    const Eigen::Vector3d known = *finished_box(drawn);
    for (const double length : {known.x(), known.y()})
      QVERIFY2((closed->array() - length).abs().minCoeff() < 0.02 * length, qPrintable(QString("%1: %2 among %3 %4 %5")
                                                                                           .arg(family)
                                                                                           .arg(length)
                                                                                           .arg(closed->x())
                                                                                           .arg(closed->y())
                                                                                           .arg(closed->z())));
  }

  /// Of a flat sheet and of a channel, however they lie.
  void the_least_box_does_not_depend_on_how_a_sheet_lies() {
    const DrawnPattern drawn =
        drawn_pattern(family_design("map", {{"count", 4}}), Sheet::square(Millimetres{90}).outline());
    const FoldMesh mesh = fold_mesh(drawn.healed).value();
    for (const bool stands : {false, true}) { // two walls on its middle
      std::vector<Eigen::Vector3d> places;
      for (const Point& p : mesh.flat) {
        const double x = std::clamp(p.x(), 22.5, 67.5);
        places.emplace_back(stands ? Eigen::Vector3d{x, p.y(), std::abs(p.x() - x)} : Eigen::Vector3d{p.x(), p.y(), 0});
      }
      const Eigen::Vector3d wanted = stands ? Eigen::Vector3d{90, 45, 22.5} : Eigen::Vector3d{90, 90, 0};
      for (const double turned : {0.0, 0.3, 1.2, 2.9}) {
        const Eigen::Matrix3d turn =
            Eigen::AngleAxisd(turned, Eigen::Vector3d{1, 2, -0.5}.normalized()).toRotationMatrix();
        std::vector<Eigen::Vector3d> lies;
        for (const auto& p : places) lies.emplace_back(turn * p + Eigen::Vector3d{7, -3, 20});
        QVERIFY((least_box(lies, mesh) - wanted).norm() < 1e-9);
        QVERIFY((least_box(lies, mesh, 1) - wanted).norm() < 1e-9); // its first facet tells already
      }
    }
  }

  void the_saddle_has_a_size_and_a_sheet_is_worked_back_from_it() {
    const DrawnPattern drawn = drawn_pattern(sized("concentric-pleats"));
    FinishedMeasure measure;
    const auto size = measure(drawn);
    QVERIFY(size && measure.by_collapse());
    const auto closed = closed_size(drawn);
    QVERIFY((*size - *closed).norm() < 1e-9);
    QVERIFY(size->maxCoeff() < 240 && size->minCoeff() > 24);
    const auto made =
        sized_to_finish(sized("concentric-pleats"), 60, [&](const DrawnPattern& d) { return measure(d); });
    QVERIFY2(made, made ? "" : made.error().c_str());
    QVERIFY(std::abs(made->sheet.width() / 240 - 60 / size->maxCoeff()) < 1e-6);
    // Closed anew, at its own size, it measures what was wanted.
    const auto again = closed_size(drawn_pattern(*made));
    QVERIFY2(std::abs(again->head<2>().maxCoeff() - 60) < 0.6,
             qPrintable(QString::number(again->head<2>().maxCoeff())));
  }

  void what_is_known_is_not_closed() {
    FinishedMeasure measure;
    const DrawnPattern drawn = drawn_pattern(sized("chevron"));
    QCOMPARE(*measure(drawn), *finished_box(drawn));
    QVERIFY(!measure.by_collapse());
    FinishedMeasure of_many;
    SizedFamily many = sized("concentric-pleats");
    many.choice.values["rings"] = 64;
    many.choice.values["sides"] = 12;
    many.choice.values["diagonals"] = 1;
    QVERIFY(graph_of(drawn_pattern(many).healed.pattern).faces.size() <= most_closed_facets ||
            !of_many(drawn_pattern(many)));
    // A bare grid is as large as its sheet: nothing says what is folded.
    FinishedMeasure of_grid;
    QCOMPARE(*of_grid(drawn_pattern(sized("square-grid"))), Eigen::Vector3d(240, 240, 0));
    QVERIFY(!of_grid.by_collapse());
  }
};

UC_TEST(ClosedSizeTest)
#include "closed_size_test.moc"
