// Constructions in the JSON of the contract, for reference and polygon.
#pragma once

#include "reference/construction_programme.h"

#include <nlohmann/json.hpp>

namespace uc::cli {

/// The steps: creases with their alignment, crossings with their lines, in the order in which they are made.
nlohmann::json steps_json(const Construction& construction, const std::vector<CreaseNeed>& needs,
                          const Programme& programme);
nlohmann::json line_json(const Line& line);
nlohmann::json point_json(const Point& point);

} // namespace uc::cli
