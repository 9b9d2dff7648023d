// How much memory there is, so that work which would not fit is refused before it begins.
#pragma once

#include <cstddef>

namespace uc {

/// Memory that programs may take without pushing others out, in bytes; less where this program's group is limited.
std::size_t free_memory();

} // namespace uc
