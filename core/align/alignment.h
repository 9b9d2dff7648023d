// The seven single-fold alignments (Huzita 1989, Justin 1989, Hatori 2001): every crease that one fold can be made to
// fit by bringing known points and lines onto one another. Solvers give all real creases; whether the paper lets the
// alignment be seen is a second question, answered by `contact`.
#pragma once

#include "base/names.h"

#include "geometry/polygon.h"

#include <array>
#include <optional>
#include <string>

namespace uc {

enum class Alignment {
  O1 = 1, // through two points
  O2,     // point to point
  O3,     // line to line
  O4,     // through a point, square to a line
  O5,     // point to line, through a point
  O6,     // two points to two lines
  O7      // point to line, square to a line
};
template <>
inline constexpr auto enum_words<Alignment> = std::to_array<Word<Alignment>>({{Alignment::O1, "O1"},
                                                                              {Alignment::O2, "O2"},
                                                                              {Alignment::O3, "O3"},
                                                                              {Alignment::O4, "O4"},
                                                                              {Alignment::O5, "O5"},
                                                                              {Alignment::O6, "O6"},
                                                                              {Alignment::O7, "O7"}});
constexpr int point_inputs(Alignment op) {
  constexpr int counts[] = {0, 2, 2, 0, 1, 2, 2, 1};
  return counts[static_cast<int>(op)];
}
constexpr int line_inputs(Alignment op) {
  constexpr int counts[] = {0, 0, 0, 2, 1, 1, 2, 2};
  return counts[static_cast<int>(op)];
}

/// What an alignment brings together, in the order O1 P Q; O2 P Q; O3 l m; O4 P l; O5 P Q l (P onto l, through Q);
/// O6 P Q l m (P onto l, Q onto m); O7 P l m (P onto l, square to m). Unused places are ignored.
struct AlignmentInputs {
  std::array<Point, 2> points{Point::Zero(), Point::Zero()};
  std::array<Line, 2> lines{};
};

/// At most three creases, without allocation.
class Creases {
public:
  void add(const Line& line) { lines_[static_cast<std::size_t>(count_++)] = line; }
  [[nodiscard]] std::size_t size() const { return static_cast<std::size_t>(count_); }
  [[nodiscard]] bool empty() const { return count_ == 0; }
  const Line& operator[](std::size_t i) const { return lines_[i]; }
  [[nodiscard]] const Line* begin() const { return lines_.data(); }
  [[nodiscard]] const Line* end() const { return lines_.data() + count_; }

private:
  std::array<Line, 3> lines_;
  int count_ = 0;
};

/// All real creases of the alignment, each once, in a fixed order. A crease that moves nothing (a point that lies on
/// its target already) is not one of them; lines that never meet give none. Lengths in any unit near 1 to 1000.
Creases creases_of(Alignment op, const AlignmentInputs& in);

/// Real roots of a t³ + b t² + c t + d, ascending; the leading coefficients may be zero.
struct Roots {
  std::array<double, 3> at{};
  int count = 0;
};
Roots real_roots(double a, double b, double c, double d);

/// Where an alignment is seen on the paper. The two ends are points of the target, which the moved paper should meet:
/// the ends of the overlap of two lines, the places where points land, the points a crease goes through.
struct Contact {
  Point first = Point::Zero();
  Point second = Point::Zero();
  double lever = 0; // O4 and O7: overlap of the squared line with itself on each side of the crease
};
/// Empty when what is aligned would meet off the paper, or the crease would not cross it. `sheet` is convex.
std::optional<Contact> contact(Alignment op, const AlignmentInputs& in, const Line& crease, const Polygon& sheet,
                               double tolerance = 1e-9);

/// The part of a line on a convex sheet; empty when it misses it or touches it in a point.
std::optional<Segment> chord(const Line& line, const Polygon& sheet, double tolerance = 1e-9);

} // namespace uc
