#include "base/quantity.h"

#include <fmt/format.h>

#include <cmath>
#include <numeric>

namespace uc {

double mm_per(LengthUnit unit) {
  switch (unit) {
  case LengthUnit::mm:
    return 1;
  case LengthUnit::cm:
    return 10;
  case LengthUnit::inch:
    return 25.4;
  }
  return 1;
}

std::string symbol(LengthUnit unit) {
  switch (unit) {
  case LengthUnit::mm:
    return "mm";
  case LengthUnit::cm:
    return "cm";
  case LengthUnit::inch:
    return "in";
  }
  return "mm";
}

std::string format_number(double value, int digits) {
  std::string text = fmt::format("{:.{}f}", value, digits);
  if (text.find('.') != std::string::npos) {
    text.erase(text.find_last_not_of('0') + 1);
    if (text.back() == '.') text.pop_back();
  }
  return text == "-0" ? "0" : text;
}

std::string format_length(Millimetres length, LengthUnit unit) {
  if (unit == LengthUnit::mm) return format_number(length.value, 1) + " mm";
  if (unit == LengthUnit::cm) return format_number(length.value / 10, 2) + " cm";
  const long parts = std::lround(std::abs(length.value) / 25.4 * 32);
  const long whole = parts / 32;
  const long rest = parts % 32;
  std::string text = length.value < 0 && parts > 0 ? "-" : "";
  if (rest == 0) return text + std::to_string(whole) + " in";
  const long divisor = std::gcd(rest, 32L);
  if (whole > 0) text += std::to_string(whole) + " ";
  return text + fmt::format("{}/{} in", rest / divisor, 32 / divisor);
}

std::string format_error(Millimetres length, LengthUnit unit) {
  const double value = length.value / mm_per(unit);
  const double size = std::abs(value);
  if (size > 1e-10 && size < 5e-5) return fmt::format("under 0.0001 {}", symbol(unit));
  const int digits = size <= 1e-10 ? 0 : size >= 100 ? 0 : size >= 10 ? 1 : size >= 0.095 ? 2 : size >= 0.0095 ? 3 : 4;
  return fmt::format("{:.{}f} {}", value, digits, symbol(unit));
}

} // namespace uc
