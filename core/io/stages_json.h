// A stages file: in which order a collapse drives its creases.
#pragma once

#include "collapse/stages.h"

#include <string>

namespace uc {

/// Reads {"stages":[{"creases":[3,4],"from":0,"to":0.5,"percent":100}]}; `percent` is 100 where it is left out. The
/// error names the key.
Result<std::vector<DriveStage>> parse_stages(const std::string& text);
std::string stages_json(const std::vector<DriveStage>& stages);

} // namespace uc
