// Sizes of a family, both ways: what the finished piece measures, and the sheet and lengths that give a wanted one.
#pragma once

#include "paper/sheet.h"
#include "pattern/family.h"

#include <array>
#include <functional>
#include <optional>

namespace uc {

/// A family with its values and the sheet it is drawn on; families that bring their own sheet do not look at it.
struct SizedFamily {
  FamilyChoice choice;
  Sheet sheet;
};
DrawnPattern drawn_pattern(const SizedFamily& sized);

/// The sides of the least box about the finished piece, mm, the longest first, without its thickness: of what lies flat
/// the least rectangle about the folded form, of wraps the box about the packed roll, of what stands in space with flat
/// facets the box about that. What can lie flat is measured flat, even where hands leave it open. None where only the
/// collapse tells it (see closed_size.h).
std::optional<Eigen::Vector3d> finished_box(const DrawnPattern& drawn);

/// Width in mm of the narrowest pleat: what the family says, else a cell of the grid.
double narrowest_pleat(const DrawnPattern& drawn, const Polygon& sheet);

/// The same piece with every length multiplied, those of thickness and clearance excepted: the sheet, or the lengths
/// that make it.
SizedFamily scaled(SizedFamily sized, double factor);

/// The finished piece has this longer side, mm. One step is exact where every length scales; thickness and clearance do
/// not, so it is repeated. `size_of` tells the finished size of what is drawn. Fails where no finished size is known
/// and where a length leaves its range.
Result<SizedFamily>
sized_to_finish(SizedFamily sized, double finished_mm,
                const std::function<std::optional<Eigen::Vector3d>(const DrawnPattern&)>& size_of = finished_box);

/// The box that holds width x depth x height, mm: exactly where its lengths are parameters, else the least that is
/// large enough. Fails for what has no inside and where a length leaves its range.
Result<SizedFamily> sized_to_hold(SizedFamily sized, const std::array<double, 3>& inside_mm);

} // namespace uc
