#include "pattern/family.h"

#include "base/clean_text.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {

const std::vector<PatternFamily>& pattern_families() {
  static const std::vector<PatternFamily> all = {square_grid_family(),
                                                 diagonal_grid_family(),
                                                 equilateral_grid_family(),
                                                 relief_family(),
                                                 four_arm_zigzag_family(),
                                                 turned_pleats_family(),
                                                 concentric_pleats_family(),
                                                 map_family(),
                                                 chevron_family(),
                                                 zigzag_row_family(),
                                                 waterbomb_family(),
                                                 triangle_row_family(),
                                                 square_twists_family(),
                                                 twist_tiling_family(),
                                                 triangle_sink_family(),
                                                 wrap_family(),
                                                 square_wrap_family(),
                                                 radial_web_family(),
                                                 accordion_strip_family(),
                                                 blintz_tray_family(),
                                                 tray_family(),
                                                 box_lid_family(),
                                                 carton_family(),
                                                 four_part_box_family(),
                                                 pouch_family(),
                                                 card_sleeve_family(),
                                                 twisted_star_family(),
                                                 petal_bowl_family(),
                                                 net_family(),
                                                 prism_family(),
                                                 dipyramid_family()};
  return all;
}

const Parameter* PatternFamily::parameter(std::string_view parameter_name) const {
  const auto it =
      std::find_if(parameters.begin(), parameters.end(), [&](const Parameter& p) { return p.name == parameter_name; });
  return it == parameters.end() ? nullptr : &*it;
}

const PatternFamily* find_pattern_family(std::string_view name) {
  const auto it = std::find_if(pattern_families().begin(), pattern_families().end(),
                               [&](const PatternFamily& f) { return f.name == name; });
  return it == pattern_families().end() ? nullptr : &*it;
}

Error no_such_family(std::string_view name) {
  std::string names;
  for (const PatternFamily& f : pattern_families()) names += (names.empty() ? "" : ", ") + f.name;
  return Error{fmt::format("\"{}\" is not a family known here; there are {}", clipped(shown_text(name), 60), names)};
}

FamilyChoice normal_choice(const PatternFamily& family) {
  FamilyChoice choice{family.name, {}};
  for (const Parameter& p : family.parameters) choice.values[p.name] = p.normal;
  return choice;
}

PatternDesign family_design(std::string_view name, ParameterValues values) {
  PatternDesign design;
  design.family = FamilyChoice{std::string(name), std::move(values)};
  return design;
}

Result<FamilyChoice> completed(FamilyChoice choice) {
  const PatternFamily* family = find_pattern_family(choice.name);
  if (!family) return no_such_family(choice.name);
  for (const auto& [name, value] : choice.values) {
    const Parameter* p = family->parameter(name);
    if (!p) {
      std::string names;
      for (const Parameter& known : family->parameters) names += (names.empty() ? "" : ", ") + known.name;
      return Error{
          fmt::format("{}: {} has no such parameter; it has {}", clipped(shown_text(name), 60), family->name, names)};
    }
    if (const auto ok = check_parameter(*p, value); !ok) return Error{ok.error()};
  }
  for (const Parameter& p : family->parameters) choice.values.try_emplace(p.name, p.normal);
  return choice;
}

Result<FamilyDrawing> resolved(const PatternDesign& design, const Polygon& sheet) {
  if (!design.family) return FamilyDrawing{design, {}};
  const auto choice = completed(*design.family);
  if (!choice) return Error{choice.error()};
  auto made = find_pattern_family(choice->name)->draw(choice->values, sheet);
  if (!made) return Error{made.error()};
  FamilyDrawing out = std::move(made).value();
  out.design.directions.insert(out.design.directions.end(), design.directions.begin(), design.directions.end());
  return out;
}

} // namespace uc
