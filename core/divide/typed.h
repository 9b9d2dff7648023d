// What folders type into a division: lists of lines, marks that exist already, areas to keep clean.
#pragma once

#include "base/quantity.h"
#include "divide/grid.h"

#include <string_view>

namespace uc {

/// "3, 5-8" for lines 1..parts-1; an empty text is an empty list.
Result<std::vector<int>> parse_line_list(std::string_view text, int parts);
std::string format_line_list(const std::vector<int>& lines);

/// "3/7:0.1" or "3/7 : 0.1 mm": mark 3/7 exists with that standard error. The mark must be a line of `parts`.
Result<StartMark> parse_start_mark(std::string_view text, int parts, LengthUnit unit = LengthUnit::mm);

/// "60,60,180,180; 0,0,20,20": left, bottom, right, top of each area.
Result<std::vector<Box>> parse_areas(std::string_view text, LengthUnit unit = LengthUnit::mm);
std::string format_areas(const std::vector<Box>& areas, LengthUnit unit = LengthUnit::mm);

} // namespace uc
