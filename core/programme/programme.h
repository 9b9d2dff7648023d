// The programme: an ordered list of moves on a sheet. Everything a folder does here ends as one, so drawing, numbering,
// printing, running, timing and logging are written once, for Programme.
#pragma once

#include "geometry/polygon.h"
#include "programme/move.h"
#include "programme/space_states.h"
#include "programme/unit_map.h"

#include <algorithm>
#include <memory>

namespace uc {

class Folding;

/// Moves that are done several times alike: said once, counted while folding.
enum class RepeatWay { directions, again, mirrored, behind };
template <>
inline constexpr auto enum_words<RepeatWay> = std::to_array<Word<RepeatWay>>({{RepeatWay::directions, "directions"},
                                                                              {RepeatWay::again, "again"},
                                                                              {RepeatWay::mirrored, "mirrored"},
                                                                              {RepeatWay::behind, "behind"}});
struct Repeat {
  RepeatWay way = RepeatWay::again;
  int times = 2;
};

struct Programme {
  Polygon sheet; // outline of the bare sheet, mm
  std::vector<Element> elements;
  std::vector<Move> moves;
  std::vector<Repeat> repeats;              // that moves belong to by Move::repeat
  std::shared_ptr<const Folding> folding;   // of a programme whose paper stays folded between moves; else null
  std::shared_ptr<const SpaceStates> space; // of a programme with a collapse; else null
  std::shared_ptr<const UnitMap> units;     // of a programme that folds and joins units; else null

  [[nodiscard]] const Element* find(ElementId id) const;
  [[nodiscard]] bool empty() const { return moves.empty(); }
  [[nodiscard]] double planned_seconds() const;
  /// How many moves are of an effect, count<Cut>(), or made in a way, count(HandleWay::rotate).
  template <typename Effect> [[nodiscard]] int count() const {
    return static_cast<int>(std::count_if(moves.begin(), moves.end(), [](const Move& m) { return m.is<Effect>(); }));
  }
  template <typename Way> [[nodiscard]] int count(Way way) const {
    return static_cast<int>(std::count_if(moves.begin(), moves.end(), [&](const Move& m) { return m.is(way); }));
  }
};

/// Adds the elements, moves and repeats of another programme on the same sheet, after those that are there; its states
/// in space and its units take the place of others.
void append(Programme& to, const Programme& more);

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
/// Lays the sheet as turning it over or rotating it leaves it.
void handle(SheetState& state, const Handle& how);
/// Moves listed in `skipped` leave no mark, yet still turn the sheet.
SheetState state_after(const Programme& programme, int moves_done, const std::vector<int>& skipped = {});

/// The outline of the sheet before a move: the bare sheet's, or what cuts have left of it.
Polygon outline_before(const Programme& programme, std::size_t move);

/// How the folder sees sheet coordinates: mirrored left to right when the underside is up, then turned, about `centre`.
Isometry view_of(const SheetState& state, const Point& centre);

/// Whether the move at `from` may be moved to index `to` without coming before what it needs or after what needs it,
/// and without changing which side is up for any other move.
bool may_reorder(const Programme& programme, int from, int to);
Programme reordered(const Programme& programme, int from, int to);

} // namespace uc
