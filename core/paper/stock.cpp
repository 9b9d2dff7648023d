#include "paper/stock.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace uc {

const std::vector<Stock>& generic_stocks() {
  using S = Stiffness;
  using M = CreaseMemory;
  static const std::vector<Stock> stocks = {
      {"Copy paper", 0.10, 80, S::medium, M::fair, false, 420, 0, "#F7F4EC", "#FCFAF5", "", 297, 420},
      {"Two-coloured square paper", 0.07, 60, S::medium, M::strong, false, 350, 0, "#F3C98B", "#FCFAF5", "", 350, 350},
      {"Foil-backed paper", 0.05, 55, S::crisp, M::strong, false, 700, 0, "#C9CDD3", "#FCFAF5",
       "Springs, and keeps every mark.", 500, 700},
      {"Hand-made mulberry", 0.09, 40, S::soft, M::weak, true, 980, 0, "#E9DDC3", "#EFE6D2", "Strong when worked.", 640,
       980},
      {"Heavy sized drawing paper", 0.15, 110, S::stiff, M::fair, true, 1000, 0, "#EFE9DA", "#EFE9DA",
       "Takes damp shaping.", 700, 1000},
      {"Tissue", 0.03, 18, S::limp, M::weak, false, 750, 0, "#F4E3E6", "#F8EFF0", "Tears at a worked corner.", 500,
       750},
      {"Kraft wrapping", 0.08, 70, S::crisp, M::strong, false, 1000, 0, "#C79A63", "#D2AA78", "", 700, 1000},
      {"Translucent drafting paper", 0.07, 90, S::crisp, M::strong, false, 1000, 0, "#E8ECEB", "#E8ECEB",
       "Creases show white; do not refold them.", 700, 1000},
      {"Light card", 0.22, 160, S::stiff, M::fair, false, 1000, 0, "#F2EFE6", "#F2EFE6", "Score before folding.", 700,
       1000}};
  return stocks;
}

Result<Stock> checked(Stock stock) {
  if (stock.name.empty()) return Error{"The stock has no name; type one, such as Copy paper."};
  if (!(stock.caliper_mm >= 0.005 && stock.caliper_mm <= 3)) {
    return Error{fmt::format("A caliper of {} mm cannot be folded; type 0.005 to 3 mm.", stock.caliper_mm)};
  }
  if (!(stock.grammage >= 5 && stock.grammage <= 1000)) {
    return Error{fmt::format("A grammage of {} g/m² is not paper; type 5 to 1000.", stock.grammage)};
  }
  if (!(stock.width_mm >= 0 && stock.width_mm <= 100'000 && stock.height_mm >= 0 && stock.height_mm <= 100'000) ||
      (stock.width_mm > 0) != (stock.height_mm > 0)) {
    return Error{"The sheets of a stock have a width and a height up to 100 m; type both, such as 350 x 350, or none."};
  }
  if (stock.sheets < 0 || stock.sheets > 1'000'000) {
    return Error{"The number of sheets in stock must be 0 to 1 000 000."};
  }
  return stock;
}

PleatAdvice pleat_advice(double pleat_mm, const Stock& stock, double longest_side_mm) {
  constexpr std::array stiff_factor = {0.8, 0.9, 1.0, 1.1, 1.5};
  const double factor = stiff_factor.at(static_cast<std::size_t>(stock.stiffness));
  const double clean = std::max(2.0, 25 * stock.caliper_mm * factor);
  const double at_all = std::max(1.0, 12 * stock.caliper_mm * factor);
  if (stock.largest_mm > 0 && longest_side_mm > stock.largest_mm + 0.05) {
    return {AdviceLevel::unfit, clean, "too-large", at_all};
  }
  if (pleat_mm < at_all) return {AdviceLevel::unfit, clean, "too-narrow", at_all};
  if (pleat_mm < clean) return {AdviceLevel::careful, clean, "careful", at_all};
  return {AdviceLevel::fine, clean, "fine", at_all};
}

} // namespace uc
