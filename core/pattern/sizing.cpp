#include "pattern/sizing.h"

#include "base/quantity.h"
#include "form/folded_form.h"
#include "form/rigid_form.h"
#include "geometry/least_box.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

constexpr int most_rounds = 60;       // of correcting the factor
constexpr double size_reached = 1e-9; // of the wanted size

/// Lengths that stay as they are when the piece becomes larger.
bool stays(const Parameter& parameter) { return parameter.name == "thickness" || parameter.name == "clearance"; }

Result<const PatternFamily*> family_of(const SizedFamily& sized) {
  const PatternFamily* family = find_pattern_family(sized.choice.name);
  if (!family) return no_such_family(sized.choice.name);
  return family;
}

Status within_ranges(const PatternFamily& family, const SizedFamily& sized) {
  const double longest = std::max(sized.sheet.width(), sized.sheet.height());
  if (!family.own_sheet && !(longest >= least_length_mm && longest <= greatest_length_mm))
    return Error{fmt::format("This needs a sheet of {} mm, which is out of range.", format_number(longest, 3))};
  for (const Parameter& p : family.parameters) {
    const auto value = sized.choice.values.find(p.name);
    if (value == sized.choice.values.end()) continue;
    if (const auto ok = check_parameter(p, value->second); !ok) return ok;
  }
  return Done{};
}

Result<DrawnPattern> drawn_whole(const SizedFamily& sized) {
  DrawnPattern drawn = drawn_pattern(sized);
  if (!drawn.wrong.empty()) return Error{drawn.wrong.front().sentence};
  return drawn;
}

} // namespace

DrawnPattern drawn_pattern(const SizedFamily& sized) {
  return drawn_pattern(family_design(sized.choice.name, sized.choice.values), sized.sheet.outline());
}

std::optional<Eigen::Vector3d> finished_box(const DrawnPattern& drawn) {
  const FamilyFigures& f = drawn.figures;
  const CreasePattern& pattern = drawn.healed.pattern;
  if (f.packed_mm) {
    const auto [across, high] = *f.packed_mm;
    return Eigen::Vector3d{std::max(across, high), across, std::min(across, high)};
  }
  if (drawn.usual_part == 0) { // creased, and lies open
    const Point size = least_rectangle(pattern.vertices);
    return Eigen::Vector3d{size.x(), size.y(), 0};
  }
  if (drawn.usual_part < 1 && !drawn.lies_flat) return std::nullopt;
  if (!drawn.lies_flat) {
    const auto form = rigid_form(pattern, drawn.full_deg);
    return form ? std::optional(least_box(form->vertices, form->normals)) : std::nullopt;
  }
  const auto form = folded_form(pattern, graph_of(pattern));
  if (!form || !form->open_loop.empty()) return std::nullopt;
  const Point size = folded_size(*form);
  return Eigen::Vector3d{size.x(), size.y(), 0};
}

double narrowest_pleat(const DrawnPattern& drawn, const Polygon& sheet) {
  return drawn.figures.pleat_mm > 0 ? drawn.figures.pleat_mm
                                    : bounding_box(sheet).size().x() / std::max(1, drawn.design.count);
}

SizedFamily scaled(SizedFamily sized, double factor) {
  const PatternFamily* family = find_pattern_family(sized.choice.name);
  if (!family || !family->own_sheet) {
    sized.sheet = sized.sheet.scaled(factor);
    return sized;
  }
  for (const Parameter& p : family->parameters) {
    if (p.type != ParameterType::mm || stays(p)) continue;
    sized.choice.values.emplace(p.name, p.normal).first->second *= factor;
  }
  return sized;
}

Result<SizedFamily> sized_to_finish(SizedFamily sized, double finished_mm,
                                    const std::function<std::optional<Eigen::Vector3d>(const DrawnPattern&)>& size_of) {
  const auto family = family_of(sized);
  if (!family) return Error{family.error()};
  for (int round = 0; round < most_rounds; ++round) {
    const auto drawn = drawn_whole(sized);
    if (!drawn) return Error{drawn.error()};
    const auto now = size_of(*drawn);
    if (!now || !(now->maxCoeff() > 0))
      return Error{fmt::format("the finished size of {} is not known", sized.choice.name)};
    if (std::abs(now->maxCoeff() - finished_mm) < size_reached * finished_mm) return sized;
    sized = scaled(std::move(sized), finished_mm / now->maxCoeff());
    if (const auto ok = within_ranges(**family, sized); !ok) return Error{ok.error()};
  }
  return Error{"no sheet gives this size; thickness and clearance are too large for it"};
}

Result<SizedFamily> sized_to_hold(SizedFamily sized, const std::array<double, 3>& inside_mm) {
  const auto family = family_of(sized);
  if (!family) return Error{family.error()};
  if ((*family)->for_inside) {
    sized.choice.values = (*family)->for_inside(sized.choice.values, inside_mm);
  } else {
    const auto drawn = drawn_whole(sized);
    if (!drawn) return Error{drawn.error()};
    const auto now = drawn->figures.inside_mm;
    if (!now) return Error{fmt::format("{} has no inside", sized.choice.name)};
    double factor = 0;
    for (std::size_t i = 0; i < inside_mm.size(); ++i) factor = std::max(factor, inside_mm.at(i) / now->at(i));
    sized = scaled(std::move(sized), factor);
  }
  if (const auto ok = within_ranges(**family, sized); !ok) return Error{ok.error()};
  return sized;
}

} // namespace uc
