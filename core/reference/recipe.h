// A folder's own recipe, in the words of steps files, a step a line:
//   c1 = crease bottom onto top
//   p1 = cross c1 left
//   c2 = crease br onto left through p1 way 2     the second crease that fits
//   t = where bottom lands on left, folding c2    the mark where the bottom edge crosses the left one then
//   l = where bottom lands, folding c2            the line along which it lies
//   result t c2
// Codes of earlier versions (O5/2 br p1 left, landing bottom c2) are read as well.
#pragma once

#include "base/result.h"
#include "reference/construction.h"

#include <string_view>

namespace uc {

struct Recipe {
  Construction construction;
  std::vector<int> results; // items named by "result", else the last one made
};

/// Fails with one sentence that begins with the line's number.
Result<Recipe> parse_recipe(const Polygon& sheet, std::string_view text);
/// The text that parse_recipe reads back.
std::string recipe_text(const Construction& construction, const std::vector<int>& results);

} // namespace uc
