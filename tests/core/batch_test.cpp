// Many copies: the curve of practice, what is left, the evenings it takes.
#include "runner.h"
#include "support.h"

#include "record/batch.h"

#include <cmath>
#include <numeric>
#include <random>

using namespace uc;
using namespace std::chrono_literals;
using uc::testing::near;

class BatchTest : public QObject {
  Q_OBJECT
private slots:
  void the_curve_is_least_squares_on_logarithms() {
    // Exactly 40 n^-0.3.
    std::vector<double> exact;
    for (int n = 1; n <= 6; ++n) exact.push_back(40 * std::pow(n, -0.3));
    const auto f = forecast(20, exact);
    QVERIFY(f.ok());
    QVERIFY(near(f->curve.first_min, 40, 1e-9) && near(f->curve.exponent, 0.3, 1e-9));
    QCOMPARE(f->copy_min.size(), std::size_t{14});
    // By hand, for three points: slope Sxy / Sxx of the centred logarithms, its error from the pooled scatter.
    const std::vector<double> three{31, 27.5, 26};
    const double x[] = {0, std::log(2.0), std::log(3.0)};
    double mx = 0, my = 0, sxx = 0, sxy = 0;
    for (int i = 0; i < 3; ++i) mx += x[i] / 3, my += std::log(three[static_cast<std::size_t>(i)]) / 3;
    for (int i = 0; i < 3; ++i) {
      sxx += (x[i] - mx) * (x[i] - mx);
      sxy += (x[i] - mx) * (std::log(three[static_cast<std::size_t>(i)]) - my);
    }
    const auto g = forecast(10, three);
    QVERIFY(near(g->curve.exponent, -sxy / sxx, 1e-12));
    QVERIFY(near(g->curve.exponent_error, g->curve.scatter / std::sqrt(sxx), 1e-12));
    // One copy alone: what is usual.
    QVERIFY(near(forecast(10, {30})->curve.exponent, 0.2, 1e-9));
  }

  void intervals_hold_nine_of_ten() {
    std::mt19937 random(7);
    std::normal_distribution<double> normal;
    for (const double scatter : {0.15, 0.2}) {
      for (const std::size_t made : {4, 8}) {
        int held = 0;
        constexpr int trials = 400;
        for (int t = 0; t < trials; ++t) {
          const double exponent = std::uniform_real_distribution<double>(0.05, 0.4)(random);
          std::vector<double> minutes(30);
          for (std::size_t n = 0; n < minutes.size(); ++n)
            minutes[n] = 35 * std::pow(n + 1, -exponent) * std::exp(scatter * normal(random));
          const double left = std::accumulate(minutes.begin() + static_cast<std::ptrdiff_t>(made), minutes.end(), 0.0);
          minutes.resize(made);
          const auto f = forecast(30, minutes);
          held += f->left.low <= left && left <= f->left.high;
          QVERIFY(f->left.low <= f->left.median && f->left.median <= f->left.high);
        }
        qInfo("scatter %.2f, %zu copies made: %.1f of 100 intervals hold (bound 86 to 94)", scatter, made,
              100.0 * held / trials);
        QVERIFY2(held > 0.83 * trials && held < 0.97 * trials, qPrintable(QString::number(held)));
      }
    }
  }

  void evenings_take_whole_copies_where_they_fit() {
    const std::vector<double> copies(7, 25);
    const auto plan = *evenings_at(copies, 60, 2026y / 12 / 30);
    QCOMPARE(plan.size(), std::size_t{4});
    for (std::size_t i = 0; i < 3; ++i) QVERIFY(plan[i].copies == 2 && near(plan[i].minutes, 50, 1e-9));
    QCOMPARE(plan[3].copies, 1);
    QCOMPARE(date_text(plan[2].date), std::string("2027-01-01"));
    // Longer than an evening: it goes on.
    const auto longer = *evenings_at({100, 20}, 40, 2028y / 2 / 28);
    QCOMPARE(longer.size(), std::size_t{3});
    QVERIFY(longer[0].copies == 0 && longer[1].copies == 0 && longer[2].copies == 2);
    QVERIFY(near(longer[2].minutes, 40, 1e-9));
    QCOMPARE(date_text(longer[1].date), std::string("2028-02-29"));
    // The fewest minutes that make it: with one less it is late.
    const int least = *minutes_by(copies, 2026y / 12 / 1, 2026y / 12 / 3);
    QCOMPARE(evenings_at(copies, least, 2026y / 12 / 1)->size(), std::size_t{3});
    QVERIFY(evenings_at(copies, least - 1, 2026y / 12 / 1)->size() > 3);
    QCOMPARE(least, 75);
    QVERIFY(evenings_at({}, 10, 2026y / 12 / 1)->empty());
  }

  void what_cannot_be_is_told() {
    QVERIFY(!forecast(0, {30}) && !forecast(5, {}) && !forecast(2, {30, 30, 30}) && !forecast(5, {0.0}) &&
            !forecast(5, {std::nan("")}));
    QCOMPARE(forecast(3, {30, 30, 30})->left.high, 0.0);
    QVERIFY(!minutes_by({30}, 2026y / 12 / 5, 2026y / 12 / 4));
    QVERIFY(!minutes_by(std::vector<double>(100, 60), 2026y / 12 / 5, 2026y / 12 / 5));
    QVERIFY(!evenings_at(std::vector<double>(10'000, 60), 30, 2026y / 1 / 1));
    for (const char* bad : {"2026-13-01", "2026-02-30", "26-1-1", "2026/01/01", "2026-1-001", "x"})
      QVERIFY(!parse_date(bad));
    QCOMPARE(date_text(*parse_date("2028-02-29")), std::string("2028-02-29"));
  }
};

UC_TEST(BatchTest)
#include "batch_test.moc"
