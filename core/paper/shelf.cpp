#include "paper/shelf.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

constexpr double slack_mm = 0.05; // no sheet is cut more exactly

int fitting(double sheet_mm, double piece_mm) { return static_cast<int>(std::floor((sheet_mm + slack_mm) / piece_mm)); }

std::optional<ShelfSheet> cut_from(const Stock& stock, double width_mm, double height_mm) {
  const int upright = fitting(stock.width_mm, width_mm) * fitting(stock.height_mm, height_mm);
  const int across = fitting(stock.width_mm, height_mm) * fitting(stock.height_mm, width_mm);
  const int pieces = std::max(upright, across);
  if (pieces < 1) return std::nullopt;
  const double area = stock.width_mm * stock.height_mm;
  return ShelfSheet{stock, pieces, across > upright, std::max(0.0, 1 - pieces * width_mm * height_mm / area)};
}

} // namespace

std::optional<ShelfSheet> nearest_sheet(const std::vector<Stock>& shelf, double width_mm, double height_mm,
                                        const std::string& wanted) {
  if (!(width_mm > 0 && height_mm > 0)) return std::nullopt;
  // A shelf on which nothing is counted is one whose sheets are not counted.
  const bool counted = std::any_of(shelf.begin(), shelf.end(), [](const Stock& s) { return s.sheets > 0; });
  std::optional<ShelfSheet> best;
  for (const Stock& stock : shelf) {
    if (!(stock.width_mm > 0 && stock.height_mm > 0)) continue;
    if (counted && stock.sheets == 0 && stock.name != wanted) continue;
    const auto sheet = cut_from(stock, width_mm, height_mm);
    if (!sheet) continue;
    if (stock.name == wanted) return sheet;
    const auto area = [](const Stock& s) { return s.width_mm * s.height_mm; };
    if (!best || area(stock) < area(best->stock)) best = sheet;
  }
  return best;
}

} // namespace uc
