// A sheet on its way pushed over by hand: the middle and the corner across are held, one corner is moved to the other
// side, then all hands let go. A sheet that can rest in two shapes, such as a pleated saddle, stays in the other one.
#pragma once

#include "collapse/closing.h"

namespace uc {

struct PushWish {
  Point at_mm = Point::Zero(); // on the flat sheet; the corner nearest to it is pushed
  /// Across the sheet, towards the side of its face; nothing: until it lies as far beyond the middle as before it.
  std::optional<double> by_mm;
};

struct Pushed {
  VertexId corner;
  std::vector<CollapseState> way; // while it is held
  CollapseState after;            // when hands have let go
  double energy_before = 0;       // at rest, over the stiffness of a bar
  double energy_after = 0;
  double moved_mm = 0; // root mean square, with the shapes before and after laid on each other
  /// It rests in another shape: one that differs by more than a hundredth of the sheet's size.
  bool gone_over = false;
};

/// Creases keep the targets that they have in `from`. Fails where the corner is the middle, or lies level with it and
/// nothing says how far to push, and when it was stopped.
Result<Pushed> pushed(const FoldMesh& mesh, const CollapseState& from, const FoldStiffness& stiffness,
                      const PushWish& wish, const Progress* progress = nullptr);

} // namespace uc
