// The state of the paper at every move of a programme, flat or folded.
#pragma once

#include "form/form.h"
#include "programme/programme.h"

namespace uc {

/// The paper before a move; before the one after the last: the finished piece. A sheet that lies open after every move
/// has its creases as open edges; what ends inside a face bounds none and is among the marks, as pinches are. Fails
/// when creases lie too close together to tell apart.
Result<Form> form_before(const Programme& programme, std::size_t move);

} // namespace uc
