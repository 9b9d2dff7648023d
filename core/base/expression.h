// Lengths as folders type them: "7 1/2 in", "24cm", "sqrt(2)*120", "297mm/4".
#pragma once

#include "base/quantity.h"
#include "base/result.h"

#include <string_view>

namespace uc {

/// Evaluates a typed length. A number without unit counts in `plain_unit`. Fractions and mixed numbers bind tighter
/// than units ("1/2 in" is half an inch). Fails with a sentence for anything that is not a finite length.
Result<Millimetres> parse_length(std::string_view text, LengthUnit plain_unit = LengthUnit::mm);

/// Evaluates a plain number ("3/8", "sqrt(2)"); a unit in it is an error.
Result<double> parse_number(std::string_view text);

/// The same for an angle in degrees, whose unit may be said: "57", "57°", "57 deg", "360 degrees / 7".
Result<double> parse_degrees(std::string_view text);

} // namespace uc
