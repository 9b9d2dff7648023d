// Relief pleats within outlines on the grid and its diagonals: every vertex but the outlines' corners could lie flat,
// pleats are level and upright in turn, and outlines that cannot be pleated are refused with a reason.
#include "form/local_proof.h"
#include "pattern/family.h"
#include "pattern/relief_pleats.h"
#include "runner.h"
#include "support.h"

#include <QtTest>

#include <cmath>
#include <map>
#include <random>
#include <set>

using namespace uc;

namespace {

const Polygon relief_sheet{{0, 0}, {240, 0}, {240, 240}, {0, 240}};

DrawnPattern drawn_by(const std::string& rule, int count = 24) {
  PatternDesign d;
  d.count = count;
  d.rules = {rule};
  return drawn_pattern(d, relief_sheet);
}

/// "18,12 12,18 6,12 / 17,12 12,17 7,12": the corners of each in turn.
std::vector<Polygon> outlines_at(const QString& corners) {
  std::vector<Polygon> out;
  for (const QString& one : corners.split(" / ")) {
    out.emplace_back();
    for (const QString& c : one.split(' '))
      out.back().emplace_back(c.section(',', 0, 0).toDouble(), c.section(',', 1).toDouble());
  }
  return out;
}

/// How many outlines lie round a place, by the winding of each seen from there.
int outlines_round(const Point& p, const std::vector<Polygon>& outlines) {
  int round = 0;
  for (const Polygon& o : outlines) {
    double turned = 0;
    for (std::size_t i = 0; i < o.size(); ++i) {
      const Point a = o[i] - p;
      const Point b = o[(i + 1) % o.size()] - p;
      turned += std::atan2(a.x() * b.y() - a.y() * b.x(), a.dot(b));
    }
    round += std::abs(turned) > 3;
  }
  return round;
}

/// Nothing is wrong at any vertex but those at corners, 10 mm a cell; says what else.
QString wrong_beside_corners(const CreasePattern& p, const std::vector<Polygon>& outlines) {
  for (const auto& v : local_violations(p, graph_of(p))) {
    bool corner = false;
    for (const Polygon& o : outlines)
      for (const Point& c : o)
        corner = corner || (10 * c - p.vertices[static_cast<std::size_t>(*v.vertex)]).norm() < 1e-6;
    if (!corner) return QString("rule broken at %1").arg(*v.vertex);
  }
  return {};
}

} // namespace

class ReliefTest : public QObject {
  Q_OBJECT

private slots:
  void outlines_data() {
    QTest::addColumn<QString>("rule");
    QTest::addColumn<bool>("directed");   // all of it; else a corner faces a side
    QTest::addColumn<QString>("corners"); // of all outlines, those of each in turn, worked out by hand
    QTest::newRow("square") << "relief 18,12 12,18 6,12 12,6" << true << "18,12 12,18 6,12 12,6";
    QTest::newRow("square the other way round") << "relief 12,6 6,12 12,18 18,12" << true << "18,12 12,18 6,12 12,6";
    QTest::newRow("rectangle") << "relief 16,10 8,18 4,14 12,6" << true << "16,10 8,18 4,14 12,6";
    QTest::newRow("two squares") << "relief 20,12 12,20 4,12 12,4 nested 2 step 3" << true
                                 << "20,12 12,20 4,12 12,4 / 17,12 12,17 7,12 12,7";
    QTest::newRow("two rectangles") << "relief 18,10 8,20 4,16 14,6 nested 2 step 1" << false
                                    << "18,10 8,20 4,16 14,6 / 17,10 8,19 5,16 14,7";
    QTest::newRow("corner cut out") << "relief 18,10 13,15 10,12 6,16 4,14 13,5 nested 1" << false
                                    << "18,10 13,15 10,12 6,16 4,14 13,5";
    QTest::newRow("a corner of no turn") << "relief 18,12 15,15 12,18 6,12 12,6" << true << "18,12 12,18 6,12 12,6";
  }
  void outlines() {
    QFETCH(QString, rule);
    QFETCH(QString, corners);
    QFETCH(bool, directed);
    const std::vector<Polygon> outlines = outlines_at(corners);
    const DrawnPattern drawn = drawn_by(rule.toStdString());
    QVERIFY2(drawn.wrong.empty(), drawn.wrong.empty() ? "" : drawn.wrong[0].sentence.c_str());
    const CreasePattern& p = drawn.healed.pattern;
    const QString wrong = wrong_beside_corners(p, outlines);
    QVERIFY2(wrong.isEmpty(), qPrintable(wrong));
    double level = 0;
    double upright = 0;
    double slanted = 0;
    int undirected = 0;
    for (std::size_t e = 0; e < p.edges.size(); ++e) {
      if (p.edges[e].kind == EdgeKind::raw) continue;
      const Segment s = p.segment(CreaseId(e));
      const bool has_direction = p.edges[e].kind == EdgeKind::mountain || p.edges[e].kind == EdgeKind::valley;
      const Point d = (s.to - s.from).cwiseAbs() / s.length();
      const int round = outlines_round(s.middle() / 10, outlines);
      if (d.y() < 1e-9) {
        level += s.length();
        QVERIFY(round % 2 == 0 && has_direction);
      } else if (d.x() < 1e-9) {
        upright += s.length();
        QVERIFY(round % 2 == 1 && has_direction);
      } else {
        slanted += s.length();
        QVERIFY(std::abs(d.x() - d.y()) < 1e-9);
        undirected += !has_direction;
      }
    }
    QCOMPARE(undirected == 0, directed);
    // Pleats a cell apart measure the area over the cell: half-way between whole cells their sum is exact.
    double area = 0;
    double length = 0;
    double sign = 1;
    for (const Polygon& o : outlines) {
      area += sign * signed_area(o);
      sign = -sign;
      for (std::size_t i = 0; i < o.size(); ++i) length += (o[(i + 1) % o.size()] - o[i]).norm();
    }
    QVERIFY2(std::abs(upright - 10 * area) < 1e-6, qPrintable(QString("%1 %2").arg(upright).arg(10 * area)));
    QVERIFY(std::abs(level - 10 * (576 - area)) < 1e-6);
    QVERIFY(std::abs(slanted - 10 * length) < 1e-6);
  }

  void whatever_shape_the_family_draws_breaks_rules_at_corners_only() {
    std::mt19937 random(3);
    const auto any = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
    int drawn_ones = 0;
    for (int round = 0; round < 300; ++round) {
      const int radius = any(2, 11);
      ParameterValues values{{"count", 24},          {"radius", radius},  {"longer", any(0, 11 - radius)},
                             {"corners", any(0, 2)}, {"cut", any(1, 2)},  {"outlines", any(1, 3)},
                             {"step", any(1, 3)},    {"lines", any(0, 1)}};
      const DrawnPattern drawn = drawn_pattern(family_design("relief", values), relief_sheet);
      if (!drawn.wrong.empty()) {
        QVERIFY(!drawn.wrong[0].sentence.empty());
        continue;
      }
      ++drawn_ones;
      const CreasePattern& p = drawn.healed.pattern;
      const PatternGraph graph = graph_of(p);
      for (const auto& v : local_violations(p, graph)) {
        int folded = 0;
        for (const PatternEdge& e : p.edges) folded += folds(e.kind) && (e.from == *v.vertex || e.to == *v.vertex);
        QCOMPARE(folded, 2); // two pieces of an outline, and nothing else
      }
    }
    QVERIFY(drawn_ones > 60);
  }

  void level_and_upright_sides_data() {
    QTest::addColumn<QString>("rule");
    QTest::addColumn<QString>("corners"); // of all outlines, those of each in turn, worked out by hand
    QTest::newRow("eight sides") << "relief 16,6 18,8 18,14 16,16 8,16 6,14 6,8 8,6"
                                 << "16,6 18,8 18,14 16,16 8,16 6,14 6,8 8,6";
    QTest::newRow("triangle") << "relief 6,6 18,6 6,18"
                              << "6,6 18,6 6,18";
    QTest::newRow("triangle the other way") << "relief 18,6 18,18 6,18"
                                            << "18,6 18,18 6,18";
    QTest::newRow("square on the grid") << "relief 6,6 18,6 18,16 6,16"
                                        << "6,6 18,6 18,16 6,16";
    QTest::newRow("house") << "relief 6,4 18,4 18,12 12,18 6,12"
                           << "6,4 18,4 18,12 12,18 6,12";
    QTest::newRow("arrow") << "relief 4,9 12,9 12,4 20,12 12,20 12,15 4,15"
                           << "4,9 12,9 12,4 20,12 12,20 12,15 4,15";
    // By hand: a side moves by two cells along the grid; a slanted one and a level one meet 2 + 0 to the side of there.
    QTest::newRow("two of eight sides") << "relief 17,4 20,7 20,17 17,20 7,20 4,17 4,7 7,4 nested 2 step 2"
                                        << "17,4 20,7 20,17 17,20 7,20 4,17 4,7 7,4 / 17,6 18,7 18,17 17,18 7,18 6,17 "
                                           "6,7 7,6";
  }
  /// Against pleats followed one by one from the left edge, turning at slanted sides, and from the right edge where
  /// any come to it.
  void level_and_upright_sides() {
    QFETCH(QString, rule);
    QFETCH(QString, corners);
    const std::vector<Polygon> outlines = outlines_at(corners);
    const DrawnPattern drawn = drawn_by(rule.toStdString());
    QVERIFY2(drawn.wrong.empty(), drawn.wrong.empty() ? "" : drawn.wrong[0].sentence.c_str());
    const CreasePattern& pattern = drawn.healed.pattern;
    const QString wrong = wrong_beside_corners(pattern, outlines);
    QVERIFY2(wrong.isEmpty(), qPrintable(wrong));
    const auto pleated = [&](const Point& at) {
      for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
        if (!folds(pattern.edges[e].kind)) continue;
        const Segment s = pattern.segment(CreaseId(e));
        const Point u = s.to - s.from;
        const double t = u.dot(10 * at - s.from) / u.squaredNorm();
        if (t > 0 && t < 1 && (s.at(t) - 10 * at).norm() < 1e-6) return true;
      }
      return false;
    };
    std::set<std::pair<int, int>> followed; // four times the places a quarter beside the middles of cells
    for (int row = 0; row < 48; ++row) {
      const bool left = row < 24;
      Point p{left ? 0 : 24, row % 24 + 0.5};
      Point d{left ? 0.5 : -0.5, 0};
      if (!left && !pleated({23.75, p.y()})) continue;
      for (int n = 0; n < 400; ++n) {
        p += d;
        if (p.x() >= 24 || p.y() >= 24 || p.y() <= 0 || p.x() <= 0) break;
        for (const Polygon& o : outlines)
          for (std::size_t i = 0; i < o.size(); ++i) {
            const Point a = o[i];
            const Point side = o[(i + 1) % o.size()] - a;
            const Point to = p - a;
            const double along = to.dot(side) / side.squaredNorm();
            if (std::abs(side.x() * to.y() - side.y() * to.x()) > 1e-9 || along < 0 || along > 1) continue;
            if (side.x() * side.y() > 0) d = Point{-d.y(), -d.x()};
            if (side.x() * side.y() < 0) d = Point{d.y(), d.x()};
          }
        // Quarter-way places are on one line only; the middles of cells are where pleats may cross.
        const Point seen = p + d / 2;
        followed.insert({static_cast<int>(std::lround(4 * seen.x())), static_cast<int>(std::lround(4 * seen.y()))});
      }
    }
    // Level places are a quarter beside a middle; upright ones a quarter above it.
    for (int i = 0; i < 24; ++i)
      for (int j = 0; j < 24; ++j)
        for (const auto& [x, y] : {std::pair{4 * i + 1, 4 * j + 2},
                                   {4 * i + 3, 4 * j + 2},
                                   {4 * i + 2, 4 * j + 1},
                                   {4 * i + 2, 4 * j + 3}}) {
          const bool wanted = followed.contains({x, y});
          if ((x == 1 || x == 95) && y % 4 == 2) continue; // before the first step
          QVERIFY2(pleated({x / 4.0, y / 4.0}) == wanted,
                   qPrintable(QString("%1,%2 %3").arg(x / 4.0).arg(y / 4.0).arg(wanted)));
        }
  }

  void all_lines_of_the_grid_can_be_drawn_with_them() {
    const auto lines = [](const char* rule) {
      std::map<EdgeKind, double> sum;
      const CreasePattern p = drawn_by(rule).healed.pattern;
      for (std::size_t e = 0; e < p.edges.size(); ++e) sum[p.edges[e].kind] += p.segment(CreaseId(e)).length();
      return sum;
    };
    auto folded = lines("relief 18,12 12,18 6,12 12,6");
    auto all = lines("relief 18,12 12,18 6,12 12,6 grid");
    QVERIFY(std::abs(folded[EdgeKind::mountain] - all[EdgeKind::mountain]) < 1e-6);
    QVERIFY(std::abs(folded[EdgeKind::valley] - all[EdgeKind::valley]) < 1e-6);
    QVERIFY(folded[EdgeKind::unfolded] == 0);
    // Both families of 24 lines of 240 mm, less the pleats: 10 mm of them for each square of 10 mm.
    QVERIFY(std::abs(all[EdgeKind::unfolded] - (2 * 24 * 240 - 5760)) < 1e-6);
  }

  void what_cannot_be_pleated_is_refused_data() {
    QTest::addColumn<QString>("rule");
    QTest::addColumn<QString>("says");
    QTest::newRow("slope") << "relief 18,12 12,16 6,12 12,6"
                           << "neither level, upright nor at 45 degrees";
    QTest::newRow("slope after a level side") << "relief 18,6 12,12 6,6 12,0 14,0"
                                              << "the rule reflect takes such outlines";
    QTest::newRow("two corners") << "relief 18,6 12,12"
                                 << "write three corners";
    QTest::newRow("no room in a triangle") << "relief 6,6 14,6 6,14 nested 3 step 2"
                                           << "do not fit into each other";
    QTest::newRow("between cells") << "relief 18.5,12 12.5,18 6.5,12 12.5,6"
                                   << "whole cells";
    QTest::newRow("twice") << "relief 18,12 18,12 12,18 6,12 12,6"
                           << "stands there twice";
    QTest::newRow("across itself") << "relief 8,8 16,16 18,14 10,6 4,12 14,22 16,20 6,10"
                                   << "meet";
    QTest::newRow("too many") << "relief 18,12 12,18 6,12 12,6 nested 4 step 2"
                              << "do not fit into each other";
  }
  void what_cannot_be_pleated_is_refused() {
    QFETCH(QString, rule);
    QFETCH(QString, says);
    const DrawnPattern drawn = drawn_by(rule.toStdString());
    QCOMPARE(drawn.wrong.size(), std::size_t{1});
    QVERIFY2(QString::fromStdString(drawn.wrong[0].sentence).contains(says), drawn.wrong[0].sentence.c_str());
  }

  void other_grids_have_no_reliefs() {
    PatternDesign d;
    d.grid = PatternGrid::equilateral;
    d.rules = {"relief 18,12 12,18 6,12 12,6"};
    const DrawnPattern drawn = drawn_pattern(d, relief_sheet);
    QVERIFY(!drawn.wrong.empty() && drawn.wrong[0].sentence.find("square grid") != std::string::npos);
  }
};

UC_TEST(ReliefTest)
#include "relief_test.moc"
