// A crease pattern as a drawing: the same figures that moves and programmes have, so that screen and print draw it
// alike.
#pragma once

#include "form/crease_pattern.h"
#include "programme/figure.h"

namespace uc {

/// Line i of the figure is edge i of the pattern, with element i + 1. From the underside everything is mirrored left to
/// right and mountains are valleys. `outline` is the largest closed walk of raw edges, empty when there is none.
Figure pattern_figure(const CreasePattern& pattern, bool underside_up = false);

/// How edges of a kind are drawn.
LineStyle style_of(EdgeKind kind);

/// The outline of the sheet, counter-clockwise; empty when raw edges enclose none.
Polygon sheet_outline(const CreasePattern& pattern);

} // namespace uc
