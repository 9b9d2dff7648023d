// The one figure of a way that was planned: by how much it is expected to miss, geometry and hand together.
#pragma once

#include "project/project.h"

#include <optional>

namespace uc {

/// Of a mark, a point or a line its distance from what was asked for; of a polygon its shape's; of a cut to a ratio how
/// far its worse end lies from where the ratio asks for it. In mm, as the plot of ways has it. None for what does not
/// say what was asked for, such as a recipe of one's own, or does not fit on the sheet any more.
std::optional<double> expected_miss_mm(const Project& project, std::size_t reference);

} // namespace uc
