// A folder's own recipe, typed as alignments:
//   c1 = O3 bottom top
//   p1 = cross c1 left
//   c2 = O5/2 br p1 left      the second crease that fits; points come first, then lines
//   c3 = landing bottom c2    where the bottom edge lands while the sheet is folded on c2
//   result p1 c2
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
