// The lines that the creases of a pattern lie on. A folder creases lines, not edges of a graph: one line may carry many
// creases, mountains and valleys in turn.
#pragma once

#include "form/crease_pattern.h"

namespace uc {

struct CarrierLine {
  struct Piece {
    double low = 0; // places along line.direction(), mm
    double high = 0;
    EdgeKind kind = EdgeKind::undirected;
  };
  Line line;                 // normal to the right or straight up
  std::vector<Piece> pieces; // in order; neighbours of one kind are joined

  [[nodiscard]] Point at(double place) const { return line.normal * line.c + place * line.direction(); }
  [[nodiscard]] double low() const { return pieces.front().low; }
  [[nodiscard]] double high() const { return pieces.back().high; }
  [[nodiscard]] double length() const;
  /// Pieces as segments; those of one kind when it is given. Pieces that touch are one segment.
  [[nodiscard]] std::vector<Segment> spans(std::optional<EdgeKind> only = std::nullopt) const;
};

/// All lines that carry a crease that folds, by direction, then by offset. Edges on one line to the pattern's snap
/// tolerance share it.
std::vector<CarrierLine> carrier_lines(const CreasePattern& pattern);

/// The pattern's outline when its raw edges bound a convex sheet, counter-clockwise and without straight corners;
/// empty for other sheets, and for those with cuts.
Polygon convex_outline(const CreasePattern& pattern);

} // namespace uc
