// What is proved of patterns that close in space, against forms that are put together facet by facet.
#include "runner.h"
#include "support.h"

#include "collapse/space_proof.h"
#include "form/rigid_form.h"
#include "pattern/family.h"

#include <cmath>

using namespace uc;
using uc::testing::near;

class SpaceProofTest : public QObject {
  Q_OBJECT
private slots:
  void vertices_close_where_the_facets_meet_data() {
    QTest::addColumn<QString>("family");
    for (const PatternFamily& f : pattern_families())
      if ((!testing::sanitized || f.group == FamilyGroup::box) && !f.flat_foldable && f.group != FamilyGroup::grid &&
          f.group != FamilyGroup::wrap && f.name != "relief")
        QTest::newRow(f.name.c_str()) << QString::fromStdString(f.name);
  }
  void vertices_close_where_the_facets_meet() {
    QFETCH(QString, family);
    const DrawnPattern d = drawn_pattern(family_design(family.toStdString()), Sheet().outline());
    const auto proof = space_proof(d);
    QVERIFY2(proof, proof ? "" : proof.error().c_str());
    QCOMPARE(proof->to_part, d.usual_part);
    QVERIFY(proof->closing <= proof->vertices);
    const bool rigid = rigid_form(d.healed.pattern, d.full_deg).has_value();
    QVERIFY2(rigid == (proof->closing == proof->vertices),
             qPrintable(QString("%1 of %2, worst %3").arg(proof->closing).arg(proof->vertices).arg(proof->gap_deg)));
    QCOMPARE(proof->gap_deg < 1e-3, proof->closing == proof->vertices);
    QVERIFY2(proof->can_be_made(),
             qPrintable(QString("strain %1, passed %2").arg(proof->peak_strain).arg(proof->passed_through)));
  }

  /// Three facets of 90 degrees and one of 90 beside them: with three folds of 90 and one of 90 the corner of a box
  /// gapes.
  void a_corner_with_paper_to_spare_gapes() {
    DrawnPattern d;
    d.healed.pattern = {{{0, 0}, {50, 0}, {100, 0}, {100, 50}, {100, 100}, {50, 100}, {0, 100}, {0, 50}, {50, 50}},
                        {{0, 1, EdgeKind::raw},
                         {1, 2, EdgeKind::raw},
                         {2, 3, EdgeKind::raw},
                         {3, 4, EdgeKind::raw},
                         {4, 5, EdgeKind::raw},
                         {5, 6, EdgeKind::raw},
                         {6, 7, EdgeKind::raw},
                         {7, 0, EdgeKind::raw},
                         {8, 1, EdgeKind::valley},
                         {8, 3, EdgeKind::valley},
                         {8, 5, EdgeKind::valley},
                         {8, 7, EdgeKind::valley}}};
    d.full_deg.assign(12, 60.0);
    d.lies_flat = false;
    const auto proof = space_proof(d);
    QVERIFY2(proof, proof ? "" : proof.error().c_str());
    QCOMPARE(proof->vertices, 1);
    QCOMPARE(proof->closing, 0);
    // Turns of 60 degrees about x, y, -x, -y: the trace of their product says by how much it is no turn at all.
    const double c = 0.5;
    const double s = std::sqrt(0.75);
    const auto times = [](const std::array<std::array<double, 3>, 3>& a,
                          const std::array<std::array<double, 3>, 3>& b) {
      std::array<std::array<double, 3>, 3> out{};
      for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
          for (int k = 0; k < 3; ++k)
            out[static_cast<std::size_t>(i)][static_cast<std::size_t>(j)] +=
                a[static_cast<std::size_t>(i)][static_cast<std::size_t>(k)] *
                b[static_cast<std::size_t>(k)][static_cast<std::size_t>(j)];
      return out;
    };
    const std::array<std::array<double, 3>, 3> x{{{1, 0, 0}, {0, c, -s}, {0, s, c}}};
    const std::array<std::array<double, 3>, 3> y{{{c, 0, s}, {0, 1, 0}, {-s, 0, c}}};
    const std::array<std::array<double, 3>, 3> back_x{{{1, 0, 0}, {0, c, s}, {0, -s, c}}};
    const std::array<std::array<double, 3>, 3> back_y{{{c, 0, -s}, {0, 1, 0}, {s, 0, c}}};
    const auto all = times(times(times(x, y), back_x), back_y);
    const double wanted = std::acos((all[0][0] + all[1][1] + all[2][2] - 1) / 2) * 57.29577951308232;
    QVERIFY2(near(proof->gap_deg, wanted, 1e-6), qPrintable(QString("%1 %2").arg(proof->gap_deg).arg(wanted)));
  }

  void it_can_be_stopped() {
    const DrawnPattern d = drawn_pattern(family_design("concentric-pleats"), Sheet().outline());
    Progress progress;
    progress.cancel();
    QVERIFY(!space_proof(d, &progress));
  }
};

UC_TEST(SpaceProofTest)
#include "space_proof_test.moc"
