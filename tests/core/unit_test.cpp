// Units: counts by Euler's formula, figures against their closed forms, colours and orders checked by code of their
// own.
#include "runner.h"

#include "io/units_json.h"

#include "solid/expression.h"
#include "solid/named.h"
#include "unit/unit_plan.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <functional>
#include <set>

using namespace uc;

namespace {

UnitPlan plan(const std::string& family, const std::string& solid, std::optional<UnitSheet> sheet = {}, int colours = 1,
              std::optional<double> finished = {}) {
  UnitWish w;
  w.family = family;
  w.solid = solid;
  w.sheet = sheet;
  w.colours = colours;
  w.finished_mm = finished;
  auto made = unit_plan(w);
  if (!made) qFatal("%s", made.error().c_str());
  return std::move(made).value();
}
QString refused(const std::string& family, const std::string& solid, int colours = 1) {
  UnitWish w;
  w.family = family;
  w.solid = solid;
  w.colours = colours;
  const auto made = unit_plan(w);
  return made ? QString() : QString::fromStdString(made.error());
}
bool about(double a, double b, double by = 1e-9) { return std::abs(a - b) < by; }

} // namespace

class UnitTest : public QObject {
  Q_OBJECT
private slots:
  void counts_follow_euler_data() {
    QTest::addColumn<QString>("family");
    QTest::addColumn<QString>("solid");
    QTest::addColumn<int>("units");
    QTest::addColumn<int>("joints");
    QTest::addColumn<int>("rings");
    for (const auto& [f, s, u, j, r] :
         {std::tuple{"parallelogram", "octahedron", 12, 24, 14}, std::tuple{"parallelogram", "icosahedron", 30, 60, 32},
          std::tuple{"half-square-star", "icosahedron", 30, 60, 32},
          std::tuple{"zigzag-strip", "dodecahedron", 30, 60, 32},
          std::tuple{"zigzag-strip", "truncated-icosahedron", 90, 180, 92},
          std::tuple{"rhombic", "rhombic-dodecahedron", 12, 24, 14}, std::tuple{"strip-and-clip", "cube", 18, 24, 8},
          std::tuple{"triangle-tabs", "icosahedron", 20, 30, 12},
          std::tuple{"pentagon-tabs", "dodecahedron", 12, 30, 20}, std::tuple{"box-corner", "cube", 8, 12, 6}})
      QTest::addRow("%s %s", f, s) << QString(f) << QString(s) << u << j << r;
  }
  void counts_follow_euler() {
    QFETCH(QString, family);
    QFETCH(QString, solid);
    QFETCH(int, units);
    QFETCH(int, joints);
    QFETCH(int, rings);
    const UnitPlan p = plan(family.toStdString(), solid.toStdString());
    QCOMPARE(static_cast<int>(p.graph.units.size()), units);
    QCOMPARE(static_cast<int>(p.graph.joints.size()), joints);
    QCOMPARE(p.assembly.back().rings_closed, rings);
    QCOMPARE(static_cast<int>(p.assembly.size()), units);
    std::set<UnitId> added;
    int closed = 0;
    std::set<std::array<UnitId, 2>> joined(p.graph.joints.begin(), p.graph.joints.end());
    for (const AssemblyStep& s : p.assembly) {
      bool meets = added.empty();
      for (const UnitId v : added) meets = meets || joined.contains({std::min(v, s.add), std::max(v, s.add)});
      QVERIFY(meets && added.insert(s.add).second);
      for (const int r : s.closes) {
        const auto& ring = p.graph.rings[static_cast<std::size_t>(r)].units;
        QVERIFY(std::all_of(ring.begin(), ring.end(), [&](UnitId u) { return added.contains(u); }));
        QVERIFY(std::find(ring.begin(), ring.end(), s.add) != ring.end());
      }
      closed += static_cast<int>(s.closes.size());
      QCOMPARE(s.rings_closed, closed);
    }
    // Neighbours in a ring join.
    for (const UnitRing& ring : p.graph.rings)
      for (std::size_t i = 0; i < ring.units.size(); ++i) {
        const UnitId a = ring.units[i];
        const UnitId b = ring.units[(i + 1) % ring.units.size()];
        if (p.graph.units[static_cast<std::size_t>(a)].kind != Unit::Kind::edge)
          QVERIFY(joined.contains({std::min(a, b), std::max(a, b)}));
      }
    // Every unit is cut once, inside its sheet, and no two pieces of a sheet overlap.
    std::set<int> cut;
    for (const UnitCut& c : p.cutting.pieces) {
      QVERIFY(cut.insert(c.unit).second && c.sheet < p.cutting.sheets);
      QVERIFY(c.at_mm.x() + c.size_mm.x() < std::max(p.sheet.width_mm, p.sheet.height_mm) + 1e-6);
      for (const UnitCut& d : p.cutting.pieces) {
        if (d.unit == c.unit || d.sheet != c.sheet) continue;
        const bool apart =
            c.at_mm.x() + c.size_mm.x() < d.at_mm.x() + 1e-9 || d.at_mm.x() + d.size_mm.x() < c.at_mm.x() + 1e-9 ||
            c.at_mm.y() + c.size_mm.y() < d.at_mm.y() + 1e-9 || d.at_mm.y() + d.size_mm.y() < c.at_mm.y() + 1e-9;
        QVERIFY(apart);
      }
    }
    QCOMPARE(static_cast<int>(cut.size()), units);
  }

  void sizes_have_their_closed_forms() {
    const UnitPlan star = plan("parallelogram", "octahedron", UnitSheet{100, 100});
    QVERIFY(about(star.edge_mm, 50));
    // Opposite apexes of the pyramids on an octahedron are farther from each other than its own corners.
    const double apex =
        50 * (1 / std::sqrt(6.0) + 1 / std::sqrt(6.0)); // face's distance a / sqrt 6, apex height a / sqrt 6
    QVERIFY(about(star.diameter_mm, 2 * apex, 1e-6));
    const UnitPlan flat = plan("rhombic", "rhombic-dodecahedron", UnitSheet{100, 100 * std::sqrt(2.0)});
    QVERIFY(about(flat.edge_mm, std::hypot(100, 100 * std::sqrt(2.0)) / 2) && flat.warnings.empty());
    const UnitPlan strips = plan("strip-and-clip", "cube", UnitSheet{300, 20});
    QVERIFY(about(strips.edge_mm, 20) && about(strips.diameter_mm, 20 * std::sqrt(3.0)));
    double squares = 0;
    for (const Unit& u : strips.graph.units) squares += u.width_mm / u.height_mm;
    QVERIFY(about(squares, 8 * 12)); // 8E
    for (const char* family : {"parallelogram", "zigzag-strip", "strip-and-clip", "box-corner"}) {
      const std::string solid = std::string(family) == "parallelogram" ? "icosahedron" : "cube";
      const UnitPlan wanted = plan(family, solid, {}, 1, 123);
      QVERIFY2(about(wanted.diameter_mm, 123, 1e-9), family);
      const UnitPlan again = plan(family, solid, wanted.sheet);
      QVERIFY2(about(again.diameter_mm, 123, 1e-9), family);
    }
    QCOMPARE(plan("half-square-star", "icosahedron").cutting.sheets, 15);
    QCOMPARE(plan("half-square-star", "icosahedron").cutting.cuts, 15);
  }

  void a_wrong_ratio_misses_as_derived() {
    // d = 2 atan(1 / r) - 70.529: 4d at the corners of four, -3d at those of three.
    const UnitPlan p = plan("rhombic", "rhombic-dodecahedron", UnitSheet{215.9, 279.4});
    QCOMPARE(p.warnings.size(), std::size_t{2});
    const QString all = QString::fromStdString(p.warnings[0] + p.warnings[1]);
    QVERIFY2(all.contains("19.44 degrees at corners of 4") && all.contains("-14.58 degrees at corners of 3"),
             qPrintable(all));
    const UnitPlan q = plan("rhombic", "rhombic-dodecahedron", UnitSheet{100, 150});
    const QString other = QString::fromStdString(q.warnings[0] + q.warnings[1]);
    QVERIFY2(other.contains("-12.59 degrees at corners of 4") && other.contains("9.45 degrees at corners of 3"),
             qPrintable(other));
    QVERIFY(
        plan("rhombic", "rhombic-triacontahedron", UnitSheet{100, 100 * (1 + std::sqrt(5.0)) / 2}).warnings.empty());
  }

  void colours_differ_at_joints_and_are_shared_out_data() {
    QTest::addColumn<QString>("family");
    QTest::addColumn<QString>("solid");
    QTest::addColumn<int>("colours");
    for (const auto& [f, s, c] :
         {std::tuple{"parallelogram", "icosahedron", 3}, std::tuple{"parallelogram", "icosahedron", 5},
          std::tuple{"parallelogram", "octahedron", 3}, std::tuple{"zigzag-strip", "dodecahedron", 3},
          std::tuple{"zigzag-strip", "truncated-icosahedron", 3},
          std::tuple{"zigzag-strip", "truncated-icosahedron", 5}, std::tuple{"triangle-tabs", "icosahedron", 4},
          std::tuple{"pentagon-tabs", "dodecahedron", 4}, std::tuple{"box-corner", "cube", 2},
          std::tuple{"zigzag-strip", "dual(geodesic:3,0)", 3}})
      QTest::addRow("%s %s %d", f, s, c) << QString(f) << QString(s) << c;
  }
  void colours_differ_at_joints_and_are_shared_out() {
    QFETCH(QString, family);
    QFETCH(QString, solid);
    QFETCH(int, colours);
    if (solid.startsWith("dual")) { // a dual of a geodesic solid has edges of several lengths: the graph alone
      const auto p = parse_solid(solid.toStdString());
      const UnitGraph g = unit_graph(*p, *find_unit_family("zigzag-strip"), {75, 75});
      const Colouring c = coloured(g, {colours});
      for (const auto& [a, b] : g.joints)
        QVERIFY(c.colour[static_cast<std::size_t>(a)] != c.colour[static_cast<std::size_t>(b)]);
      return;
    }
    const UnitPlan p = plan(family.toStdString(), solid.toStdString(), {}, colours);
    std::vector<int> share(static_cast<std::size_t>(colours), 0);
    for (const int c : p.colours.colour) ++share[static_cast<std::size_t>(c)];
    for (const auto& [a, b] : p.graph.joints)
      QVERIFY(p.colours.colour[static_cast<std::size_t>(a)] != p.colours.colour[static_cast<std::size_t>(b)]);
    QVERIFY(*std::max_element(share.begin(), share.end()) - *std::min_element(share.begin(), share.end()) <= 1);
    QVERIFY(p.colours.equal_shares);
  }

  void too_few_colours_are_proved_so() {
    QVERIFY(refused("parallelogram", "icosahedron", 2).contains("3 are the fewest"));
    QVERIFY(refused("triangle-tabs", "tetrahedron", 3).contains("4 are the fewest"));
    const auto p = parse_solid("icosahedron");
    const UnitGraph g = unit_graph(*p, *find_unit_family("parallelogram"), {75, 75});
    QCOMPARE(**fewest_colours(g), 3);
    QVERIFY(coloured(g, {3}).colour == coloured(g, {3}).colour);
  }

  void impossible_pairs_say_what_would_work_data() {
    QTest::addColumn<QString>("family");
    QTest::addColumn<QString>("solid");
    QTest::addColumn<QString>("says");
    for (const auto& [f, s, w] :
         {std::tuple{"parallelogram", "dodecahedron", "5 x 90 degrees"},
          std::tuple{"zigzag-strip", "icosahedron", "corner with 5"}, std::tuple{"rhombic", "cube", ""},
          std::tuple{"rhombic", "icosahedron", "rhombs"}, std::tuple{"box-corner", "octahedron", "take cube"},
          std::tuple{"triangle-tabs", "cube", "3 sides"}, std::tuple{"pentagon-tabs", "icosahedron", "dodecahedron"},
          std::tuple{"strip-and-clip", "triakis-tetrahedron", "equally long"},
          std::tuple{"origami", "cube", "unit family"}, std::tuple{"parallelogram", "kis(", "character"}})
      QTest::addRow("%s %s", f, s) << QString(f) << QString(s) << QString(w);
  }
  void impossible_pairs_say_what_would_work() {
    QFETCH(QString, family);
    QFETCH(QString, solid);
    QFETCH(QString, says);
    const QString why = refused(family.toStdString(), solid.toStdString());
    if (says.isEmpty()) { // a cube's faces are rhombs with right angles: the sheet misses by far, and says so
      QVERIFY(why.isEmpty());
      return;
    }
    QVERIFY2(why.contains(says), qPrintable(why));
  }

  void rings_close_early() {
    // The first ring of three closes with the third unit, and thirty units close two rings every three units or so.
    const UnitPlan p = plan("parallelogram", "icosahedron");
    QCOMPARE(p.assembly[2].rings_closed, 1);
    QVERIFY(p.assembly[14].rings_closed >= 8);
    const auto big = parse_solid("geodesic:5,3");
    const UnitGraph g = unit_graph(*big, *find_unit_family("parallelogram"), {75, 75});
    QVERIFY(g.units.size() > 1000);
    QCOMPARE(assembly_order(g).back().rings_closed, static_cast<int>(g.rings.size()));
  }

  void a_unit_of_ones_own_is_planned_like_those_that_ship() {
    OwnFamily own;
    own.name = "my-edge";
    own.title = "My edge";
    own.edge_share = 0.5;
    own.ratio = 2;
    own.valences = {5, 3, 5};
    own.least_dihedral_deg = 110;
    own.most_dihedral_deg = 130;
    own.how = {"Fold it.", "Turn it."};
    const auto ok = checked(own);
    QVERIFY(ok.ok());
    QCOMPARE(ok->valences, (std::vector<int>{3, 5}));
    const auto again = parse_own_family(json_of(*ok).dump());
    QVERIFY(again && *again == *ok);
    UnitWish wish;
    wish.own = {*ok};
    wish.family = "my-edge";
    wish.solid = "icosahedron";
    wish.sheet = UnitSheet{60, 120};
    const auto plan = unit_plan(wish);
    QVERIFY2(plan, plan ? "" : plan.error().c_str());
    QCOMPARE(plan->graph.units.size(), std::size_t{30});
    QVERIFY(std::abs(plan->edge_mm - 30) < 1e-9);
    // The icosahedron's edges are 138.19 degrees: 8.19 more than it takes.
    QVERIFY(std::abs(plan->worst_miss_deg - (138.189685 - 130)) < 1e-4);
    wish.solid = "octahedron"; // four edges at a corner
    const auto refused = unit_plan(wish);
    QVERIFY(!refused && refused.error().find("this unit takes 3, 5") != std::string::npos);
    wish.family = "nobody's";
    QVERIFY(unit_plan(wish).error().find("my-edge") != std::string::npos);
    for (const auto& spoil : std::vector<std::function<void(OwnFamily&)>>{
             [](OwnFamily& f) { f.name = "My edge"; }, [](OwnFamily& f) { f.name = "rhombic"; },
             [](OwnFamily& f) { f.ratio = 0; }, [](OwnFamily& f) { f.edge_share = 100; },
             [](OwnFamily& f) { f.faces = {2}; }, [](OwnFamily& f) { f.least_dihedral_deg = 140; },
             [](OwnFamily& f) { f.folds = 0; }, [](OwnFamily& f) { f.thickest_mm = std::nan(""); }}) {
      OwnFamily bad = own;
      spoil(bad);
      QVERIFY(!checked(bad));
    }
    QVERIFY(!parse_own_family("{\"name\":\"x\",\"ratio\":-1}"));
    QVERIFY(!parse_own_family("[]"));
  }
};

UC_TEST(UnitTest)
#include "unit_test.moc"
