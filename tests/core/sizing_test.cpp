// Sizes of families worked both ways, values tried over their range, handles, and the sheet of the shelf that is cut.
#include "runner.h"
#include "support.h"

#include "paper/shelf.h"
#include "pattern/handles.h"
#include "pattern/sweep.h"

#include <random>

using namespace uc;
using uc::testing::near;

namespace {

SizedFamily normal(const std::string& name, double side = 240) {
  return {normal_choice(*find_pattern_family(name)), Sheet::square(Millimetres{side})};
}

} // namespace

class SizingTest : public QObject {
  Q_OBJECT
private slots:
  void every_family_is_worked_back_from_a_wanted_size() {
    int known = 0;
    for (const PatternFamily& family : pattern_families()) {
      const SizedFamily now = normal(family.name);
      const auto size = finished_box(drawn_pattern(now));
      const auto made = sized_to_finish(now, 100);
      if (!size) {
        QVERIFY2(!made, family.name.c_str());
        continue;
      }
      if (!made) { // a length of its own would leave its range
        QVERIFY2(made.error().size() > 10, family.name.c_str());
        continue;
      }
      ++known;
      const auto then = finished_box(drawn_pattern(*made));
      QVERIFY2(then && near(then->maxCoeff(), 100, 1e-6), family.name.c_str());
    }
    QVERIFY(known > 20);
    // Where every length scales, so does the sheet.
    const auto half =
        sized_to_finish(normal("chevron"), finished_box(drawn_pattern(normal("chevron")))->maxCoeff() / 2);
    QVERIFY(half && near(half->sheet.width(), 120, 1e-9));
  }

  void a_box_holds_what_is_wanted() {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> u(40, 90);
    for (const char* name : {"tray", "four-part-box", "blintz-tray", "box-lid", "carton"}) {
      const PatternFamily* family = find_pattern_family(name);
      int held = 0;
      for (int i = 0; i < 20; ++i) {
        const std::array<double, 3> wanted{u(random), u(random), 20};
        const auto made = sized_to_hold(normal(name), wanted);
        if (!made) continue;
        ++held;
        const auto inside = drawn_pattern(*made).figures.inside_mm;
        QVERIFY2(inside, name);
        for (std::size_t k = 0; k < 3; ++k) {
          if (family->for_inside && family->name != "carton") // that one stands on a regular polygon
            QVERIFY2(near(inside->at(k), wanted.at(k), 1e-6), name);
          else
            QVERIFY2(inside->at(k) > wanted.at(k) - 1e-6, name);
        }
      }
      QVERIFY2(held >= 15, name);
    }
    QVERIFY(!sized_to_hold(normal("chevron"), {10, 10, 10}));
  }

  void what_cannot_be_worked_back_says_why() {
    QCOMPARE(sized_to_finish({{"roof", {}}, Sheet()}, 100).error().find("roof") != std::string::npos, true);
    const auto vast = sized_to_finish(normal("chevron"), 1e7);
    QVERIFY(!vast && vast.error().find("out of range") != std::string::npos);
    QVERIFY(!sized_to_finish(normal("net"), 1e7));
  }

  void values_are_tried_within_their_range_and_the_one_there_is_among_them() {
    std::mt19937 random(8);
    for (const PatternFamily& family : pattern_families()) {
      for (const Parameter& p : family.parameters) {
        std::uniform_real_distribution<double> u(p.least, p.most);
        for (int i = 0; i < 5; ++i) {
          const bool whole = p.type == ParameterType::integer || p.type == ParameterType::choice;
          const double now = whole ? std::round(u(random)) : u(random);
          const auto values = values_to_try(p, now);
          QVERIFY(values.size() >= 1 && values.size() <= static_cast<std::size_t>(most_tried) + 1);
          QVERIFY(std::is_sorted(values.begin(), values.end()));
          QVERIFY(std::any_of(values.begin(), values.end(), [&](double v) { return std::abs(v - now) < 1e-9; }));
          for (const double v : values) {
            QVERIFY2(check_parameter(p, v), qPrintable(QString("%1 %2").arg(p.name.c_str()).arg(v)));
            QVERIFY(!whole || v == std::round(v));
          }
        }
      }
    }
  }

  /// Each figure of a sweep is that of the family drawn with this value, and worked out another way for the chevron:
  /// its narrowest pleat is a cell.
  void a_sweep_says_what_each_value_gives() {
    const auto values = tried(normal("chevron"), "count");
    QVERIFY2(values, values ? "" : values.error().c_str());
    int layered = 0;
    for (const TriedValue& v : *values) {
      SizedFamily other = normal("chevron");
      other.choice.values["count"] = v.value;
      const DrawnPattern drawn = drawn_pattern(other);
      QCOMPARE(v.refused.empty(), drawn.wrong.empty());
      if (!v.refused.empty()) continue;
      QVERIFY(near(v.pleat_mm, 240 / v.value, 1e-9));
      QVERIFY(v.finished_mm && near(v.finished_mm->x(), finished_box(drawn)->x(), 1e-9));
      QVERIFY(near(v.sheet_mm.x(), 240, 1e-9));
      layered += v.layers > 1;
    }
    QVERIFY(layered > 5);
    QVERIFY(!tried(normal("chevron"), "roof"));
    Progress progress;
    progress.cancel();
    QVERIFY(!tried(normal("chevron"), "count", &progress));
  }

  /// The handle of every length, angle and number lies on a vertex that goes where its derivative says.
  void handles_move_as_they_say() {
    int handles = 0;
    for (const PatternFamily& family : pattern_families()) {
      const SizedFamily now = normal(family.name);
      for (const FamilyHandle& h : handles_of(now, drawn_pattern(now))) {
        ++handles;
        const Parameter* p = family.parameter(h.parameter);
        QVERIFY(p && p->type != ParameterType::integer && p->type != ParameterType::choice);
        const double step = 1e-4 * std::max(1.0, std::abs(h.value)) * (h.value + 1e-3 > h.most ? -1 : 1);
        SizedFamily other = now;
        other.choice.values[h.parameter] = h.value + step;
        const Point wanted = h.at + step * h.per_unit;
        double nearest = 1e300;
        for (const Point& v : drawn_pattern(other).healed.pattern.vertices)
          nearest = std::min(nearest, (v - wanted).norm());
        QVERIFY2(nearest < 1e-4 + 0.02 * std::abs(step) * h.per_unit.norm(),
                 qPrintable(QString("%1 %2: %3").arg(family.name.c_str(), h.parameter.c_str()).arg(nearest)));
        QVERIFY(near(h.value_at(wanted), std::clamp(h.value + step, h.least, h.most), 1e-9));
        QVERIFY(h.value_at(h.at + 1e9 * h.per_unit) <= h.most);
      }
    }
    qInfo("%d handles", handles);
    QVERIFY(handles >= 12);
  }

  void the_nearest_sheet_of_the_shelf() {
    std::vector<Stock> shelf = generic_stocks();
    const auto of = [&](double w, double h, const char* wanted) { return nearest_sheet(shelf, w, h, wanted); };
    QCOMPARE(of(240, 240, "Two-coloured square paper")->stock.name, std::string("Two-coloured square paper"));
    QVERIFY(near(of(240, 240, "Two-coloured square paper")->left_over, 1 - 240.0 * 240 / (350 * 350), 1e-12));
    // Too large for the wanted one: the smallest that holds it.
    QCOMPARE(of(420, 600, "Two-coloured square paper")->stock.name, std::string("Foil-backed paper"));
    const auto four = of(350, 500, "Kraft wrapping");
    QVERIFY(four && four->pieces == 4 && near(four->left_over, 0, 1e-12));
    QVERIFY(of(990, 690, "Kraft wrapping")->turned);
    QVERIFY(!of(1100, 50, "Kraft wrapping"));
    QVERIFY(!of(0, 50, "Kraft wrapping"));
    // Where sheets are counted, what is used up is not offered, unless it is what was asked for.
    shelf[6].sheets = 3;
    QCOMPARE(of(420, 600, "Light card, none")->stock.name, std::string("Kraft wrapping"));
    QCOMPARE(of(420, 600, "Light card")->stock.name, std::string("Light card"));
    Stock odd = shelf[0];
    odd.width_mm = 0;
    QVERIFY(!checked(odd));
    odd.height_mm = 0;
    QVERIFY(checked(odd).ok());
  }
};

UC_TEST(SizingTest)
#include "sizing_test.moc"
