#include "unit/learning.h"

#include <algorithm>
#include <cmath>

namespace uc {

double Learning::seconds(int n) const { return first_seconds * std::pow(std::max(1, n), -rate); }

Learning::Sum Learning::total(int from, int count) const {
  Sum sum;
  // Of a log-normal time the mean is exp(spread^2 / 2) above the median, which the curve is.
  const double lift = std::exp(spread * spread / 2);
  double variance = 0;
  for (int i = 1; i <= count; ++i) {
    const double mean = seconds(from + i) * lift;
    sum.seconds += mean;
    variance += mean * mean * (std::exp(spread * spread) - 1);
  }
  sum.deviation = std::sqrt(variance);
  return sum;
}

std::optional<Learning> learned(const std::vector<double>& seconds) {
  double n = 0, sx = 0, sy = 0, sxx = 0, sxy = 0;
  for (std::size_t i = 0; i < seconds.size(); ++i) {
    if (seconds[i] <= 0) continue;
    const double x = std::log(static_cast<double>(i + 1));
    const double y = std::log(seconds[i]);
    n += 1, sx += x, sy += y, sxx += x * x, sxy += x * y;
  }
  if (n < 4) return std::nullopt;
  Learning out;
  const double slope = (n * sxy - sx * sy) / (n * sxx - sx * sx);
  out.rate = std::max(0.0, -slope);
  const double level = (sy + out.rate * sx) / n;
  out.first_seconds = std::exp(level);
  out.units = static_cast<int>(n);
  double rest = 0;
  for (std::size_t i = 0; i < seconds.size(); ++i) {
    if (seconds[i] <= 0) continue;
    const double off = std::log(seconds[i]) - level + out.rate * std::log(static_cast<double>(i + 1));
    rest += off * off;
  }
  out.spread = std::sqrt(rest / (n - 2));
  return out;
}

} // namespace uc
