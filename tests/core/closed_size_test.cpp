// Finished sizes that only the collapse knows.
#include "collapse/closed_size.h"
#include "paper/sheet.h"
#include "pattern/sizing.h"
#include "runner.h"
#include "support.h"

#include <QtTest>

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
    for (const char* name : {"map", "tray", "carton", "blintz-tray"}) QTest::newRow(name) << QString(name);
  }
  void the_closed_sheet_is_as_large_as_the_formula_says() {
    QFETCH(QString, family);
    const DrawnPattern drawn = drawn_pattern(sized(family.toUtf8().constData()));
    const auto closed = closed_size(drawn);
    QVERIFY2(closed, closed ? "" : closed.error().c_str());
    QVERIFY(closed->x() >= closed->y() && closed->y() >= closed->z());
    const Point known = *finished_size(drawn);
    for (const double length : {known.x(), known.y()})
      QVERIFY2((closed->array() - length).abs().minCoeff() < 0.02 * length, qPrintable(QString("%1: %2 among %3 %4 %5")
                                                                                           .arg(family)
                                                                                           .arg(length)
                                                                                           .arg(closed->x())
                                                                                           .arg(closed->y())
                                                                                           .arg(closed->z())));
  }

  void the_saddle_has_a_size_and_a_sheet_is_worked_back_from_it() {
    const PatternFamily& family = *find_pattern_family("concentric-pleats");
    const DrawnPattern drawn = drawn_pattern(sized("concentric-pleats"));
    FinishedMeasure measure(family);
    const auto size = measure(drawn);
    QVERIFY(size && measure.by_collapse());
    const auto closed = closed_size(drawn);
    QVERIFY((*size - closed->head<2>()).norm() < 1e-9);
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
    FinishedMeasure measure(*find_pattern_family("chevron"));
    const DrawnPattern drawn = drawn_pattern(sized("chevron"));
    QCOMPARE(*measure(drawn), *finished_size(drawn));
    QVERIFY(!measure.by_collapse());
    FinishedMeasure of_many(*find_pattern_family("concentric-pleats"));
    SizedFamily many = sized("concentric-pleats");
    many.choice.values["rings"] = 64;
    many.choice.values["sides"] = 12;
    many.choice.values["diagonals"] = 1;
    QVERIFY(graph_of(drawn_pattern(many).healed.pattern).faces.size() <= most_closed_facets ||
            !of_many(drawn_pattern(many)));
    FinishedMeasure of_grid(*find_pattern_family("square-grid"));
    QVERIFY(!of_grid(drawn_pattern(sized("square-grid"))) || !of_grid.by_collapse());
  }
};

UC_TEST(ClosedSizeTest)
#include "closed_size_test.moc"
