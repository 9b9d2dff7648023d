// Dense least squares by LAPACK: templates for them would be most of what a compiler does where they are used.
#pragma once

#include <Eigen/Core>

#include <optional>

namespace uc {

/// The x for which a x comes nearest to b, the shortest of them where there are many (QR with pivots).
Eigen::VectorXd least_squares(Eigen::MatrixXd a, const Eigen::VectorXd& b);
/// Columns of length 1, square to each other, that span the same as the given ones, which must be independent and at
/// most as many as there are rows.
Eigen::MatrixXd orthonormal_base(Eigen::MatrixXd columns);
/// A symmetric matrix as vectors diag(values) vectorsᵀ, values rising.
struct Eigensystem {
  Eigen::VectorXd values;
  Eigen::MatrixXd vectors;
};
Eigensystem eigensystem(Eigen::MatrixXd symmetric);
/// The lower Cholesky factor of a symmetric matrix; nothing where it is not positive definite.
std::optional<Eigen::MatrixXd> cholesky(Eigen::MatrixXd symmetric);
/// The same of a covariance, whose smallest parts may be lost beside the greatest: what rounding takes is put back.
Eigen::MatrixXd covariance_root(Eigen::MatrixXd covariance);
/// Solves for a lower Cholesky factor.
Eigen::VectorXd solve_cholesky(const Eigen::MatrixXd& lower, Eigen::VectorXd right);

} // namespace uc
