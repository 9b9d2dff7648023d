// The programme: an ordered list of moves on a sheet. Everything a folder does here ends as one, so drawing, numbering,
// printing, running, timing and logging are written once, for Programme.
#pragma once

#include "geometry/polygon.h"
#include "programme/move.h"

#include <memory>

namespace uc {

class Folding;

struct Programme {
  Polygon sheet; // outline of the bare sheet, mm
  std::vector<Element> elements;
  std::vector<Move> moves;
  std::shared_ptr<const Folding> folding; // of a programme whose paper stays folded between moves; else null

  [[nodiscard]] const Element* find(ElementId id) const;
  [[nodiscard]] bool empty() const { return moves.empty(); }
  [[nodiscard]] double planned_seconds() const;
  [[nodiscard]] int count(MoveKind kind) const;
};

/// What has become of the sheet after the first `moves_done` moves.
struct SheetState {
  struct Crease {
    ElementId element;
    int made_by = 0; // index of the move, -1 when it was there before
    bool pinch = false;
    Fold fold = Fold::undirected;
    bool both_ways = false;
    std::vector<Segment> spans;
    std::vector<Segment> reversed; // further parts, folded the other way
    [[nodiscard]] std::vector<Segment> all() const;
  };
  std::vector<Crease> creases; // in the order in which they were first made
  bool underside_up = false;
  double turned_deg = 0; // counter-clockwise as the folder sees it, after the mirroring of a turn-over
};
/// Lays the sheet as a move leaves it that turns it over or rotates it; others leave it as it lies.
void handle(SheetState& state, const Move& move);
/// Moves listed in `skipped` leave no mark, yet still turn the sheet.
SheetState state_after(const Programme& programme, int moves_done, const std::vector<int>& skipped = {});

/// How the folder sees sheet coordinates: mirrored left to right when the underside is up, then turned, about `centre`.
Isometry view_of(const SheetState& state, const Point& centre);

/// Whether the move at `from` may be moved to index `to` without coming before what it needs or after what needs it,
/// and without changing which side is up for any other move.
bool may_reorder(const Programme& programme, int from, int to);
Programme reordered(const Programme& programme, int from, int to);

} // namespace uc
