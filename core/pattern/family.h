// Families of patterns: each is a table of parameters and a function that draws it, in a file of its own in families/
// and one line in the list. A design may be a family with values; it is drawn whenever it is needed, so the parameters
// stay live. A family draws by rules or line by line; what it knows of the finished piece it says as figures.
#pragma once

#include "pattern/design.h"
#include "pattern/parameter.h"

#include <array>

namespace uc {

/// What a family makes, in the order of the gallery.
enum class FamilyGroup { grid, relief, tessellation, wrap, web, strip, box, star, solid };
template <>
inline constexpr auto
    enum_words<FamilyGroup> = std::to_array<Word<FamilyGroup>>({{FamilyGroup::grid, "grid"},
                                                                {FamilyGroup::relief, "relief"},
                                                                {FamilyGroup::tessellation, "tessellation"},
                                                                {FamilyGroup::wrap, "wrap"},
                                                                {FamilyGroup::web, "web"},
                                                                {FamilyGroup::strip, "strip"},
                                                                {FamilyGroup::box, "box"},
                                                                {FamilyGroup::star, "star"},
                                                                {FamilyGroup::solid, "solid"}});

struct PatternFamily {
  std::string name;  // as typed: chevron
  std::string title; // as shown
  FamilyGroup group = FamilyGroup::tessellation;
  bool flat_foldable = true;
  std::vector<Parameter> parameters;
  /// Draws on a sheet with directions, for values that are all there and within their ranges; fails with one sentence
  /// where together they draw nothing.
  Result<FamilyDrawing> (*draw)(const ParameterValues& values, const Polygon& sheet) = nullptr;
  /// Lengths are parameters: what is drawn brings its own sheet, whatever sheet there is.
  bool own_sheet = false;
  /// Values with which the inside of a box becomes width x depth x height in mm; null where the sheet's side alone
  /// decides.
  ParameterValues (*for_inside)(ParameterValues values, const std::array<double, 3>& inside_mm) = nullptr;

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

/// The design itself, or, of a family, the rules or lines it draws on a sheet; directions that were found stay beside
/// them.
Result<FamilyDrawing> resolved(const PatternDesign& design, const Polygon& sheet);

} // namespace uc
