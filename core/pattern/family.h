// Families of patterns: each is a table of parameters and a function that draws it, in a file of its own in families/
// and one line in the list. A design may be a family with values; its rules are made whenever they are needed, so the
// parameters stay live.
#pragma once

#include "pattern/design.h"
#include "pattern/parameter.h"

namespace uc {

struct PatternFamily {
  std::string name;  // as typed: chevron
  std::string title; // as shown
  bool flat_foldable = true;
  std::vector<Parameter> parameters;
  /// The rules, with directions, for values that are all there and within their ranges; fails where together they
  /// draw nothing.
  Result<PatternDesign> (*make)(const ParameterValues& values) = nullptr;

  [[nodiscard]] const Parameter* parameter(std::string_view parameter_name) const;
};

/// In the order in which they are offered.
const std::vector<PatternFamily>& pattern_families();
const PatternFamily* find_pattern_family(std::string_view name);
/// The sentence that says which there are.
Error no_such_family(std::string_view name);

/// A family with its normal values.
FamilyChoice normal_choice(const PatternFamily& family);
/// The design of a family with these values; of its normal ones when none are given.
PatternDesign family_design(std::string_view name, ParameterValues values = {});
/// Fails for unknown families and parameters, and for values out of range; what is not given gets its normal value.
Result<FamilyChoice> completed(FamilyChoice choice);

/// The design itself, or, of a family, the rules it makes; directions that were found stay beside them.
Result<PatternDesign> resolved(const PatternDesign& design);

} // namespace uc
