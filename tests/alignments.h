// Alignments checked by reflection, with nothing of the solvers.
#pragma once

#include "align/alignment.h"

#include <cmath>

namespace uc::testing {

inline Point folded(const Line& crease, const Point& p) { return Isometry::reflection_in(crease) * p; }

/// How far two lines are from being one, over the unit square.
inline double gap(const Line& l, const Line& m) {
  const double sign = l.normal.dot(m.normal) < 0 ? -1 : 1;
  return (sign * l.normal - m.normal).norm() + std::abs(sign * l.c - m.c);
}

inline Line folded(const Line& crease, const Line& l) {
  const Point base = l.normal * l.c;
  return Line::through(folded(crease, base), folded(crease, base + l.direction()));
}

/// How far an alignment is from being met, judged by reflecting what is aligned.
inline double misfit(Alignment op, const AlignmentInputs& in, const Line& crease) {
  const auto& [p, q] = in.points;
  const auto& [l, m] = in.lines;
  switch (op) {
  case Alignment::O1:
    return std::abs(crease.distance(p)) + std::abs(crease.distance(q));
  case Alignment::O2:
    return (folded(crease, p) - q).norm();
  case Alignment::O3:
    return gap(folded(crease, l), m);
  case Alignment::O4:
    return std::abs(crease.distance(p)) + gap(folded(crease, l), l);
  case Alignment::O5:
    return std::abs(l.distance(folded(crease, p))) + std::abs(crease.distance(q));
  case Alignment::O6:
    return std::abs(l.distance(folded(crease, p))) + std::abs(m.distance(folded(crease, q)));
  case Alignment::O7:
    return std::abs(l.distance(folded(crease, p))) + gap(folded(crease, m), m);
  }
  return 1;
}

} // namespace uc::testing
