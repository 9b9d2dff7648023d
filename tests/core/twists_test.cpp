// Twists of a pattern, and the order in which they are formed as pre-creasing goes.
#include "base/quantity.h"
#include "crease/precrease.h"
#include "paper/sheet.h"
#include "pattern/family.h"
#include "pattern/twists.h"
#include "programme/text.h"

#include "creased_paper.h"
#include "runner.h"
#include "support.h"

#include <QTest>

#include <cmath>

using namespace uc;
using testing::on_any;

class TwistsTest : public QObject {
  Q_OBJECT
private slots:
  /// Counted by hand: the middle one, its neighbours, and none where nothing turns.
  void twists_are_found_data() {
    QTest::addColumn<QString>("family");
    QTest::addColumn<QString>("group");
    QTest::addColumn<int>("count");
    QTest::newRow("one sink") << "triangle-sink"
                              << "0" << 1;
    QTest::newRow("two sinks") << "triangle-sink"
                               << "1" << 2;
    QTest::newRow("four sinks") << "triangle-sink"
                                << "2" << 4;
    for (const char* none : {"map", "chevron", "waterbomb", "tray", "net", "relief", "wrap", "concentric-pleats"})
      QTest::newRow(none) << none << "" << 0;
    QTest::newRow("twisted star") << "twisted-star"
                                  << "" << 1;
  }
  void twists_are_found() {
    QFETCH(QString, family);
    QFETCH(QString, group);
    QFETCH(int, count);
    ParameterValues values;
    if (!group.isEmpty()) values["group"] = group.toDouble();
    const DrawnPattern d = drawn_pattern(family_design(family.toStdString(), values), Sheet().outline());
    const auto twists = twists_of(d.healed.pattern);
    QCOMPARE(static_cast<int>(twists.size()), count);
    for (std::size_t i = 1; i < twists.size(); ++i) {
      const Point middle = bounding_box(d.healed.pattern.vertices).centre();
      QVERIFY((twists[i].centre - middle).norm() > (twists[i - 1].centre - middle).norm() - 1e-3);
    }
  }

  /// When a twist is formed, all creases about it are there in their own direction.
  void as_one_goes_each_twist_has_its_creases_before_it_is_formed() {
    for (const char* name : {"triangle-sink", "square-twists", "twist-tiling"}) {
      if (testing::sanitized && std::string(name) != "triangle-sink") continue;
      const Polygon square{{0, 0}, {240, 0}, {240, 240}, {0, 240}};
      const CreasePattern pattern =
          drawn_pattern(family_design(name, std::string(name) == "twist-tiling" ? ParameterValues{}
                                                                                : ParameterValues{{"count", 12}}),
                        square)
              .healed.pattern;
      const auto twists = twists_of(pattern);
      const auto plan = precrease(pattern, HandProfile{}, {CreaseSchool::as_you_go, false});
      QVERIFY(plan);
      std::size_t formed = 0;
      int early = 0; // creases there before their twist's turn, of those of later twists
      int later = 0;
      for (std::size_t m = 0; m < plan->programme.moves.size(); ++m) {
        if (!plan->programme.moves[m].is(WorkWay::form)) continue;
        QVERIFY(formed < twists.size());
        const auto place = *std::get<Work>(plan->programme.moves[m].effect).place_mm;
        QVERIFY((Point(place[0], place[1]) - twists[formed].centre).norm() < 1e-9);
        const SheetState state = state_after(plan->programme, static_cast<int>(m));
        QVERIFY(!state.underside_up);
        // The sentence counts from the edges that lie to the left and below: a square is rotated by quarter turns.
        Point lies(place[0], place[1]);
        for (int turns = static_cast<int>(std::lround(state.turned_deg / 90 + 4)) % 4; turns > 0; --turns)
          lies = Point{240 - lies.y(), lies.x()};
        const std::string said = move_text(plan->programme, static_cast<int>(m));
        for (const double mm : lies)
          QVERIFY2(said.find(format_length(Millimetres{mm}, LengthUnit::mm)) != std::string::npos, said.c_str());
        for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
          const EdgeKind kind = pattern.edges[e].kind;
          if (!folds(kind)) continue;
          const Segment s = pattern.segment(CreaseId(e));
          bool there = true; // from end to end
          for (const double t : {0.02, 0.25, 0.5, 0.75, 0.98}) {
            bool here = false;
            for (const auto& c : state.creases) {
              const bool turned = (c.fold == Fold::mountain) != (kind == EdgeKind::mountain);
              here = here || on_any(turned ? c.reversed : c.spans, s.at(t), 0.02);
            }
            there = there && here;
          }
          // What ends at a corner of a twist that is formed by now has to be there.
          const auto ends_at = [&](std::size_t t) {
            const auto& corners = twists[t].corners;
            return std::find(corners.begin(), corners.end(), pattern.edges[e].from) != corners.end() ||
                   std::find(corners.begin(), corners.end(), pattern.edges[e].to) != corners.end();
          };
          bool needed = false;
          for (std::size_t t = 0; t <= formed; ++t) needed = needed || ends_at(t);
          if (needed)
            QVERIFY2(there, qPrintable(QString("%1, twist %2, crease %3").arg(name).arg(formed + 1).arg(e)));
          else
            ++later, early += there;
        }
        ++formed;
      }
      QCOMPARE(formed, twists.size());
      QVERIFY2(early < later / 2, qPrintable(QString("%1 of %2").arg(early).arg(later)));
    }
  }
};

UC_TEST(TwistsTest)
#include "twists_test.moc"
