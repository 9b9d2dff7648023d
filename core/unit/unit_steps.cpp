#include "unit/unit_steps.h"

#include "fold/step_programme.h"

namespace uc {

Point unit_piece(const UnitPlan& plan) {
  const UnitSheet& sheet = plan.sheet;
  const double width = std::min(sheet.width_mm, sheet.height_mm);
  if (plan.family->strips) return {4 * width, width};
  if (plan.family->units_per_sheet == 2) return {sheet.width_mm, sheet.height_mm / 2};
  return {sheet.width_mm, sheet.height_mm};
}

std::string unit_steps(const UnitFamily& family, const Point& piece_mm) {
  if (family.steps.empty()) return {};
  return with_sheet(family.steps, Sheet::rectangle(Millimetres{piece_mm.x()}, Millimetres{piece_mm.y()}));
}

std::optional<FoldedSequence> folded_unit(const UnitFamily& family, const Point& piece_mm) {
  const std::string steps = unit_steps(family, piece_mm);
  if (steps.empty()) return std::nullopt;
  auto folded = folded_steps(steps);
  if (!folded) return std::nullopt;
  return std::move(folded).value();
}

} // namespace uc
