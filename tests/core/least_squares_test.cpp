// Dense least squares against what defines them: residuals square to the columns, bases square to themselves, factors
// that multiply back.
#include "runner.h"

#include "geometry/least_squares.h"

#include <QtTest>

#include <cmath>
#include <random>

using namespace uc;

namespace {

Eigen::MatrixXd any_matrix(std::mt19937& random, int rows, int columns) {
  std::uniform_real_distribution<double> any(-1, 1);
  Eigen::MatrixXd out(rows, columns);
  for (double& v : out.reshaped()) v = any(random);
  return out;
}

} // namespace

class LeastSquaresTest : public QObject {
  Q_OBJECT
private slots:
  void what_is_left_is_square_to_the_columns() {
    std::mt19937 random(11);
    for (const auto& [m, n] : {std::pair{1, 1}, {3, 3}, {6, 5}, {40, 7}, {200, 90}}) {
      const Eigen::MatrixXd a = any_matrix(random, m, n);
      const Eigen::VectorXd b = any_matrix(random, m, 1);
      const Eigen::VectorXd x = least_squares(a, b);
      QCOMPARE(x.size(), static_cast<Eigen::Index>(n));
      QVERIFY((a.transpose() * (b - a * x)).norm() < 1e-10 * b.norm());
      if (m == n) QVERIFY((a * x - b).norm() < 1e-9 * b.norm());
    }
  }

  void of_many_answers_the_shortest() {
    std::mt19937 random(12);
    Eigen::MatrixXd a = any_matrix(random, 8, 4);
    a.col(3) = 2 * a.col(0) - a.col(1);
    const Eigen::VectorXd b = any_matrix(random, 8, 1);
    const Eigen::VectorXd x = least_squares(a, b);
    QVERIFY((a.transpose() * (b - a * x)).norm() < 1e-12);
    const Eigen::Vector4d free(2, -1, 0, -1); // along it nothing changes
    QVERIFY(std::abs(x.dot(free)) < 1e-12);
    QVERIFY(least_squares(Eigen::MatrixXd::Zero(3, 2), Eigen::Vector3d(1, 2, 3)).norm() == 0);
  }

  void bases_span_what_they_are_given() {
    std::mt19937 random(13);
    for (const auto& [m, n] : {std::pair{1, 1}, {4, 4}, {10, 4}, {300, 70}}) {
      const Eigen::MatrixXd given = any_matrix(random, m, n);
      const Eigen::MatrixXd base = orthonormal_base(given);
      QVERIFY((base.transpose() * base - Eigen::MatrixXd::Identity(n, n)).norm() < 1e-12);
      QVERIFY((base * (base.transpose() * given) - given).norm() < 1e-11 * given.norm());
    }
  }

  void factors_multiply_back() {
    std::mt19937 random(14);
    for (const int n : {1, 3, 20, 130}) {
      const Eigen::MatrixXd root = any_matrix(random, n, n);
      const Eigen::MatrixXd whole = root * root.transpose() + Eigen::MatrixXd::Identity(n, n);
      const auto lower = cholesky(whole);
      QVERIFY(lower);
      const Eigen::MatrixXd l = lower->triangularView<Eigen::Lower>();
      QVERIFY((l * l.transpose() - whole).norm() < 1e-12 * whole.norm());
      const Eigen::VectorXd b = any_matrix(random, n, 1);
      QVERIFY((whole * solve_cholesky(*lower, b) - b).norm() < 1e-11 * b.norm());
    }
    Eigen::MatrixXd saddle = Eigen::MatrixXd::Identity(3, 3);
    saddle(1, 1) = -1;
    QVERIFY(!cholesky(saddle));
    QVERIFY(!cholesky(Eigen::MatrixXd::Zero(2, 2)));
  }
};

UC_TEST(LeastSquaresTest)
#include "least_squares_test.moc"
