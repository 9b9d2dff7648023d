// The exact budget of parallel lines against folding the same lines thousands of times in numbers.
#include "runner.h"

#include "precision/line_errors.h"

#include <QtTest>

#include <cmath>
#include <random>
#include <vector>

using namespace uc;

namespace {

constexpr double fold_variance = 0.25 * 0.25;

struct Step {
  bool bring = true;
  int a = 0;
  int b = 0;
  int makes = 0;
};

/// Between two exact edges and one guess, random folds from what is known already.
struct Chain {
  static constexpr int lines = 14;
  static constexpr int guess = 2;
  static constexpr double guess_variance = 4;
  std::vector<Step> steps;

  explicit Chain(unsigned seed) {
    std::mt19937 random(seed);
    for (int makes = 3; makes < lines; ++makes) {
      std::uniform_int_distribution<int> known(0, makes - 1);
      const int a = known(random);
      int b = known(random);
      while (b == a) b = known(random);
      steps.push_back({makes % 3 != 0, a, b, makes});
    }
  }

  [[nodiscard]] LineErrors budget() const {
    LineErrors out(lines);
    out.set_exact(0);
    out.set_exact(1);
    out.set_independent(guess, guess_variance);
    for (const Step& s : steps)
      s.bring ? out.bring(s.a, s.b, s.makes, fold_variance) : out.through(s.a, s.b, s.makes, fold_variance);
    return out;
  }

  /// How far each line lies off when it is folded once.
  [[nodiscard]] std::vector<double> folded(std::mt19937& random) const {
    std::normal_distribution<double> normal;
    std::vector<double> off(lines, 0);
    off[guess] = std::sqrt(guess_variance) * normal(random);
    for (const Step& s : steps) {
      const double a = off[static_cast<std::size_t>(s.a)];
      const double b = off[static_cast<std::size_t>(s.b)];
      off[static_cast<std::size_t>(s.makes)] =
          (s.bring ? (a + b) / 2 : 2 * a - b) + std::sqrt(fold_variance) * normal(random);
    }
    return off;
  }
};

} // namespace

class LineErrorsTest : public QObject {
  Q_OBJECT
private slots:
  void covariances_are_those_of_folding() {
    constexpr int samples = 40'000;
    for (const unsigned seed : {1U, 2U, 3U}) {
      const Chain chain(seed);
      const LineErrors budget = chain.budget();
      std::mt19937 random(seed + 100);
      Eigen::MatrixXd sums = Eigen::MatrixXd::Zero(Chain::lines, Chain::lines);
      for (int i = 0; i < samples; ++i) {
        const auto off = chain.folded(random);
        const Eigen::Map<const Eigen::VectorXd> v(off.data(), Chain::lines);
        sums += v * v.transpose() / samples;
      }
      for (int a = 0; a < Chain::lines; ++a) {
        for (int b = 0; b <= a; ++b) {
          // The standard deviation of an estimated covariance, five times.
          const double by =
              5 *
              std::sqrt((budget.variance(a) * budget.variance(b) + budget.covariance(a, b) * budget.covariance(a, b)) /
                        samples);
          QVERIFY2(
              std::abs(sums(a, b) - budget.covariance(a, b)) <= by + 1e-12,
              qPrintable(
                  QString("lines %1 and %2: %3 for %4").arg(a).arg(b).arg(sums(a, b)).arg(budget.covariance(a, b))));
          QCOMPARE(budget.covariance(a, b), budget.covariance(b, a));
        }
      }
    }
  }

  void coefficients_carry_the_variances() {
    const Chain chain(7);
    const LineErrors budget = chain.budget();
    QCOMPARE(budget.error_count(), static_cast<int>(chain.steps.size()) + 1);
    QCOMPARE(budget.error_variance(0), Chain::guess_variance);
    for (int e = 1; e < budget.error_count(); ++e) QCOMPARE(budget.error_variance(e), fold_variance);
    for (int a = 0; a < Chain::lines; ++a) {
      for (int b = 0; b < Chain::lines; ++b) {
        const Eigen::VectorXd ca = budget.coefficients(a);
        const Eigen::VectorXd cb = budget.coefficients(b);
        QCOMPARE(static_cast<int>(ca.size()), budget.error_count());
        double sum = 0;
        for (int e = 0; e < budget.error_count(); ++e) sum += ca[e] * cb[e] * budget.error_variance(e);
        QVERIFY(std::abs(sum - budget.covariance(a, b)) < 1e-10);
      }
    }
    QVERIFY(budget.coefficients(0).norm() == 0 && budget.coefficients(1).norm() == 0);
  }

  void what_a_fold_would_give_is_what_it_gives() {
    const Chain chain(9);
    LineErrors budget(Chain::lines);
    budget.set_exact(0);
    budget.set_exact(1);
    budget.set_independent(Chain::guess, Chain::guess_variance);
    for (const Step& s : chain.steps) {
      QVERIFY(budget.known(s.a) && budget.known(s.b) && !budget.known(s.makes));
      const double wanted = s.bring ? budget.variance_of_bring(s.a, s.b, fold_variance)
                                    : budget.variance_of_through(s.a, s.b, fold_variance);
      s.bring ? budget.bring(s.a, s.b, s.makes, fold_variance) : budget.through(s.a, s.b, s.makes, fold_variance);
      QVERIFY(std::abs(budget.variance(s.makes) - wanted) < 1e-12);
      QVERIFY(budget.known(s.makes));
    }
  }

  void halving_again_and_again_comes_to_four_thirds() {
    // An edge brought to the last line, 40 times: each keeps a quarter of the variance before it.
    LineErrors budget(42);
    budget.set_exact(0);
    budget.set_exact(1);
    double variance = 0;
    for (int line = 2; line < 42; ++line) {
      budget.bring(0, line - 1, line, 1);
      variance = 1 + variance / 4;
      QVERIFY(std::abs(budget.variance(line) - variance) < 1e-12);
    }
    QVERIFY(std::abs(variance - 4.0 / 3) < 1e-12);
  }
};

UC_TEST(LineErrorsTest)
#include "line_errors_test.moc"
