// What recipes written in code fold with.
#pragma once

#include "reference/construction.h"

#include <array>
#include <cmath>
#include <numbers>
#include <optional>

namespace uc {

/// Folds one after the other; after the first that does not fit, nothing more is done and every item is -1.
class Hand {
public:
  explicit Hand(const Polygon& sheet) : c(sheet) {}
  Construction c;
  [[nodiscard]] bool failed() const { return failed_; }

  int o1(int p, int q) { return fold(Alignment::O1, {p, q}, {-1, -1}); }
  int o2(int p, int q) { return fold(Alignment::O2, {p, q}, {-1, -1}); }
  int o3(int l, int m, const std::optional<Line>& wanted = std::nullopt) {
    return fold(Alignment::O3, {-1, -1}, {l, m}, wanted);
  }
  int o4(int p, int l) { return fold(Alignment::O4, {p, -1}, {l, -1}); }
  int o5(int p, int l, int q, const Line& wanted) { return fold(Alignment::O5, {p, q}, {l, -1}, wanted); }
  int o6(int p, int l, int q, int m, const Line& wanted) { return fold(Alignment::O6, {p, q}, {l, m}, wanted); }
  int cross(int l, int m) {
    if (failed_ || l < 0 || m < 0) return fail();
    const auto made = c.cross(l, m);
    return made ? *made : fail();
  }
  [[nodiscard]] Line ray(int point, double degrees) const {
    const Point o = point < 0 ? Point::Zero() : c[point].point;
    const double a = degrees * std::numbers::pi / 180;
    return Line::through(o, o + Point{std::cos(a), std::sin(a)});
  }
  int fail() {
    failed_ = true;
    return -1;
  }

private:
  int fold(Alignment op, const std::array<int, 2>& points, const std::array<int, 2>& lines,
           const std::optional<Line>& wanted = std::nullopt) {
    for (int i = 0; i < point_inputs(op); ++i) {
      if (points[static_cast<std::size_t>(i)] < 0) return fail();
    }
    for (int i = 0; i < line_inputs(op); ++i) {
      if (lines[static_cast<std::size_t>(i)] < 0) return fail();
    }
    if (failed_) return -1;
    const auto made = c.fold(op, points, lines, wanted);
    return made ? *made : fail();
  }
  bool failed_ = false;
};

inline Error recipe_does_not_fit() {
  return Error{"This recipe does not fit on this sheet; take a larger or a squarer one."};
}

} // namespace uc
