// How one unit is folded, as one page: its steps drawn, or told in words where simple folds do not carry.
#pragma once

#include "io/page.h"
#include "io/pdf.h"
#include "programme/text.h"
#include "unit/unit_plan.h"

namespace uc {

Page unit_page(const UnitPlan& plan, const TextStyle& style, const PageFonts& fonts);

} // namespace uc
