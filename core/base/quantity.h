// Lengths and angles that must not be mixed up at public boundaries, and the units a folder may read them in.
#pragma once

#include "base/names.h"

#include <compare>
#include <numbers>
#include <optional>
#include <string>

namespace uc {

struct Millimetres {
  double value = 0;
  auto operator<=>(const Millimetres&) const = default;
};
struct Degrees {
  double value = 0;
  auto operator<=>(const Degrees&) const = default;
  [[nodiscard]] double radians() const { return value * std::numbers::pi / 180; }
};

enum class LengthUnit { mm, cm, inch };
template <>
inline constexpr auto enum_words<LengthUnit> =
    std::to_array<Word<LengthUnit>>({{LengthUnit::mm, "mm"}, {LengthUnit::cm, "cm"}, {LengthUnit::inch, "in"}});

/// Length of one unit in mm.
double mm_per(LengthUnit unit);
/// "mm", "cm" or "in".
std::string symbol(LengthUnit unit);

/// A length as a folder reads it: 0.1 mm, 0.01 cm, or inches to the nearest 1/32 written as a mixed fraction.
std::string format_length(Millimetres length, LengthUnit unit);
/// A small length such as an expected error: always decimal, three significant digits.
std::string format_error(Millimetres length, LengthUnit unit);
/// A number with at most `digits` decimals and no trailing zeros, independent of the locale.
std::string format_number(double value, int digits);

} // namespace uc
