#include "record/batch.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

namespace uc {
namespace {

// What is usual before anything is timed: a copy takes an eighth less with every doubling of their number, give or take
// as much again, and one copy differs from the next by an eighth. All assumed.
constexpr double usual_exponent = 0.2;
constexpr double usual_exponent_error = 0.25;
constexpr double usual_scatter = 0.125;
constexpr double usual_scatter_counts = 1; // degrees of freedom it is worth
constexpr int samples = 4000;
constexpr int most_evenings = 3653;

/// y = a - b x by least squares. Two copies tell no slope from scatter: until there are three, b is 0.2 ± 0.25.
struct Fit {
  double a = 0, b = 0;
  double scatter = 0;
  double freedom = 0;
  // Of (a, b), per scatter²: covariance.
  double aa = 0, ab = 0, bb = 0;
};

Fit fitted(const std::vector<double>& minutes) {
  const auto m = static_cast<double>(minutes.size());
  double sx = 0, sy = 0, sxx = 0, sxy = 0;
  for (std::size_t i = 0; i < minutes.size(); ++i) {
    const double x = std::log(static_cast<double>(i) + 1);
    const double y = std::log(minutes[i]);
    sx += x, sy += y, sxx += x * x, sxy += x * y;
  }
  const double prior = minutes.size() < 3 ? std::pow(usual_scatter / usual_exponent_error, 2) : 0;
  // Normal equations of a and b.
  const double p = m, q = -sx, r = sxx + prior;
  const double u = sy, v = -sxy + prior * usual_exponent;
  const double det = p * r - q * q;
  Fit f;
  f.a = (r * u - q * v) / det;
  f.b = (p * v - q * u) / det;
  f.aa = r / det, f.ab = -q / det, f.bb = p / det;
  double square = usual_scatter_counts * usual_scatter * usual_scatter + prior * std::pow(f.b - usual_exponent, 2);
  for (std::size_t i = 0; i < minutes.size(); ++i)
    square += std::pow(std::log(minutes[i]) - f.a + f.b * std::log(static_cast<double>(i) + 1), 2);
  f.freedom = usual_scatter_counts + std::max(0.0, m - (prior > 0 ? 1 : 2));
  f.scatter = std::sqrt(square / f.freedom);
  return f;
}

MinutesLeft sampled(const Fit& f, int from, int copies) {
  std::mt19937_64 random(1936);
  std::normal_distribution<double> normal;
  std::chi_squared_distribution<double> chi(f.freedom);
  const double root = std::sqrt(f.aa);
  const double cross = f.ab / root;
  const double rest = std::sqrt(std::max(0.0, f.bb - cross * cross));
  std::vector<double> sums(samples);
  for (double& sum : sums) {
    const double s = f.scatter * std::sqrt(f.freedom / chi(random));
    const double z = normal(random);
    const double a = f.a + s * root * z;
    const double b = f.b + s * (cross * z + rest * normal(random));
    sum = 0;
    for (int n = from; n <= copies; ++n) sum += std::exp(a - b * std::log(n) + s * normal(random));
  }
  std::sort(sums.begin(), sums.end());
  const auto at = [&](double share) { return sums[static_cast<std::size_t>(share * samples)]; };
  return {at(0.5), at(0.05), at(0.95)};
}

} // namespace

Result<BatchForecast> forecast(int copies, const std::vector<double>& minutes) {
  if (copies < 1 || copies > most_copies)
    return Error{fmt::format("{} copies cannot be planned; type 1 to {}.", copies, most_copies)};
  if (minutes.empty()) return Error{"No copy is timed yet; type the minutes of at least one."};
  if (static_cast<int>(minutes.size()) > copies)
    return Error{
        fmt::format("{} copies are timed and only {} are to be made; correct one of the two.", minutes.size(), copies)};
  for (const double t : minutes) {
    if (!(t >= 0.01 && t <= 100'000))
      return Error{fmt::format("A copy of {:g} minutes cannot be planned with; type 0.01 to 100000.", t)};
  }
  const Fit f = fitted(minutes);
  BatchForecast out;
  out.curve = {std::exp(f.a), f.b, f.scatter * std::sqrt(f.bb), f.scatter};
  const int from = static_cast<int>(minutes.size()) + 1;
  for (int n = from; n <= copies; ++n)
    out.copy_min.push_back(std::exp(f.a - f.b * std::log(n) + f.scatter * f.scatter / 2)); // the mean of a log-normal
  if (from <= copies) out.left = sampled(f, from, copies);
  return out;
}

Result<std::vector<Evening>> evenings_at(const std::vector<double>& copy_min, double evening_min,
                                         std::chrono::year_month_day from) {
  std::vector<Evening> out;
  std::chrono::sys_days day = from;
  double free = 0;
  const auto next = [&] {
    out.push_back({std::chrono::year_month_day(day), 0, 0});
    day += std::chrono::days(1);
    free = evening_min;
  };
  for (double left : copy_min) {
    if (out.empty() || (left > free && out.back().minutes > 0)) next();
    while (left > 1e-9) {
      const double now = std::min(left, free);
      out.back().minutes += now;
      free -= now;
      left -= now;
      if (left <= 1e-9) break;
      if (static_cast<int>(out.size()) >= most_evenings)
        return Error{
            fmt::format("At {:g} minutes an evening this takes more than ten years; allow more.", evening_min)};
      next();
    }
    ++out.back().copies;
    if (static_cast<int>(out.size()) >= most_evenings)
      return Error{fmt::format("At {:g} minutes an evening this takes more than ten years; allow more.", evening_min)};
  }
  return out;
}

Result<int> minutes_by(const std::vector<double>& copy_min, std::chrono::year_month_day from,
                       std::chrono::year_month_day by) {
  const int days = static_cast<int>((std::chrono::sys_days(by) - std::chrono::sys_days(from)).count()) + 1;
  if (days < 1)
    return Error{
        fmt::format("{} is before {}, when the work begins; type a later date.", date_text(by), date_text(from))};
  int low = 0;
  int high = 24 * 60;
  const auto fits = [&](int minutes) {
    const auto evenings = evenings_at(copy_min, minutes, from);
    return evenings.ok() && static_cast<int>(evenings->size()) <= days;
  };
  if (!fits(high)) return Error{fmt::format("All of it cannot be done by {}, not even day and night.", date_text(by))};
  while (high - low > 1) {
    const int middle = (low + high) / 2;
    (fits(middle) ? high : low) = middle;
  }
  return high;
}

std::optional<std::chrono::year_month_day> parse_date(const std::string& text) {
  std::array<int, 3> part{};
  if (text.size() != 10 || text[4] != '-' || text[7] != '-') return std::nullopt;
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (i == 4 || i == 7) continue;
    if (text[i] < '0' || text[i] > '9') return std::nullopt;
    int& p = part[i < 4 ? 0 : i < 7 ? 1 : 2];
    p = 10 * p + (text[i] - '0');
  }
  const std::chrono::year_month_day date{std::chrono::year(part[0]), std::chrono::month(static_cast<unsigned>(part[1])),
                                         std::chrono::day(static_cast<unsigned>(part[2]))};
  return date.ok() ? std::optional(date) : std::nullopt;
}

std::string date_text(std::chrono::year_month_day date) {
  return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(date.year()), static_cast<unsigned>(date.month()),
                     static_cast<unsigned>(date.day()));
}

} // namespace uc
