// The families there are; each is defined in the file of its name, grids together in one.
#pragma once

#include "pattern/family.h"

namespace uc {

PatternFamily square_grid_family();
PatternFamily diagonal_grid_family();
PatternFamily equilateral_grid_family();
PatternFamily relief_family();
PatternFamily four_arm_zigzag_family();
PatternFamily turned_pleats_family();
PatternFamily concentric_pleats_family();
PatternFamily map_family();
PatternFamily chevron_family();
PatternFamily zigzag_row_family();
PatternFamily waterbomb_family();
PatternFamily triangle_row_family();
PatternFamily square_twists_family();
PatternFamily twist_tiling_family();
PatternFamily triangle_sink_family();
PatternFamily wrap_family();
PatternFamily square_wrap_family();
PatternFamily radial_web_family();
PatternFamily accordion_strip_family();
PatternFamily blintz_tray_family();
PatternFamily tray_family();
PatternFamily box_lid_family();
PatternFamily carton_family();
PatternFamily four_part_box_family();
PatternFamily pouch_family();
PatternFamily card_sleeve_family();
PatternFamily twisted_star_family();
PatternFamily petal_bowl_family();
PatternFamily net_family();
PatternFamily prism_family();
PatternFamily dipyramid_family();

} // namespace uc
