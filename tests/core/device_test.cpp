// Plotters and calipers: what machines are told, and what they say.
#include "runner.h"

#include "device/caliper.h"
#include "device/homography.h"
#include "device/scoring.h"
#include "device/stroke_order.h"
#include "io/plotter_file.h"
#include "io/practice.h"
#include "pattern/family.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <random>

using namespace uc;

namespace {

std::vector<Segment> scattered(int count, unsigned seed) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<double> place(0, 200);
  std::vector<Segment> out;
  for (int i = 0; i < count; ++i) {
    const Point a{place(random), place(random)};
    const Point b{place(random), place(random)};
    out.push_back({a, a + 0.1 * (b - a)});
  }
  return out;
}

/// A random order improved by exchange: blocks turned round while that helps, tried one by one. Written apart.
double exchanged(std::vector<Segment> order, std::mt19937& random) {
  std::shuffle(order.begin(), order.end(), random);
  const Point home = Point::Zero();
  for (bool better = true; better;) {
    better = false;
    for (std::size_t i = 0; i < order.size(); ++i) {
      for (std::size_t k = i; k < order.size(); ++k) {
        const Point before = i == 0 ? home : order[i - 1].to;
        const Point after = k + 1 == order.size() ? home : order[k + 1].from;
        const double now = (order[i].from - before).norm() + (after - order[k].to).norm();
        const double then = (order[k].to - before).norm() + (after - order[i].from).norm();
        if (then > now - 1e-9) continue;
        std::reverse(order.begin() + static_cast<std::ptrdiff_t>(i),
                     order.begin() + static_cast<std::ptrdiff_t>(k) + 1);
        for (std::size_t j = i; j <= k; ++j) std::swap(order[j].from, order[j].to);
        better = true;
      }
    }
  }
  double sum = (order.front().from - home).norm() + (order.back().to - home).norm();
  for (std::size_t i = 1; i < order.size(); ++i) sum += (order[i].from - order[i - 1].to).norm();
  return sum;
}

/// Each stroke by its ends, whichever way round it is drawn, in hundredths of a mm.
std::vector<std::array<long, 4>> drawn(const std::vector<Segment>& strokes) {
  std::vector<std::array<long, 4>> out;
  for (const Segment& s : strokes) {
    std::array<long, 4> a{std::lround(100 * s.from.x()), std::lround(100 * s.from.y()), std::lround(100 * s.to.x()),
                          std::lround(100 * s.to.y())};
    const std::array<long, 4> b{a[2], a[3], a[0], a[1]};
    out.push_back(std::min(a, b));
  }
  std::sort(out.begin(), out.end());
  return out;
}

CreasePattern drawn_family(const std::string& name) {
  return drawn_pattern(family_design(name, {}), Sheet::square(Millimetres{240}).outline()).healed.pattern;
}

double length_of(const CreasePattern& pattern, EdgeKind kind) {
  double sum = 0;
  for (std::size_t i = 0; i < pattern.edges.size(); ++i) {
    if (pattern.edges[i].kind == kind) sum += pattern.segment(CreaseId(static_cast<std::int64_t>(i))).length();
  }
  return sum;
}

} // namespace

class DeviceTest : public QObject {
  Q_OBJECT
private slots:
  void orders_travel_little() {
    double worst = 0;
    for (const unsigned seed : {1u, 2u, 3u}) {
      const auto strokes = scattered(40, seed);
      const auto ours = in_short_order(strokes, Point::Zero());
      QVERIFY(drawn(ours) == drawn(strokes));
      std::mt19937 random(seed);
      double best = 1e9;
#ifdef UC_SANITIZED
      constexpr int orders = 50;
#else
      constexpr int orders = 1000;
#endif
      for (int i = 0; i < orders; ++i) best = std::min(best, exchanged(strokes, random));
      worst = std::max(worst, lifted_travel(ours, Point::Zero()) / best);
    }
    qInfo("travel over that of the best of 1000 random orders improved by exchange: %.3f (bound 1.3)", worst);
    QVERIFY(worst <= 1.3);
  }

  void many_strokes_are_all_there_and_in_a_short_order() {
    const auto strokes = scattered(5000, 7);
    const auto ours = in_short_order(strokes, Point::Zero());
    QVERIFY(drawn(ours) == drawn(strokes));
    // Always to the nearest is about a quarter longer than the shortest; this must be below it.
    std::vector<Segment> left = strokes;
    Point at = Point::Zero();
    double greedy = 0;
    while (!left.empty()) {
      std::size_t best = 0;
      double near = 1e9;
      for (std::size_t i = 0; i < left.size(); ++i) {
        for (const Point& p : {left[i].from, left[i].to}) {
          if ((p - at).norm() < near) near = (p - at).norm(), best = i;
        }
      }
      greedy += near;
      at = (left[best].from - at).norm() <= near + 1e-12 ? left[best].to : left[best].from;
      left[best] = left.back();
      left.pop_back();
    }
    QVERIFY(lifted_travel(ours, Point::Zero()) < 0.92 * greedy);
  }

  void courses_leave_no_line_between_two_that_stand() {
    std::vector<Segment> grid;
    for (int i = 1; i < 12; ++i) {
      grid.push_back({{20.0 * i, 0}, {20.0 * i, 240}});
      grid.push_back({{240, 20.0 * i}, {0, 20.0 * i}});
    }
    std::shuffle(grid.begin(), grid.end(), std::mt19937(4));
    const auto order = in_courses(grid, Point::Zero());
    QVERIFY(drawn(order) == drawn(grid));
    for (std::size_t i = 0; i < order.size(); ++i) {
      const bool upright = std::abs(order[i].from.x() - order[i].to.x()) < 1e-9;
      const double place = upright ? order[i].from.x() : order[i].from.y();
      bool below = false;
      bool above = false;
      for (std::size_t k = 0; k < i; ++k) {
        if ((std::abs(order[k].from.x() - order[k].to.x()) < 1e-9) != upright) continue;
        const double other = upright ? order[k].from.x() : order[k].from.y();
        below = below || other < place;
        above = above || other > place;
      }
      QVERIFY(!(below && above));
    }
  }

  void every_crease_is_scored_once_on_its_side() {
    for (const char* family : {"chevron", "waterbomb", "twist-tiling", "triangle-row"}) {
      const CreasePattern pattern = drawn_family(family);
      const Polygon sheet = Sheet::square(Millimetres{240}).outline();
      const auto plan = score_plan(pattern, sheet, {});
      QVERIFY2(plan.ok(), plan ? "" : plan.error().c_str());
      double face = 0;
      double underside = 0;
      for (const ScorePass& pass : plan->passes) {
        for (const Segment& s : pass.strokes) (pass.side == ScoredSide::face ? face : underside) += s.length();
      }
      QVERIFY(std::abs(underside - length_of(pattern, EdgeKind::mountain)) < 1e-6);
      QVERIFY(std::abs(face - length_of(pattern, EdgeKind::valley) - length_of(pattern, EdgeKind::undirected)) < 1e-6);
      QVERIFY(std::abs(plan->scored_mm - face - underside) < 1e-6);
      // The middle of every crease lies on a stroke of its side.
      for (std::size_t i = 0; i < pattern.edges.size(); ++i) {
        const EdgeKind kind = pattern.edges[i].kind;
        if (!folds(kind)) continue;
        const Point middle = pattern.segment(CreaseId(static_cast<std::int64_t>(i))).middle();
        int over = 0;
        for (const ScorePass& pass : plan->passes) {
          if ((pass.side == ScoredSide::underside) != (kind == EdgeKind::mountain)) continue;
          const Point seen = pass.side == ScoredSide::face ? middle : Point{240 - middle.x(), middle.y()};
          for (const Segment& s : pass.strokes)
            over += std::abs((seen - s.from).norm() + (seen - s.to).norm() - s.length()) < 1e-7;
        }
        QCOMPARE(over, 1);
      }
    }
  }

  void what_lies_off_the_sheet_is_refused() {
    const CreasePattern pattern = drawn_family("chevron");
    int outside = 0;
    const auto plan = score_plan(pattern, Sheet::square(Millimetres{100}).outline(), {}, &outside);
    QVERIFY(!plan && outside > 0);
    QVERIFY(plan.error().find("off the sheet of 100 x 100 mm") != std::string::npos);
    ScoreSettings small_bed;
    small_bed.bed_mm = Point{200, 300};
    QVERIFY(score_plan(pattern, Sheet::square(Millimetres{240}).outline(), small_bed).error().find("bed") !=
            std::string::npos);
    CreasePattern bare;
    bare.vertices = {{0, 0}, {10, 0}, {10, 10}};
    bare.edges = {{0, 1, EdgeKind::raw}, {1, 2, EdgeKind::raw}, {2, 0, EdgeKind::raw}};
    QVERIFY(!score_plan(bare, {{0, 0}, {10, 0}, {10, 10}}, {}));
    ScoreSettings still;
    still.feed_mm_s = 0;
    QVERIFY(!check(still));
  }

  void files_say_what_was_planned_data() {
    QTest::addColumn<QString>("file");
    QTest::newRow("hpgl") << "a.hpgl";
    QTest::newRow("gcode") << "a.GCODE";
  }
  void files_say_what_was_planned() {
    QFETCH(QString, file);
    const CreasePattern pattern = drawn_family("chevron");
    const Polygon sheet = Sheet::square(Millimetres{240}).outline();
    const auto plan = score_plan(pattern, sheet, {});
    const auto bytes = plotter_bytes(*plan, {}, file.toStdString(), "A title (with brackets)");
    QVERIFY(bytes.ok());
    const auto trace = parse_plotter(*bytes, file.toStdString());
    QVERIFY2(trace.ok(), trace ? "" : trace.error().c_str());
    QVERIFY(trace->unknown.empty());
    QCOMPARE(trace->strokes.size(), plan->strokes());
    QVERIFY(std::abs(trace->scored_mm - plan->scored_mm) < 0.05 * static_cast<double>(plan->strokes()));
    QVERIFY(std::abs(trace->travel_mm - plan->travel_mm) < 0.05 * static_cast<double>(plan->strokes()));
    QVERIFY(std::abs(trace->minutes - plan->minutes) < 0.02);
    QVERIFY(leaving(*trace, sheet).empty());
    // Seen from the face, mountains lie where the pattern has them.
    double mountains = 0;
    for (const auto& s : trace->strokes) mountains += s.side == ScoredSide::underside ? s.at.length() : 0;
    QVERIFY(std::abs(mountains - length_of(pattern, EdgeKind::mountain)) < 1);
    QVERIFY(!leaving(*trace, Sheet::square(Millimetres{150}).outline()).empty());
    QVERIFY(trace_svg(*trace, sheet, "Seen").find("class=\"mountain\"") != std::string::npos);
  }

  void files_from_elsewhere_data() {
    QTest::addColumn<QString>("file");
    QTest::addColumn<QString>("text");
    QTest::addColumn<int>("strokes"); // -1: refused
    QTest::addColumn<double>("scored");
    QTest::addColumn<QString>("says"); // of the refusal, or of what is passed over
    const double pi = 3.14159265358979;
    QTest::newRow("polyline") << "a.hpgl"
                              << "IN;SP1;PU0,0;PD400,0,400,400;PU;" << 2 << 20.0 << "";
    QTest::newRow("relative") << "a.hpgl"
                              << "in;pa;pu400,400;pr;pd40,0;pd0,40;" << 2 << 2.0 << "";
    QTest::newRow("circle") << "a.hpgl"
                            << "PU4000,4000;CI400;" << 72 << 2 * pi * 10 << "";
    QTest::newRow("arc") << "a.hpgl"
                         << "PU400,0;PD;AA0,0,90;" << 18 << pi / 2 * 10 << "";
    QTest::newRow("label") << "a.hpgl"
                           << "PU0,0;LBPD9,9;\x03PD40,0;" << 1 << 1.0 << "line 1: LB";
    QTest::newRow("unknown") << "a.hpgl"
                             << "IN;\nQQ1;\nPD40,0;" << 1 << 1.0 << "line 2: QQ";
    QTest::newRow("half a place") << "a.hpgl"
                                  << "IN;\nPD40;" << -1 << 0.0 << "line 2: places are pairs";
    QTest::newRow("far") << "a.hpgl"
                         << "PD99999999999,0;" << -1 << 0.0 << "100 m away";
    QTest::newRow("modal") << "a.gcode"
                           << "G21 G90\nG0 X0Y0 Z1\nG1Z-0.1\nX10\nY10\nG0Z2" << 2 << 20.0 << "";
    QTest::newRow("inches") << "a.gcode"
                            << "g20\ng1 z0 x1" << 1 << 25.4 << "";
    QTest::newRow("steps on") << "a.gcode"
                              << "G91\nG1 Z-6 X5 ; on\nX5\n"
                              << 2 << 10.0 << "";
    QTest::newRow("spindle") << "a.gcode"
                             << "G0 X10\nM3\nG1 X20\nM5\nG0 X0" << 1 << 10.0 << "";
    QTest::newRow("half circle") << "a.gcode"
                                 << "G0 X10\nM3\nG3 X-10 I-10 J0" << 36 << pi * 10 << "";
    QTest::newRow("by radius") << "a.gcode"
                               << "G0 X10\nM3\nG2 X0 Y-10 R10" << 18 << pi / 2 * 10 << "";
    QTest::newRow("ended") << "a.gcode"
                           << "M3\nG1 X10\nM30\nG1 X99" << 1 << 10.0 << "";
    QTest::newRow("odd code") << "a.gcode"
                              << "G123\nM3\nG1 X10" << 1 << 10.0 << "line 1: G123";
    QTest::newRow("no number") << "a.gcode"
                               << "G1 X\n"
                               << -1 << 0.0 << "X has no number";
    QTest::newRow("noise") << "a.gcode"
                           << "\x01\x02" << -1 << 0.0 << "line 1:";
    QTest::newRow("empty") << "a.gcode"
                           << "" << 0 << 0.0 << "";
    QTest::newRow("ending") << "a.txt"
                            << "" << -1 << 0.0 << ".hpgl";
  }
  void files_from_elsewhere() {
    QFETCH(QString, file);
    QFETCH(QString, text);
    QFETCH(int, strokes);
    QFETCH(double, scored);
    QFETCH(QString, says);
    const auto trace = parse_plotter(text.toStdString(), file.toStdString());
    if (strokes < 0) {
      QVERIFY(!trace);
      QVERIFY2(trace.error().find(says.toStdString()) != std::string::npos, trace.error().c_str());
      return;
    }
    QVERIFY2(trace.ok(), trace ? "" : trace.error().c_str());
    QCOMPARE(static_cast<int>(trace->strokes.size()), strokes);
    QVERIFY2(std::abs(trace->scored_mm - scored) < 0.003 * scored + 1e-9,
             qPrintable(QString::number(trace->scored_mm)));
    QCOMPARE(trace->unknown.empty(), says.isEmpty());
    if (!says.isEmpty()) QCOMPARE(trace->unknown.front(), says.toStdString());
  }

  void homographies_are_found_again_and_know_their_error() {
    Eigen::Matrix3d m;
    m << 9, 1.5, 40, -1, 11, 70, 0.0004, -0.0006, 1;
    const Homography truth(m);
    std::vector<Point> page;
    for (const double x : {0.0, 100.0, 200.0}) {
      for (const double y : {0.0, 100.0, 200.0}) page.push_back({x, y});
    }
    std::mt19937 random(3);
    std::normal_distribution<double> off(0, 0.1);
    const Point asked{150, 30};
    double squares = 0;
    double told = 0;
    constexpr int runs = 400;
    for (int run = 0; run < runs; ++run) {
      std::vector<Point> seen;
      for (const Point& p : page) seen.push_back(truth(p) + Point(off(random), off(random)));
      const auto fit = Homography::fitted(page, seen);
      QVERIFY(fit.ok());
      squares += ((*fit)(asked)-truth(asked)).squaredNorm() / runs;
      const auto d = fit->by_entries(asked);
      told += (d * fit->covariance() * d.transpose()).trace() / runs;
    }
    QVERIFY2(std::abs(squares / told - 1) < 0.15, qPrintable(QString("%1 %2").arg(squares).arg(told)));
    const auto exact = Homography::fitted({page[0], page[2], page[6], page[8]},
                                          {truth(page[0]), truth(page[2]), truth(page[6]), truth(page[8])});
    QVERIFY(((*exact)(asked)-truth(asked)).norm() < 1e-6);
    QVERIFY((exact->inverse()(truth(asked)) - asked).norm() < 1e-6);
    QVERIFY(!Homography::fitted({{0, 0}, {1, 0}, {2, 0}, {3, 0}}, {{0, 0}, {1, 0}, {2, 0}, {3, 0}}));
  }

  void calipers_are_understood_or_refused() {
    const std::vector<std::pair<const char*, double>> good{
        {"59.87", 59.87}, {"+59.87 mm\r", 59.87}, {" 2.5 in", 63.5}, {"-0.01 mm", -0.01}, {"0", 0}};
    for (const auto& [line, mm] : good) {
      const auto read = caliper_reading(line);
      QVERIFY2(read.ok(), line);
      QVERIFY(std::abs(*read - mm) < 1e-9);
    }
    for (const char* line : {"", "mm", "59.8 59.9", "ERR", "1e9 mm", "\x01\x02", "59.", "nan"}) {
      const auto read = caliper_reading(line);
      if (std::string(line) == "59.") continue;
      QVERIFY2(!read, line);
      QVERIFY(read.error().find("measure again") != std::string::npos);
    }
    for (const double mm : {0.0, 0.004, 59.875, 999.99})
      QVERIFY(std::abs(*caliper_reading(caliper_line(mm)) - mm) <= 0.00501);
  }

  void exercises_measure_what_their_creases_are() {
    const auto all = exercises(UC_SOURCE_DIR "/data/practice");
    QVERIFY2(all.ok(), all ? "" : all.error().c_str());
    QVERIFY(all->size() >= 11);
    for (const Exercise& e : *all) {
      QVERIFY(!e.measures.empty() && e.steps.moves > 0);
      for (const ExerciseMeasure& m : e.measures) QVERIFY(m.planned_mm > 0 && m.planned_mm < 110);
    }
  }
};

UC_TEST(DeviceTest)
#include "device_test.moc"
