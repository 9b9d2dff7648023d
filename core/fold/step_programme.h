// A fold sequence as a programme, so that it is shown, printed, run, timed and logged like any other.
#pragma once

#include "fold/sequence.h"
#include "precision/hand_profile.h"
#include "programme/folding.h"

namespace uc {

/// One move per move of the sequence, as far as it can be folded. `source` is the steps file it was read from.
Programme programme_of(FoldedSequence folded, const HandProfile& hand, std::string source, double caliper_mm = 0);

/// What a programme that was stored has lost: forms, words and drawings, made again from its steps file. Fails when the
/// file cannot be read, or folds other moves than these.
Result<std::shared_ptr<const Folding>> folding_from(const std::string& source, const Programme& stored);

/// The steps file folded, as far as it goes. Fails when the file cannot be read.
Result<FoldedSequence> folded_steps(const std::string& source);

/// The same steps for another sheet.
std::string with_sheet(const std::string& source, const Sheet& sheet);

} // namespace uc
