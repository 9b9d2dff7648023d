// How fast the hands become with practice: the n-th unit takes t(n) = t(1) / n^b (Wright 1936), fitted to the times of
// units folded before, with its spread.
#pragma once

#include <optional>
#include <vector>

namespace uc {

struct Learning {
  double first_seconds = 0;
  double rate = 0;   // b; 0: no faster
  double spread = 0; // standard deviation of ln t about the curve
  int units = 0;     // it is fitted to

  [[nodiscard]] double seconds(int n) const;
  /// Of units from + 1 to from + count, with the standard deviation of their sum.
  struct Sum {
    double seconds = 0;
    double deviation = 0;
  };
  [[nodiscard]] Sum total(int from, int count) const;
};

/// Least squares of ln t over ln n; nothing from fewer than four times. Times that are not positive are left out. A
/// rate below 0 is told as 0: nobody is planned to become slower.
std::optional<Learning> learned(const std::vector<double>& seconds);

} // namespace uc
