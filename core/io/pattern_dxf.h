// Crease patterns as DXF (ASCII, release 12): lines in mm, the kind of each as its layer.
#pragma once

#include "io/line_work.h"

namespace uc {

std::string pattern_dxf(const CreasePattern& pattern);

/// LINE, LWPOLYLINE and POLYLINE entities, in mm by the file's unit (none: mm). Everything else is left out and
/// counted.
Result<LineWork> parse_dxf_lines(const std::string& text);

} // namespace uc
