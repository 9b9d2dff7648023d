// Pieces on sheets: inside them, apart, no cut through one, by code of the tests' own; how units look in space; what
// gapes.
#include "runner.h"

#include "precision/hand_profile.h"
#include "solid/expression.h"
#include "unit/cutting.h"
#include "unit/flat_map.h"
#include "unit/gape.h"
#include "unit/unit_handout.h"
#include "unit/unit_programme.h"
#include "unit/unit_shape.h"

#include <Eigen/Geometry>
#include <QtTest>

#include <cmath>
#include <map>
#include <random>
#include <set>

using namespace uc;

namespace {

bool overlap(const Point& a, const Point& a_size, const Point& b, const Point& b_size) {
  const auto apart = [](double low, double size, double other, double other_size) {
    return low + size <= other + 1e-9 || other + other_size <= low + 1e-9;
  };
  return !apart(a.x(), a_size.x(), b.x(), b_size.x()) && !apart(a.y(), a_size.y(), b.y(), b_size.y());
}

/// Whether a cut runs through the inside of a piece.
bool cuts_through(const Segment& cut, const Point& at, const Point& size) {
  const Point low = cut.from.cwiseMin(cut.to);
  const Point high = cut.from.cwiseMax(cut.to);
  constexpr double e = 1e-6;
  return high.x() > at.x() + e && low.x() < at.x() + size.x() - e && high.y() > at.y() + e &&
         low.y() < at.y() + size.y() - e;
}

UnitPlan planned(const UnitWish& wish) {
  auto plan = unit_plan(wish);
  if (!plan) qFatal("%s", plan.error().c_str());
  return std::move(plan).value();
}
UnitWish wish_for(const char* family, const char* solid) {
  UnitWish wish;
  wish.family = family;
  wish.solid = solid;
  return wish;
}

} // namespace

class CuttingTest : public QObject {
  Q_OBJECT
private slots:
  void layouts_hold_what_fits() {
    // By hand: 75 x 37.5 on A4 gives two below and three rows of five turned ones.
    QCOMPARE(best_layout({75, 37.5}, {210, 297}, 0, true).at_mm.size(), std::size_t{17});
    QCOMPARE(best_layout({75, 37.5}, {210, 297}, 0, false).at_mm.size(), std::size_t{14});
    QCOMPARE(best_layout({75, 75}, {75, 75}, 0, true).lines.size(), std::size_t{0});
    QCOMPARE(best_layout({75, 75}, {150, 75}, 0, true).lines.size(), std::size_t{1});
    QCOMPARE(best_layout({80, 80}, {75, 200}, 0, true).at_mm.size(), std::size_t{0});
    QCOMPARE(best_layout({75, 75}, {170, 170}, 5, true).at_mm.size(), std::size_t{4});
    QCOMPARE(best_layout({75, 75}, {170, 170}, 11, true).at_mm.size(), std::size_t{1});
  }

  /// Twenty lists of 360 pieces: sheets against the least that any way of cutting could do with.
  void lists_come_near_the_bound() {
    int sheets = 0;
    int bound = 0;
    const std::pair<Point, Point> cases[] = {
        {{75, 37.5}, {210, 297}},   {{60, 60}, {210, 297}},    {{50, 100}, {297, 420}},    {{45, 63.64}, {297, 420}},
        {{75, 106.07}, {500, 700}}, {{40, 120}, {350, 350}},   {{62, 31}, {350, 350}},     {{90, 127.3}, {700, 1000}},
        {{55, 89}, {500, 700}},     {{100, 33.3}, {297, 420}}, {{80, 113.14}, {297, 420}}, {{37.5, 75}, {350, 350}},
        {{66, 93.3}, {700, 1000}},  {{48, 48}, {297, 420}},    {{70, 140}, {700, 1000}},   {{52, 73.5}, {210, 297}},
        {{33, 99}, {500, 700}},     {{85, 42.5}, {500, 700}},  {{58, 82}, {640, 980}},     {{44, 71.2}, {350, 350}}};
    for (const auto& [piece, sheet] : cases) {
      UnitGraph graph;
      for (int i = 0; i < 360; ++i) graph.units.push_back({Unit::Kind::edge, i, {}, piece.x(), piece.y()});
      const auto list = cut_from_sheets(graph, std::vector<int>(360, 0), sheet, 0, true);
      QVERIFY(list.ok());
      qInfo("%g x %g from %g x %g: %d sheets, bound %d", piece.x(), piece.y(), sheet.x(), sheet.y(), list->sheets,
            list->bound);
      QVERIFY(list->sheets >= list->bound);
      sheets += list->sheets;
      bound += list->bound;
      for (const UnitCut& c : list->pieces)
        for (const Segment& cut : list->lines[static_cast<std::size_t>(c.sheet)])
          QVERIFY(!cuts_through(cut, c.at_mm, c.size_mm));
    }
    qInfo("%d sheets in all, bound %d: %.1f %% above", sheets, bound, 100.0 * (sheets - bound) / bound);
    QVERIFY(sheets <= 1.02 * bound);
  }

  void random_layouts_are_sound() {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> piece(8, 60);
    std::uniform_real_distribution<double> sheet(60, 300);
    for (int round = 0; round < 300; ++round) {
      const Point size{piece(random), piece(random)};
      const Point room{sheet(random), sheet(random)};
      const double margin = round % 3 == 0 ? 4 : 0;
      const bool turn = round % 2 == 0;
      const PieceLayout l = best_layout(size, room, margin, turn);
      const auto size_of = [&](std::size_t i) { return l.turned[i] ? Point{size.y(), size.x()} : size; };
      for (std::size_t i = 0; i < l.at_mm.size(); ++i) {
        const Point far = l.at_mm[i] + size_of(i);
        QVERIFY(l.at_mm[i].minCoeff() >= margin - 1e-9);
        QVERIFY(far.x() <= room.x() - margin + 1e-6 && far.y() <= room.y() - margin + 1e-6);
        QVERIFY(turn || !l.turned[i]);
        for (std::size_t k = 0; k < i; ++k) QVERIFY(!overlap(l.at_mm[i], size_of(i), l.at_mm[k], size_of(k)));
        for (const Segment& cut : l.lines) QVERIFY(!cuts_through(cut, l.at_mm[i], size_of(i)));
      }
      // Never fewer than plain rows and columns give.
      const auto plain = [&](const Point& p) {
        return static_cast<std::size_t>(std::floor((room.x() - 2 * margin) / p.x() + 1e-9)) *
               static_cast<std::size_t>(std::floor((room.y() - 2 * margin) / p.y() + 1e-9));
      };
      QVERIFY(l.at_mm.size() >= plain(size));
      QVERIFY(!turn || l.at_mm.size() >= plain({size.y(), size.x()}));
    }
  }

  void sheets_hold_one_colour() {
    for (const auto& [family, solid, from] : {std::tuple{"half-square-star", "icosahedron", UnitSheet{210, 297}},
                                              {"parallelogram", "snub-cube", {297, 420}},
                                              {"strip-and-clip", "truncated-octahedron", {297, 210}},
                                              {"strip-and-clip", "cube", {300, 20}}}) {
      UnitWish wish = wish_for(family, solid);
      if (std::string(family) == "strip-and-clip") wish.sheet = UnitSheet{300, 20};
      wish.from = from;
      wish.colours = 3;
      const UnitPlan plan = planned(wish);
      const CutList& c = plan.cutting;
      std::set<int> units;
      for (const UnitCut& p : c.pieces) {
        QVERIFY(units.insert(p.unit).second);
        QCOMPARE(c.colours[static_cast<std::size_t>(p.sheet)], plan.colours.colour[static_cast<std::size_t>(p.unit)]);
        QVERIFY(p.at_mm.minCoeff() >= -1e-9);
        QVERIFY((p.at_mm + p.size_mm - c.sheet_mm).maxCoeff() < 1e-6);
        for (const UnitCut& q : c.pieces)
          QVERIFY(q.unit == p.unit || q.sheet != p.sheet || !overlap(p.at_mm, p.size_mm, q.at_mm, q.size_mm));
        for (const Segment& cut : c.lines[static_cast<std::size_t>(p.sheet)])
          QVERIFY(!cuts_through(cut, p.at_mm, p.size_mm));
      }
      QCOMPARE(units.size(), plan.graph.units.size());
      QVERIFY(c.sheets >= c.bound);
      QCOMPARE(static_cast<int>(c.colours.size()), c.sheets);
      std::size_t lines = 0;
      for (const auto& l : c.lines) lines += l.size();
      QCOMPARE(static_cast<int>(lines), c.cuts);
      // Drawn: each sheet and each piece once.
      QCOMPARE(cut_figure(plan, palette_of(plan, {})).patches.size(),
               static_cast<std::size_t>(c.sheets) + plan.graph.units.size());
    }
    UnitWish small = wish_for("parallelogram", "octahedron");
    small.from = UnitSheet{50, 50};
    const auto none = unit_plan(small);
    QVERIFY(!none && none.error().find("does not fit on a sheet of 50 x 50 mm") != std::string::npos);
  }

  void units_stand_where_the_solid_has_them() {
    for (const auto& [family, solid, facets] : {std::tuple{"parallelogram", "icosahedron", 60},
                                                {"zigzag-strip", "dodecahedron", 120},
                                                {"rhombic", "rhombic-dodecahedron", 24},
                                                {"box-corner", "cube", 48},
                                                {"strip-and-clip", "cube", 60}}) {
      const UnitPlan plan = planned(wish_for(family, solid));
      const UnitShape shape = unit_shape(plan);
      QCOMPARE(static_cast<int>(shape.facets.size()), facets);
      std::map<int, int> of;
      for (const auto& f : shape.facets) {
        ++of[f.unit];
        const auto at = [&](std::size_t i) { return shape.vertices[static_cast<std::size_t>(f.corners[i])]; };
        const Point3 normal = (at(1) - at(0)).cross(at(2) - at(0));
        QVERIFY2(normal.dot(at(0) + at(1) + at(2)) > 0, family); // seen from outside
      }
      QCOMPARE(of.size(), plan.graph.units.size());
      if (std::string(family) != "parallelogram") continue;
      // Right isosceles facets: the hypotenuse is the edge, the legs edge / sqrt 2.
      for (const auto& f : shape.facets) {
        std::vector<double> sides;
        for (std::size_t i = 0; i < 3; ++i)
          sides.push_back((shape.vertices[static_cast<std::size_t>(f.corners[i])] -
                           shape.vertices[static_cast<std::size_t>(f.corners[(i + 1) % 3])])
                              .norm());
        std::sort(sides.begin(), sides.end());
        QVERIFY(std::abs(sides[2] - plan.edge_mm) < 1e-9);
        QVERIFY(std::abs(sides[0] - plan.edge_mm / std::sqrt(2.0)) < 1e-9 && std::abs(sides[0] - sides[1]) < 1e-9);
      }
    }
  }

  void places_on_the_map_do_not_hide_one_another() {
    for (const auto& [family, solid] : {std::pair{"parallelogram", "icosahedron"},
                                        {"zigzag-strip", "dodecahedron"},
                                        {"parallelogram", "snub-cube"}}) {
      const UnitPlan plan = planned(wish_for(family, solid));
      const UnitMap map = unit_map(plan, {});
      for (const auto& place : map.units) {
        QVERIFY(signed_area(place.outline) > 0);
        Point middle = Point::Zero();
        for (const Point& p : place.outline) middle += p / 4.0;
        // The middle of a bar lies in no other.
        int covers = 0;
        for (const auto& other : map.units) {
          bool inside = true;
          for (std::size_t i = 0; i < 4; ++i) {
            const Point side = other.outline[(i + 1) % 4] - other.outline[i];
            const Point to = middle - other.outline[i];
            inside = inside && side.x() * to.y() - side.y() * to.x() > 0;
          }
          covers += inside;
        }
        QCOMPARE(covers, 1);
      }
    }
  }

  void gapes_add_up() {
    HandProfile hand;
    hand.sigma_mm = 0.3;
    UnitWish wish = wish_for("rhombic", "rhombic-dodecahedron");
    wish.sheet = UnitSheet{100, 100 * std::sqrt(2.0)};
    const Gape fits = gape_of(planned(wish), hand, 0.1);
    QCOMPARE(fits.ring, 4);
    QVERIFY(std::abs(fits.hand_mm - 0.3 * std::sqrt(2.0) * 2) < 1e-9);
    QVERIFY(fits.misfit_mm < 0.05 && std::abs(fits.layers_mm - 0.4) < 1e-9);
    // 1 : 1.5 misses by 12.59 degrees at its four-valent corners: a chord of the edge.
    wish.sheet = UnitSheet{100, 150};
    const UnitPlan other = planned(wish);
    const Gape misses = gape_of(other, hand, 0.1);
    const double chord = 2 * other.edge_mm * std::sin(12.5883 / 2 * 3.14159265358979 / 180);
    QVERIFY2(std::abs(misses.misfit_mm - chord) < 0.02, qPrintable(QString("%1 %2").arg(misses.misfit_mm).arg(chord)));
    QVERIFY(std::abs(misses.together_mm - std::hypot(misses.hand_mm, misses.misfit_mm)) < 1e-12);
  }
};

UC_TEST(CuttingTest)
#include "cutting_test.moc"
