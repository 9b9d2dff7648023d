// The seven alignments by what they promise: reflecting what is aligned. And the errors of constructions, first order
// against sampling.
#include "alignments.h"
#include "runner.h"
#include "support.h"

#include "reference/construction.h"

#include <numbers>
#include <random>

using namespace uc;
using uc::testing::folded;
using uc::testing::gap;
using uc::testing::misfit;
using uc::testing::near;

namespace {

std::mt19937_64 random_source(std::uint64_t seed) { return std::mt19937_64(seed); }

Point point_in(std::mt19937_64& random) {
  std::uniform_real_distribution<double> u(0, 1);
  const double x = u(random);
  return {x, u(random)};
}

Line line_in(std::mt19937_64& random) { return Line::through(point_in(random), point_in(random)); }

Polygon square_of(double side) { return {{0, 0}, {side, 0}, {side, side}, {0, side}}; }

/// The corner-to-midpoint fold: its crossings and the error it passes on are known.
struct ThirdOfTheSide {
  Construction c{square_of(240)};
  int middle = -1;
  int mark = -1;
  ThirdOfTheSide() {
    const int half = c.fold(Alignment::O2, {0, 1}, {-1, -1}).value();
    middle = c.cross(half, c.edge(2)).value();
    const int crease = c.fold(Alignment::O2, {c.corner(0), middle}, {-1, -1}).value();
    mark = c.cross(crease, c.edge(3)).value();
  }
};

} // namespace

class AlignmentTest : public QObject {
  Q_OBJECT

private slots:
  void nothing_is_folded_along_an_edge() {
    Construction c(square_of(240));
    QVERIFY(!c.fold(Alignment::O1, {0, 1}, {-1, -1})); // the bottom edge itself
    QVERIFY(c.fold(Alignment::O1, {0, 2}, {-1, -1}));
  }

  void a_landing_carries_errors_as_sampling_does() {
    Construction c(square_of(240));
    const int half = c.fold(Alignment::O2, {0, 1}, {-1, -1}).value();
    const int middle = c.cross(half, c.edge(2)).value();
    const int fold = c.fold(Alignment::O2, {c.corner(1), middle}, {-1, -1}).value();
    const int landing = c.land(c.edge(0), fold).value();
    const int mark = c.cross(landing, c.edge(3)).value();
    QVERIFY(near(c[mark].point.y(), 80, 1e-9, "a third, by the 3-4-5 triangle"));
    QVERIFY(gap(folded(c[fold].line, c[c.edge(0)].line), c[landing].line) < 1e-12 * 240);
    const double sigma = ConstructionErrors(c, 0.05).sigma_of_point(mark);
    auto random = random_source(9);
    double sum = 0;
    constexpr int runs = 20000;
    for (int i = 0; i < runs; ++i) {
      const auto items = sampled(c, 0.05, random);
      sum += ((*items)[static_cast<std::size_t>(mark)].point - c[mark].point).squaredNorm();
    }
    QVERIFY2(std::abs(std::sqrt(sum / runs) / sigma - 1) < 0.05,
             qPrintable(QString::number(std::sqrt(sum / runs) / sigma)));
    QVERIFY(!c.land(c.edge(0), c.edge(1))); // an edge is no crease to fold on
  }

  void every_crease_does_what_its_alignment_says_data() {
    QTest::addColumn<int>("op");
    for (int op = 1; op <= 7; ++op) QTest::newRow(("O" + std::to_string(op)).c_str()) << op;
  }
  void every_crease_does_what_its_alignment_says() {
    QFETCH(int, op);
    auto random = random_source(static_cast<std::uint64_t>(op));
    static constexpr std::size_t most[] = {0, 1, 1, 2, 1, 2, 3, 1};
    std::array<int, 4> seen{};
    double worst = 0;
    for (int i = 0; i < 20000; ++i) {
      const AlignmentInputs in{{point_in(random), point_in(random)}, {line_in(random), line_in(random)}};
      const Creases creases = creases_of(static_cast<Alignment>(op), in);
      QVERIFY(creases.size() <= most[op]);
      ++seen[creases.size()];
      for (std::size_t k = 0; k < creases.size(); ++k) {
        QVERIFY(near(creases[k].normal.norm(), 1, 1e-12));
        // A crease a long way off the paper is as good as none; there the figures lose their digits.
        if (std::abs(creases[k].c) < 10) worst = std::max(worst, misfit(static_cast<Alignment>(op), in, creases[k]));
        for (std::size_t other = 0; other < k; ++other) QVERIFY(gap(creases[k], creases[other]) > 1e-12);
      }
    }
    QVERIFY2(worst < 1e-9, qPrintable(QString::number(worst)));
    QVERIFY(seen[most[op]] > 100);
    if (op == 6) QVERIFY(seen[1] > 100); // O6 always has an odd number of creases for lines in general position
  }

  /// All creases of O5 and O6 are found: as many as sign changes of the condition along a fine sweep.
  void no_crease_is_missed() {
    auto random = random_source(99);
    int compared = 0;
    for (int i = 0; i < 400; ++i) {
      const AlignmentInputs in{{point_in(random), point_in(random)}, {line_in(random), line_in(random)}};
      const auto& [p, q] = in.points;
      const auto& [l, m] = in.lines;
      // P is laid on every place of l; the condition is how far Q then is from m.
      const auto condition = [&, p = p, q = q, l = l, m = m](double t) {
        const Point image = l.normal * l.c + t * l.direction();
        const Point n = (image - p).normalized();
        const Line crease{n, n.dot(p + image) / 2};
        return m.distance(folded(crease, q));
      };
      int changes = 0;
      double before = condition(-50);
      for (double t = -50; t <= 50; t += 0.002) {
        const double now = condition(t);
        if ((now < 0) != (before < 0)) ++changes;
        before = now;
      }
      int found = 0;
      bool near_double = false;
      for (const Line& crease : creases_of(Alignment::O6, in)) {
        const double t = l.direction().dot(folded(crease, p));
        if (std::abs(t) < 50) ++found;
        if (std::abs(std::abs(t) - 50) < 0.1) near_double = true;
        if ((condition(t + 0.01) < 0) == (condition(t - 0.01) < 0)) near_double = true;
      }
      if (near_double) continue;
      ++compared;
      QCOMPARE(found, changes);
    }
    QVERIFY(compared > 300);
  }

  void cubics_are_solved_also_when_they_are_none() {
    const Roots three = real_roots(1, -6, 11, -6);
    QCOMPARE(three.count, 3);
    for (int i = 0; i < 3; ++i) QVERIFY(near(three.at[static_cast<std::size_t>(i)], i + 1, 1e-12));
    QCOMPARE(real_roots(0, 1, -3, 2).count, 2);
    QCOMPARE(real_roots(0, 0, 2, -1).at[0], 0.5);
    QCOMPARE(real_roots(0, 0, 0, 3).count, 0);
    QCOMPARE(real_roots(0, 1, 0, 1).count, 0);
    QCOMPARE(real_roots(1, 0, 0, 0).count, 1);
    auto random = random_source(5);
    std::uniform_real_distribution<double> u(-3, 3);
    for (int i = 0; i < 5000; ++i) {
      std::array<double, 3> r{u(random), u(random), u(random)};
      std::sort(r.begin(), r.end());
      if (r[1] - r[0] < 1e-3 || r[2] - r[1] < 1e-3) continue;
      const double a = u(random);
      const Roots found = real_roots(a, -a * (r[0] + r[1] + r[2]), a * (r[0] * r[1] + r[1] * r[2] + r[0] * r[2]),
                                     -a * r[0] * r[1] * r[2]);
      QCOMPARE(found.count, 3);
      for (std::size_t k = 0; k < 3; ++k) QVERIFY(near(found.at[k], r[k], 1e-8));
    }
  }

  void what_meets_off_the_paper_is_refused() {
    const Polygon sheet = square_of(1);
    // The lower left corner onto the top edge through the middle of the right edge: radius reaches, landing on paper.
    AlignmentInputs in{{Point{0, 0}, Point{1, 0.5}}, {Line::with_normal({0, 1}, 1), {}}};
    int on_paper = 0;
    for (const Line& crease : creases_of(Alignment::O5, in))
      on_paper += contact(Alignment::O5, in, crease, sheet).has_value();
    QCOMPARE(on_paper, 1);
    // Two edges whose bisector misses the paper or whose overlap is empty.
    AlignmentInputs edges{{}, {Line::with_normal({0, 1}, 0), Line::with_normal({1, 0}, 0)}};
    int seen = 0;
    for (const Line& crease : creases_of(Alignment::O3, edges))
      seen += contact(Alignment::O3, edges, crease, sheet).has_value();
    QCOMPARE(seen, 1); // the other bisector touches the paper in one corner only
    // A crease square to an edge at its end leaves nothing of the edge to lie on itself.
    AlignmentInputs square{{Point{0, 0.5}, {}}, {Line::with_normal({0, 1}, 0), {}}};
    QVERIFY(!contact(Alignment::O4, square, creases_of(Alignment::O4, square)[0], sheet));
    square.points[0] = {0.25, 0.5};
    const auto held = contact(Alignment::O4, square, creases_of(Alignment::O4, square)[0], sheet);
    QVERIFY(held && near(held->lever, 0.25, 1e-12));
  }

  void chords_agree_with_clipping() {
    auto random = random_source(17);
    for (const int sides : {3, 4, 5, 8}) {
      const Polygon sheet = regular_polygon(sides, 1);
      for (int i = 0; i < 500; ++i) {
        const Line l = line_in(random);
        const auto one = chord(l, sheet);
        const auto other = clip(l, sheet);
        QCOMPARE(one.has_value(), !other.empty());
        if (one) QVERIFY((one->from - other[0].from).norm() + (one->to - other[0].to).norm() < 1e-9);
      }
    }
  }

  void the_half_is_as_exact_as_the_hand() {
    Construction c(square_of(240));
    const int by_corners = c.fold(Alignment::O2, {0, 1}, {-1, -1}).value();
    const int by_edges = c.fold(Alignment::O3, {-1, -1}, {c.edge(3), c.edge(1)}).value();
    const int p = c.cross(by_corners, c.edge(0)).value();
    const int q = c.cross(by_edges, c.edge(0)).value();
    const ConstructionErrors errors(c, 0.25);
    QVERIFY(near(errors.sigma_of_point(p), 0.25, 1e-12, "corner to corner"));
    QVERIFY(near(errors.sigma_of_point(q), 0.25, 1e-12, "edge to edge"));
    // Edge to edge: both ends err on their own, the middle has half the variance.
    const auto rows = errors.distances(by_edges, c[by_edges].line, {{120, 0}, {120, 120}, {120, 240}});
    QVERIFY(near(rows.row(1).squaredNorm(), 0.0625 / 2, 1e-12, "middle"));
    QVERIFY(near(rows.row(0).dot(rows.row(2)), 0, 1e-12, "ends are independent"));
  }

  void the_corner_to_midpoint_fold() {
    const ThirdOfTheSide t;
    // Folding a corner to the middle of the opposite side meets the side next to it at 5/8 from that corner.
    QVERIFY(near(t.c[t.mark].point.y(), 240 * 5.0 / 8, 1e-9));
    QVERIFY(near(t.c[t.mark].point.x(), 0, 1e-9));
  }

  void first_order_errors_agree_with_sampling() {
    auto random = random_source(2026);
    std::uniform_real_distribution<double> u(0, 1);
    int constructions = 0;
    std::array<int, 8> used{};
    for (int attempt = 0; attempt < 20000 && constructions < 60; ++attempt) {
      Construction c(square_of(200));
      std::vector<int> points{0, 1, 2, 3};
      std::vector<int> lines{4, 5, 6, 7};
      const auto some = [&](const std::vector<int>& from) {
        return from[static_cast<std::size_t>(u(random) * static_cast<double>(from.size()))];
      };
      for (int step = 0; step < 4; ++step) {
        const auto op = static_cast<Alignment>(1 + static_cast<int>(u(random) * 7));
        const auto crease = c.fold(op, {some(points), some(points)}, {some(lines), some(lines)});
        if (!crease) break;
        const int with = some(lines);
        lines.push_back(*crease);
        const auto at = c.cross(*crease, with);
        if (!at) break;
        const Point p = c[*at].point;
        if (p.x() < -1e-9 || p.y() < -1e-9 || p.x() > 200 + 1e-9 || p.y() > 200 + 1e-9) break;
        points.push_back(*at);
      }
      if (points.size() < 8) continue;
      const int mark = points.back();
      const double sigma = 0.002; // small enough for the first order to rule
      const ConstructionErrors errors(c, sigma);
      if (!errors.determined() || errors.sigma_of_point(mark) > 30 * sigma || errors.sigma_of_point(mark) < sigma / 10)
        continue;
      ++constructions;
      for (const auto& item : c.items()) {
        if (item.kind == ConstructionItem::Kind::crease) ++used[static_cast<std::size_t>(item.op)];
      }
      Eigen::Matrix2d sum = Eigen::Matrix2d::Zero();
      const int runs = 6000;
      for (int run = 0; run < runs; ++run) {
        const auto items = sampled(c, sigma, random);
        QVERIFY(items.has_value());
        const Point off = (*items)[static_cast<std::size_t>(mark)].point - c[mark].point;
        sum += off * off.transpose();
      }
      const double measured = std::sqrt(sum.trace() / runs);
      QVERIFY2(near(measured / errors.sigma_of_point(mark), 1, 0.05), c[mark].id.c_str());
    }
    QVERIFY2(constructions == 60, qPrintable(QString::number(constructions)));
    for (int op = 1; op <= 7; ++op) QVERIFY2(used[static_cast<std::size_t>(op)] > 0, qPrintable(QString::number(op)));
  }

  void shares_of_the_error_add_up() {
    const ThirdOfTheSide t;
    const ConstructionErrors errors(t.c, 0.25);
    const auto shares = errors.shares(errors.of(t.mark));
    double sum = 0;
    for (const double share : shares) sum += share;
    QVERIFY(near(sum, 1, 1e-12));
    QVERIFY(shares[8] > 0 && shares[10] > 0);
  }

  void a_mark_from_outside_carries_its_own_error() {
    Construction c(square_of(100));
    const int m = c.mark(c.edge(0), {30, 0}, 0.4);
    const int crease = c.fold(Alignment::O2, {c.corner(0), m}, {-1, -1}).value();
    const int half = c.cross(crease, c.edge(0)).value();
    const ConstructionErrors errors(c, 0.25);
    QVERIFY(near(errors.sigma_of_point(m), 0.4, 1e-12));
    QVERIFY(near(errors.sigma_of_point(half), std::sqrt(0.04 + 0.0625), 1e-12)); // half the mark's error and the fold's
  }

  void a_construction_is_reduced_to_what_is_needed() {
    Construction c(square_of(100));
    const int half = c.fold(Alignment::O2, {0, 1}, {-1, -1}).value();
    const int idle = c.fold(Alignment::O1, {0, 2}, {-1, -1}).value();
    (void)c.cross(half, idle).value();
    const int quarter = c.fold(Alignment::O3, {-1, -1}, {c.edge(3), half}).value();
    std::vector<int> wanted{quarter};
    const Construction less = c.reduced_to(wanted);
    QCOMPARE(less.creases(), 2);
    QCOMPARE(less.size(), 10);
    QCOMPARE(less[wanted[0]].id, std::string("c2"));
    QVERIFY(near(less[wanted[0]].line.c * less[wanted[0]].line.normal.x(), 25, 1e-9));
  }
};

UC_TEST(AlignmentTest)
#include "alignment_test.moc"
