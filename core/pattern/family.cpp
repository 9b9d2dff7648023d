#include "pattern/family.h"

#include "base/clean_text.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {

const std::vector<PatternFamily>& pattern_families() {
  static const std::vector<PatternFamily> all = {chevron_family(), square_twists_family(), turned_pleats_family(),
                                                 map_family()};
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

Result<PatternDesign> resolved(const PatternDesign& design) {
  if (!design.family) return design;
  const auto choice = completed(*design.family);
  if (!choice) return Error{choice.error()};
  auto made = find_pattern_family(choice->name)->make(choice->values);
  if (!made) return Error{made.error()};
  PatternDesign out = std::move(made).value();
  out.directions.insert(out.directions.end(), design.directions.begin(), design.directions.end());
  return out;
}

} // namespace uc
