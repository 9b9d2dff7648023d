// How one fold passes errors on. A crease is fixed by two things that should meet: a point that should land on a line,
// the end of a line that should lie on another, a point the crease should go through. Each of the two misses by an
// error of its own: the crease lies N(0, s²) off there, so what was moved lands 2 N(0, s²) off. Solving both conditions
// to first order gives the crease's error from those of its inputs and the two new ones (implicit differentiation).
#pragma once

#include "align/alignment.h"

#include <Eigen/Core>

namespace uc {

/// Derivatives of a crease (turn of its normal in radians, change of its offset c) by what it is made from: columns
/// P.x P.y Q.x Q.y, then turn and offset of l and of m, then the two errors of the fold in the unit of length.
struct FoldSensitivity {
  Eigen::Matrix<double, 2, 8> inputs = Eigen::Matrix<double, 2, 8>::Zero();
  Eigen::Matrix2d own = Eigen::Matrix2d::Zero();
};

/// Empty when the alignment does not fix the crease to first order (a double root, a lever of no length).
std::optional<FoldSensitivity> sensitivity(Alignment op, const AlignmentInputs& in, const Line& crease,
                                           const Contact& contact);

/// Derivatives of the crossing of l and m (x, y) by turn and offset of l and m. Empty when they are parallel.
std::optional<Eigen::Matrix<double, 2, 4>> crossing_sensitivity(const Line& l, const Line& m, const Point& at);

/// Derivatives of where l lies when the sheet is folded on m (turn, offset) by turn and offset of l, then of m.
Eigen::Matrix<double, 2, 4> landing_sensitivity(const Line& l, const Line& m);

/// Turn and offset of a line by its distances at two points of it.
Eigen::Matrix2d by_two_ends(const Line& line, const Point& p, const Point& q);

/// The crease that a hand makes which errs by these amounts: the same alignment with its targets moved. Not linearised;
/// the solution nearest to `ideal` is taken. Used to check the first-order figures by sampling.
std::optional<Line> fold_with_errors(Alignment op, AlignmentInputs in, const Line& ideal, const Contact& contact,
                                     const Eigen::Vector2d& errors);

/// Turn of a direction by a quarter, counter-clockwise: the derivative of a unit normal by its angle.
inline Point quarter_turned(const Point& n) { return {-n.y(), n.x()}; }

} // namespace uc
