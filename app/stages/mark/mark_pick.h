// What a click on the paper asks for, written as it would be typed.
#pragma once

#include "project/project.h"

#include <QString>

#include <optional>

namespace uc::app {

/// Marks that can be pointed at: corners of the sheet, and what the planned references end in, mm.
std::vector<Point> known_marks(const Project& project);

/// The known mark within reach of a place, else the place itself.
Point snapped(const Project& project, const Point& at, double reach_mm);

/// "1/4 of the bottom edge" or "61.5 mm from the left" near an edge, "middle", else "120,80"; with a place picked
/// before, the line through both: "diagonal", "line 0,0 120,80". Empty when nothing has to be folded for it: a corner,
/// two places that are one.
QString picked_target(const Project& project, const Point& at, double reach_mm,
                      const std::optional<Point>& from = std::nullopt);

} // namespace uc::app
