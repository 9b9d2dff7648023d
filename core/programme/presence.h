// What is on the sheet at a move: no move of a programme may use, close or name an edge, a crease, a corner or a mark
// that no earlier move has put there.
#pragma once

#include "programme/programme.h"

namespace uc {

/// Something a move uses that is not there when it is made.
struct Absence {
  std::size_t move = 0;
  std::optional<ElementId> element; // none for creases of a pattern that is closed
  std::vector<CreaseId> creases;    // of that pattern, not creased along their whole length
};

/// All of a programme on a flat sheet, in the order of its moves; what lies within this of a crease, a mark or an edge
/// is on it. Programmes of steps and units have states of their own and are not looked at.
std::vector<Absence> absences(const Programme& programme, double tolerance_mm = 0.05);

} // namespace uc
