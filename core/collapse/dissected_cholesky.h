// The sparse Cholesky factor of a sheet's matrix, by nested dissection (George 1973) and fronts (Duff and Reid 1983):
// the sheet is cut in two again and again, the vertices along each cut come after those beside it, and what is left of
// a part once its own vertices are worked out is a small dense matrix. The work goes into dense kernels, and grows as
// the 1.5th power of the number of vertices.
#pragma once

#include "geometry/plane.h"

#include <Eigen/SparseCore>

#include <memory>
#include <vector>

namespace uc {

class DissectedCholesky {
public:
  /// `lower` is the lower half of a symmetric matrix, compressed, rows and columns 3v to 3v + 2 belonging to the vertex
  /// at places[v]; its values do not matter here.
  DissectedCholesky(const Eigen::SparseMatrix<double>& lower, const std::vector<Point>& places);
  ~DissectedCholesky();
  DissectedCholesky(DissectedCholesky&&) noexcept;
  DissectedCholesky& operator=(DissectedCholesky&&) noexcept;

  /// The values of the matrix in the order of its compressed storage. False when it is not positive definite.
  bool factorize(const double* values);
  /// Solves for the factor last made.
  [[nodiscard]] Eigen::VectorXd solve(const Eigen::VectorXd& right) const;
  /// Numbers kept in the factor, zeros in its blocks with them.
  [[nodiscard]] std::size_t kept() const;

private:
  struct Front;
  struct State;
  std::unique_ptr<State> state_;
};

} // namespace uc
