// Numbers of faces, edges and vertices are ints, with -1 for none; containers are indexed without a sign. This is the
// one place where the one becomes the other.
#pragma once

#include <cstddef>

namespace uc {

constexpr std::size_t at(int index) { return static_cast<std::size_t>(index); }

} // namespace uc
