// The unit families there are; each is defined in the file of its name, those of one construction together.
#pragma once

#include "unit/unit_family.h"

namespace uc {

UnitFamily parallelogram_unit();
UnitFamily half_square_star_unit();
UnitFamily zigzag_strip_unit();
UnitFamily rhombic_unit();
UnitFamily strip_and_clip_unit();
UnitFamily triangle_tabs_unit();
UnitFamily pentagon_tabs_unit();
UnitFamily box_corner_unit();

} // namespace uc
