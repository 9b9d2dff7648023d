// Crease patterns as SVG. Written at true scale with the kind of every line as its class; read from any SVG made of
// straight lines, in groups with transforms.
#pragma once

#include "io/line_work.h"

namespace uc {

/// Every coordinate can be read back exactly: y is negated, nothing else is changed.
std::string pattern_svg(const CreasePattern& pattern, const std::string& title);

/// Lines of line, polyline, polygon, rect and path elements, in mm, y up. A file of ours keeps its coordinates; any
/// other gets its origin at the bottom left of its page, and lengths without unit count as 1/96 inch. Curves, texts and
/// pictures are left out and counted.
Result<LineWork> parse_svg_lines(const std::string& text);

} // namespace uc
