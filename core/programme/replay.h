// A programme followed by its sentences alone, on a flat sheet. Of every fold it works out all creases that bring
// together what the sentence says, among the creases, marks and edges that are on the paper then, and so whether the
// hands can know which crease is meant.
#pragma once

#include "programme/programme.h"

namespace uc {

enum class Doubt {
  no_such_crease, // the crease planned does not bring that together on the paper
  other_creases,  // others bring it together as well
  any_crease      // it does not fix the crease: one can be turned or shifted and still do
};
template <>
inline constexpr auto enum_words<Doubt> = std::to_array<Word<Doubt>>({{Doubt::no_such_crease, "no-such-crease"},
                                                                      {Doubt::other_creases, "other-creases"},
                                                                      {Doubt::any_crease, "any-crease"}});

struct Doubtful {
  std::size_t move = 0;
  Doubt doubt = Doubt::no_such_crease;
  std::vector<Line> others; // of other_creases, on the bare sheet
};

/// All doubtful folds, in the order of the moves. Creases within `tolerance_mm` of each other on the sheet are one;
/// what lies within it of a line or mark is seen on it. Programmes of steps and units have states of their own and are
/// not looked at.
std::vector<Doubtful> doubtful_folds(const Programme& programme, double tolerance_mm = 0.3);

} // namespace uc
