#include "geometry/least_squares.h"

#include "geometry/lapack.h"

#include <algorithm>
#include <limits>
#include <utility>
#include <vector>

namespace uc {
namespace {

constexpr int block = 64; // columns worked on at a time

} // namespace

Eigen::VectorXd least_squares(Eigen::MatrixXd a, const Eigen::VectorXd& b) {
  one_thread_each();
  const int m = static_cast<int>(a.rows());
  const int n = static_cast<int>(a.cols());
  const int longest = std::max(m, n);
  Eigen::VectorXd x = Eigen::VectorXd::Zero(longest);
  x.head(m) = b;
  std::vector<int> pivots(static_cast<std::size_t>(n), 0);
  const double least = longest * std::numeric_limits<double>::epsilon(); // of the greatest, to count
  const int room = 4 * longest + block * (n + 1);
  std::vector<double> work(static_cast<std::size_t>(room));
  int rank = 0;
  int wrong = 0;
  const int one = 1;
  dgelsy_(&m, &n, &one, a.data(), &m, x.data(), &longest, pivots.data(), &least, &rank, work.data(), &room, &wrong);
  return x.head(n);
}

Eigen::MatrixXd orthonormal_base(Eigen::MatrixXd columns) {
  one_thread_each();
  const int m = static_cast<int>(columns.rows());
  const int n = static_cast<int>(columns.cols());
  const int room = block * std::max(1, n);
  std::vector<double> tau(static_cast<std::size_t>(n));
  std::vector<double> work(static_cast<std::size_t>(room));
  int wrong = 0;
  dgeqrf_(&m, &n, columns.data(), &m, tau.data(), work.data(), &room, &wrong);
  dorgqr_(&m, &n, &n, columns.data(), &m, tau.data(), work.data(), &room, &wrong);
  return columns;
}

Eigensystem eigensystem(Eigen::MatrixXd symmetric) {
  one_thread_each();
  const int n = static_cast<int>(symmetric.rows());
  Eigensystem out{Eigen::VectorXd(n), {}};
  if (n > 0) {
    const int room = 1 + 6 * n + 2 * n * n;
    const int whole_room = 3 + 5 * n;
    std::vector<double> work(static_cast<std::size_t>(room));
    std::vector<int> whole_work(static_cast<std::size_t>(whole_room));
    int wrong = 0;
    dsyevd_("V", "L", &n, symmetric.data(), &n, out.values.data(), work.data(), &room, whole_work.data(), &whole_room,
            &wrong);
  }
  out.vectors = std::move(symmetric);
  return out;
}

std::optional<Eigen::MatrixXd> cholesky(Eigen::MatrixXd symmetric) {
  one_thread_each();
  const int n = static_cast<int>(symmetric.rows());
  int wrong = 0;
  dpotrf_("L", &n, symmetric.data(), &n, &wrong);
  if (wrong != 0) return std::nullopt;
  return symmetric;
}

Eigen::MatrixXd covariance_root(Eigen::MatrixXd covariance) {
  const double greatest = std::max(covariance.diagonal().maxCoeff(), std::numeric_limits<double>::min());
  for (double lost = 1e-14 * greatest;; lost *= 10) {
    covariance.diagonal().array() += lost;
    if (auto lower = cholesky(covariance)) return *std::move(lower);
  }
}

Eigen::VectorXd solve_cholesky(const Eigen::MatrixXd& lower, Eigen::VectorXd right) {
  one_thread_each();
  const int n = static_cast<int>(lower.rows());
  const int one = 1;
  int wrong = 0;
  dpotrs_("L", &n, &one, lower.data(), &n, right.data(), &n, &wrong);
  return right;
}

} // namespace uc
