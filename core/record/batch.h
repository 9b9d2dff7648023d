// Many copies of one thing: how the time of a copy falls with practice, what is left, and which evenings it takes.
#pragma once

#include "base/result.h"

#include <chrono>
#include <optional>
#include <string>
#include <vector>

namespace uc {

/// Copy n takes first·n^-exponent minutes, with log-normal scatter about it (the power law of practice, Wright 1936).
struct LearningCurve {
  double first_min = 0;
  double exponent = 0;
  double exponent_error = 0; // its standard error
  double scatter = 0;        // standard deviation of the logarithms
};

struct MinutesLeft {
  double median = 0;
  double low = 0; // low to high holds 90 of 100
  double high = 0;
};

struct Evening {
  std::chrono::year_month_day date;
  int copies = 0; // finished in it
  double minutes = 0;
};

struct BatchForecast {
  LearningCurve curve;
  MinutesLeft left;
  std::vector<double> copy_min; // expected of each copy that is left
};

constexpr int most_copies = 10'000;

/// From the minutes of the copies that are made, in order: least squares on the logarithms. What is usual stands in for
/// the slope while fewer than three are made, and counts as two more copies for the scatter; the rest is sampled with a
/// fixed seed from what the fit leaves open.
Result<BatchForecast> forecast(int copies, const std::vector<double>& minutes);

/// Evening after evening from `from` on. A copy is begun when it fits into what is left of the evening; one that is
/// longer than an evening goes on in the next. Fails where that takes more than ten years.
Result<std::vector<Evening>> evenings_at(const std::vector<double>& copy_min, double evening_min,
                                         std::chrono::year_month_day from);
/// The fewest minutes an evening with which all is done by `by`, in whole minutes.
Result<int> minutes_by(const std::vector<double>& copy_min, std::chrono::year_month_day from,
                       std::chrono::year_month_day by);

/// YYYY-MM-DD, of the calendar.
std::optional<std::chrono::year_month_day> parse_date(const std::string& text);
std::string date_text(std::chrono::year_month_day date);

} // namespace uc
