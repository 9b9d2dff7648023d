// How layers that come near each other are treated while a sheet closes.
#pragma once

namespace uc {

enum class LayerContact {
  soft,    // they push each other apart, a hundredth of a bar's stiffness or so
  sliding, // the same, but parts that fit exactly do not catch at their rims
  counted, // they pass, and what passes is counted
  firm,    // they push as hard as paper: nothing gets through, at more steps
};

} // namespace uc
