// Paper as material: what the shelf holds and what a stock can and cannot take.
#pragma once

#include "base/names.h"

#include "base/result.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

enum class Stiffness { limp, soft, medium, crisp, stiff };
template <>
inline constexpr auto enum_words<Stiffness> = std::to_array<Word<Stiffness>>({{Stiffness::limp, "limp"},
                                                                              {Stiffness::soft, "soft"},
                                                                              {Stiffness::medium, "medium"},
                                                                              {Stiffness::crisp, "crisp"},
                                                                              {Stiffness::stiff, "stiff"}});
enum class CreaseMemory { weak, fair, strong };
template <>
inline constexpr auto enum_words<CreaseMemory> = std::to_array<Word<CreaseMemory>>({{CreaseMemory::weak, "weak"},
                                                                                    {CreaseMemory::fair, "fair"},
                                                                                    {CreaseMemory::strong, "strong"}});

struct Stock {
  std::string name;
  double caliper_mm = 0.1;
  double grammage = 80; // g/m²
  Stiffness stiffness = Stiffness::medium;
  CreaseMemory memory = CreaseMemory::fair;
  bool damp_shaping = false;
  double largest_mm = 0; // longest side it is sold in; 0 when not known
  int sheets = 0;        // in stock
  std::string face = "#F3C98B";
  std::string underside = "#FCFAF5";
  std::string note;
  double width_mm = 0; // of its sheets on the shelf, 0 when not known
  double height_mm = 0;

  bool operator==(const Stock&) const = default;
};

/// The generic stocks that ship with the application; no brands.
const std::vector<Stock>& generic_stocks();

/// Checks figures a folder typed for a stock.
Result<Stock> checked(Stock stock);

enum class AdviceLevel { fine, careful, unfit };
struct PleatAdvice {
  AdviceLevel level = AdviceLevel::fine;
  double least_pleat_mm = 0; // narrowest pleat this stock takes cleanly
  std::string key;           // "fine", "careful", "too-narrow", "too-large"
  double at_all_mm = 0;      // narrowest pleat it takes at all
};
/// Pleat width against stock: a pleat needs about 25 calipers to fold crisply and 12 to fold at all, more on stiff
/// stock, and never less than a fingertip can pinch (2 mm). Rule of the house, not a theorem.
PleatAdvice pleat_advice(double pleat_mm, const Stock& stock, double longest_side_mm);

} // namespace uc
