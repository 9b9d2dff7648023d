// A solid of units on paper: what to take and cut, how a unit is folded, the colours on the flat map, and each joint in
// order, as numbered drawings with their words.
#pragma once

#include "programme/figure.h"
#include "programme/text.h"
#include "unit/unit_plan.h"

#include <optional>

namespace uc {

/// The sheets with their pieces, in rows, the pieces in their colours and numbered as the units.
Figure cut_figure(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette);

/// The unit's piece with what is cut out of it and creased, at true scale; none where the whole piece is folded.
std::optional<Figure> unit_template(const UnitPlan& plan);

struct UnitDrawing {
  Figure figure;
  std::string text, check, caution;
};
/// Papers and cuts; the unit, its steps where there are any; the colours: what comes before the joints.
std::vector<UnitDrawing> unit_preparation(const UnitPlan& plan, const Programme& programme, const TextStyle& style);

/// "There are 42 pieces: 12 of 160 x 20 mm for the faces, 30 of 80 x 20 mm for the clips."
std::string pieces_text(const UnitPlan& plan, const TextStyle& style);

/// "10 of sand, 10 of night": sheets of each colour.
std::string papers_text(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette, const TextStyle& style);

} // namespace uc
