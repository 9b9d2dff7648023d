// Steps files: whatever is written in them, folding ends with proved states or with a reason.
#include "fold/step_programme.h"
#include "io/steps_json.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size > 600) return 0;
  auto file = uc::parse_steps({reinterpret_cast<const char*>(data), size});
  if (!file || file->lines.size() > 9) return 0;
  const uc::FoldedSequence folded = uc::fold_sequence(std::move(file).value());
  for (const uc::StepState& state : folded.made.states) {
    if (!uc::broken_layers(*state.form).empty()) std::abort();
  }
  (void)uc::steps_json(folded.made, 0.25);
  return 0;
}
