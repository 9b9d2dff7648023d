// The families there are; each is defined in the file of its name.
#pragma once

#include "pattern/family.h"

namespace uc {

PatternFamily chevron_family();
PatternFamily square_twists_family();
PatternFamily turned_pleats_family();
PatternFamily map_family();

} // namespace uc
