// SVG at true scale. Grids carry the kind of every line as its class: raw, mountain, valley, undirected, unfolded, cut.
#pragma once

#include "io/page.h"
#include "programme/figure.h"

namespace uc {

/// The creases of a programme on the bare sheet, face up, one user unit per mm.
std::string grid_svg(const Programme& programme, const std::string& title);
/// One page as SVG, for the HTML hand-out.
std::string page_svg(const Page& page);

} // namespace uc
