// Geometry of the plane, the true shape of a sheet, stocks and what they take.
#include "runner.h"
#include "support.h"

#include "paper/sheet.h"
#include "paper/stock.h"
#include "paper/trueness.h"

#include <random>

using namespace uc;
using uc::testing::near;

namespace {
TruenessMeasure measure_of(const Polygon& q) {
  const auto d = [&](int i, int j) { return (q[static_cast<std::size_t>(i)] - q[static_cast<std::size_t>(j)]).norm(); };
  return {d(0, 1), d(1, 2), d(2, 3), d(3, 0), d(0, 2), d(1, 3)};
}
} // namespace

class PaperTest : public QObject {
  Q_OBJECT
private slots:
  void a_reflection_swaps_what_it_folds_together() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> u(-100, 100);
    for (int i = 0; i < 1000; ++i) {
      const Point p{u(random), u(random)};
      const Point q{u(random), u(random)};
      const Point n = (q - p).normalized();
      const Line crease = Line::with_normal(n, n.dot((p + q) / 2));
      const Isometry fold = Isometry::reflection_in(crease);
      QVERIFY((fold * p - q).norm() < 1e-9);
      QVERIFY((fold * (fold * p) - p).norm() < 1e-9);
      const Line through = Line::through(p, q);
      QVERIFY(std::abs(through.distance(p)) < 1e-9 && std::abs(through.distance(q)) < 1e-9);
      QVERIFY(near(through.normal.norm(), 1, 1e-12));
    }
  }

  void a_bisector_lays_one_line_on_the_other() {
    std::mt19937 random(6);
    std::uniform_real_distribution<double> u(-50, 50);
    for (int i = 0; i < 500; ++i) {
      const Line l = Line::through({u(random), u(random)}, {u(random), u(random)});
      const Line m = Line::through({u(random), u(random)}, {u(random), u(random)});
      const Isometry fold = Isometry::reflection_in(Line::bisecting(l, m));
      const Point on = fold * Point(l.normal * l.c + 7 * l.direction());
      QVERIFY(std::abs(m.distance(on)) < 1e-9 * std::max(1.0, std::abs(Line::bisecting(l, m).c)) * 100);
    }
    const Line middle = Line::bisecting(Line::with_normal({1, 0}, 10), Line::with_normal({1, 0}, 30));
    QVERIFY(near(middle.c, 20, 1e-12));
  }

  void clipping_finds_the_chord() {
    const Polygon hexagon = regular_polygon(6, 10);
    const auto chord = clip(Line::with_normal({0, 1}, hexagon[2].y()), hexagon);
    QCOMPARE(chord.size(), std::size_t{1});
    QVERIFY(near(chord[0].length(), 20, 1e-9));
    const auto edge = clip(Line::with_normal({0, 1}, 0), hexagon);
    QVERIFY(edge.size() == 1 && near(edge[0].length(), 10, 1e-9));
    QVERIFY(clip(Line::with_normal({0, 1}, 100), hexagon).empty());
    const auto [low, high] = support(hexagon, {0, 1});
    QVERIFY(near(high - low, 10 * std::sqrt(3.0), 1e-9));
    const Polygon half = clip_to_side(hexagon, Line::with_normal({1, 0}, 10));
    QVERIFY(near(signed_area(half) * 2, signed_area(hexagon), 1e-9));
  }

  void what_lies_outside_a_box_adds_up() {
    const Box box{{2, 2}, {6, 6}};
    const auto parts = outside({{0, 4}, {10, 4}}, box);
    QCOMPARE(parts.size(), std::size_t{2});
    QVERIFY(near(parts[0].length() + parts[1].length(), 6, 1e-9));
    QCOMPARE(outside({{0, 1}, {10, 1}}, box).size(), std::size_t{1});
    QVERIFY(outside({{3, 3}, {5, 5}}, box).empty());
  }

  void a_true_square_is_true() {
    const double d = 240 * std::sqrt(2.0);
    const auto fit = fit_trueness({240, 240, 240, 240, d, d});
    QVERIFY(fit.ok());
    QVERIFY(fit->out_of_square_deg < 1e-9 && fit->residual_mm < 1e-9);
    for (const LineEffect& e : effect_on_lines(*fit, 240, 240, 8, true))
      QVERIFY(std::abs(e.at_low_mm) < 1e-9 && std::abs(e.at_high_mm) < 1e-9);
  }

  void a_sheared_sheet_is_recovered_from_its_six_lengths() {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> off(-1.5, 1.5);
    for (int i = 0; i < 200; ++i) {
      const Polygon real = {
          {0, 0}, {240 + off(random), 0}, {240 + off(random), 200 + off(random)}, {off(random), 200 + off(random)}};
      const auto fit = fit_trueness(measure_of(real));
      QVERIFY(fit.ok());
      for (std::size_t c = 0; c < 4; ++c) QVERIFY((fit->corners[c] - real[c]).norm() < 1e-6);
      QVERIFY(near(fit->corner_deg[0] + fit->corner_deg[1] + fit->corner_deg[2] + fit->corner_deg[3], 360, 1e-6));
    }
  }

  void least_squares_shares_a_contradiction() {
    // One diagonal 0.6 mm too long cannot be a quadrilateral with these sides and that other diagonal in the plane.
    const double d = 240 * std::sqrt(2.0);
    const auto fit = fit_trueness({240, 240, 240, 240, d + 0.6, d + 0.6});
    QVERIFY(fit.ok());
    QVERIFY(fit->residual_mm > 0.05 && fit->residual_mm < 0.6);
    // At the optimum, no small change of any corner lowers the sum of squares.
    const auto sum = [&](const Polygon& q) {
      const TruenessMeasure m = measure_of(q);
      const double w[] = {240, 240, 240, 240, d + 0.6, d + 0.6};
      const double g[] = {m.bottom, m.right, m.top, m.left, m.rising, m.falling};
      double s = 0;
      for (int k = 0; k < 6; ++k) s += (w[k] - g[k]) * (w[k] - g[k]);
      return s;
    };
    const double best = sum(fit->corners);
    for (std::size_t c = 1; c < 4; ++c) {
      for (const Point& step : {Point{1e-3, 0}, Point{-1e-3, 0}, Point{0, 1e-3}, Point{0, -1e-3}}) {
        Polygon moved = fit->corners;
        moved[c] += step;
        QVERIFY(sum(moved) >= best - 1e-12);
      }
    }
  }

  void a_parallelogram_moves_its_lines_as_computed_by_hand() {
    // Sheared by 1 mm over the height: after the best rigid fit each line leans by half a millimetre at its ends less
    // what the fit's rotation takes up, and all lines lean alike.
    const Polygon real = {{0, 0}, {200, 0}, {201, 200}, {1, 200}};
    const auto fit = fit_trueness(measure_of(real));
    QVERIFY(fit.ok());
    QVERIFY(near(fit->out_of_square_deg, std::atan(1.0 / 200) * 180 / M_PI, 1e-6));
    const auto effects = effect_on_lines(*fit, 200, 200, 4, true);
    for (const LineEffect& e : effects) {
      QVERIFY(near(e.at_low_mm, -e.at_high_mm, 0.01));
      QVERIFY(near(e.at_high_mm - e.at_low_mm, effects[0].at_high_mm - effects[0].at_low_mm, 0.01));
    }
    QVERIFY(near(effects[0].at_high_mm - effects[0].at_low_mm, 0.5, 0.02));
  }

  void impossible_figures_get_a_sentence() {
    const auto broken = fit_trueness({240, 100, 240, 100, 600, 260});
    QVERIFY(!broken);
    QVERIFY2(broken.error().find("diagonal") != std::string::npos, broken.error().c_str());
    QVERIFY(!fit_trueness({0, 240, 240, 240, 339, 339}));
    QVERIFY(!fit_trueness({240, 240, 240, 240, std::nan(""), 339}));
    const auto apart = fit_trueness({240, 240, 240, 240, 400, 400});
    QVERIFY(!apart);
    QVERIFY(apart.error().find("contradict") != std::string::npos);
  }

  void stocks_and_pleats() {
    QVERIFY(generic_stocks().size() >= 8);
    for (const Stock& s : generic_stocks()) {
      QVERIFY2(checked(s).ok(), s.name.c_str());
      QCOMPARE(named<Stiffness>(name_of(s.stiffness)), std::optional(s.stiffness));
      QCOMPARE(named<CreaseMemory>(name_of(s.memory)), std::optional(s.memory));
    }
    Stock card;
    card.name = "card";
    card.caliper_mm = 0.22;
    card.stiffness = Stiffness::stiff;
    QCOMPARE(pleat_advice(20, card, 200).key, std::string("fine"));
    QCOMPARE(pleat_advice(6, card, 200).key, std::string("careful"));
    QCOMPARE(pleat_advice(2, card, 200).key, std::string("too-narrow"));
    card.largest_mm = 150;
    QCOMPARE(pleat_advice(20, card, 200).key, std::string("too-large"));
    card.caliper_mm = 0;
    QVERIFY(!checked(card));
    card.caliper_mm = 0.1, card.name.clear();
    QVERIFY(!checked(card));
  }
};

UC_TEST(PaperTest)
#include "paper_test.moc"
