// A stages file: in which order a collapse drives its creases.
#pragma once

#include "collapse/closing_plan.h"
#include "io/json_reader.h"

#include <string>

namespace uc {

/// Reads {"stages":[{"creases":[3,4],"from":0,"to":0.5,"percent":100}]}; `percent` is 100 where it is left out. The
/// error names the key.
Result<std::vector<DriveStage>> parse_stages(const std::string& text);
std::string stages_json(const std::vector<DriveStage>& stages);

/// Per edge, the stages that fold it, as json_of writes them (see pattern_json.h). Throws FieldError.
std::vector<CreaseGoals> goals_from(const std::vector<JsonReader>& edges);

/// The part of a project that says how the sheet is closed; fields of earlier versions may be missing.
nlohmann::json json_of(const ClosingPlan& plan);
ClosingPlan closing_from(const JsonReader& r);

} // namespace uc
