#include "programme/programme.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <unordered_map>

namespace uc {

const Element* Programme::find(ElementId id) const {
  for (const Element& e : elements) {
    if (e.id == id) return &e;
  }
  return nullptr;
}

double Programme::planned_seconds() const {
  double sum = 0;
  for (const Move& move : moves) sum += move.seconds;
  return sum;
}

void append(Programme& to, const Programme& more) {
  const int repeats = static_cast<int>(to.repeats.size());
  if (more.space) to.space = more.space;
  if (more.units) to.units = more.units;
  to.elements.insert(to.elements.end(), more.elements.begin(), more.elements.end());
  to.repeats.insert(to.repeats.end(), more.repeats.begin(), more.repeats.end());
  for (const Move& move : more.moves) {
    to.moves.push_back(move);
    if (move.repeat) to.moves.back().repeat->repeat += repeats;
  }
}

std::vector<Segment> SheetState::Crease::all() const {
  std::vector<Segment> both = spans;
  both.insert(both.end(), reversed.begin(), reversed.end());
  return both;
}

void handle(SheetState& state, const Handle& how) {
  if (how.way == HandleWay::rotate) {
    state.turned_deg = std::remainder(state.turned_deg + how.degrees, 360);
    return;
  }
  state.underside_up = !state.underside_up;
  state.turned_deg = -state.turned_deg;
}

namespace {

using CreasePlaces = std::unordered_map<ElementId, std::size_t>; // of each element's crease in the state

void crease(SheetState& state, CreasePlaces& place, const MakeCreases& made, int move) {
  const auto known = place.find(*made.makes);
  if (made.way == CreaseWay::both_ways) {
    if (known == place.end()) return;
    SheetState::Crease& crease = state.creases[known->second];
    crease.both_ways = !made.settles;
    if (!made.settles) return;
    crease.spans = without(crease.spans, made.spans);
    crease.reversed.insert(crease.reversed.end(), made.spans.begin(), made.spans.end());
    return;
  }
  if (made.way == CreaseWay::crease_on && known != place.end()) {
    SheetState::Crease& crease = state.creases[known->second];
    crease.spans.insert(crease.spans.end(), made.spans.begin(), made.spans.end());
    crease.pinch = false;
    return;
  }
  if (made.way == CreaseWay::score && known != place.end()) {
    auto& reversed = state.creases[known->second].reversed;
    reversed.insert(reversed.end(), made.spans.begin(), made.spans.end());
    return;
  }
  const auto [here, fresh] = place.try_emplace(*made.makes, state.creases.size());
  if (fresh) state.creases.emplace_back();
  SheetState::Crease& crease = state.creases[here->second];
  crease.element = *made.makes;
  crease.made_by = move;
  crease.pinch = made.extent == Extent::pinch;
  crease.fold = made.fold;
  crease.spans = made.spans;
}

} // namespace

SheetState state_after(const Programme& programme, int moves_done, const std::vector<int>& skipped) {
  SheetState state;
  CreasePlaces place;
  for (const Element& e : programme.elements) {
    if (!e.existing) continue;
    place.try_emplace(e.id, state.creases.size());
    state.creases.push_back({e.id, -1, false, Fold::undirected, false, e.spans, {}});
  }
  const int end = std::min(moves_done, static_cast<int>(programme.moves.size()));
  for (int i = 0; i < end; ++i) {
    const Move& move = programme.moves[static_cast<std::size_t>(i)];
    const bool skip = std::find(skipped.begin(), skipped.end(), i) != skipped.end();
    by_effect(
        move, [&](const Handle& how) { handle(state, how); },
        [&](const MakeCreases& made) {
          if (!skip && made.makes) crease(state, place, made, i);
        },
        // These leave the creases of a flat sheet as they are.
        [](const Refold&) {}, [](const Collapse&) {}, [](const FoldUnit&) {}, [](const Join&) {}, [](const Cut&) {},
        [](const Work&) {});
  }
  return state;
}

Polygon outline_before(const Programme& programme, std::size_t move) {
  Polygon outline = programme.sheet;
  for (std::size_t i = 0; i < std::min(move, programme.moves.size()); ++i) {
    const auto* cut = std::get_if<Cut>(&programme.moves[i].effect);
    if (!cut || !keeps_outline(*cut)) continue;
    outline.clear();
    for (const Segment& s : cut->along) outline.push_back(s.from);
  }
  return outline;
}

Isometry view_of(const SheetState& state, const Point& centre) {
  const Isometry turn = Isometry::rotation_about(centre, state.turned_deg * std::numbers::pi / 180);
  if (!state.underside_up) return turn;
  return turn * Isometry::reflection_in(Line::with_normal(Point{1, 0}, centre.x()));
}

namespace {

/// Everything a move refers to, what its crease ends at too, with the lines its marks are crossings of.
std::vector<ElementId> referred_to(const Programme& programme, const Move& move) {
  std::vector<ElementId> ids;
  for (const auto* list : {&move.aligned.moving, &move.aligned.onto, &move.aligned.through, &move.creases().ends}) {
    for (const ElementId id : *list) {
      ids.push_back(id);
      const Element* element = programme.find(id);
      if (element) ids.insert(ids.end(), element->made_of.begin(), element->made_of.end());
    }
  }
  return ids;
}

/// Whether two moves may not change places.
bool tied(const Programme& programme, const Move& first, const Move& second) {
  if (first.is<Handle>() || second.is<Handle>()) return true;
  // What is closed needs its creases, and what follows a cut lies on the piece.
  if (first.is<Collapse>() || second.is<Collapse>() || first.is<Cut>() || second.is<Cut>()) return true;
  const auto& made = first.creases().makes;
  const auto& made_then = second.creases().makes;
  if (made && made_then && *made == *made_then) return true;
  const auto uses = [&](const Move& move, const std::optional<ElementId>& element) {
    const auto ids = referred_to(programme, move);
    return element && std::find(ids.begin(), ids.end(), *element) != ids.end();
  };
  return uses(second, made) || uses(first, made_then);
}

} // namespace

bool may_reorder(const Programme& programme, int from, int to) {
  const int count = static_cast<int>(programme.moves.size());
  if (from < 0 || to < 0 || from >= count || to >= count || from == to) return false;
  if (programme.folding || programme.units) return false;
  const Move& moved = programme.moves[static_cast<std::size_t>(from)];
  for (int i = std::min(from, to); i <= std::max(from, to); ++i) {
    if (i != from && tied(programme, moved, programme.moves[static_cast<std::size_t>(i)])) return false;
  }
  return true;
}

Programme reordered(const Programme& programme, int from, int to) {
  Programme result = programme;
  const auto at = [&](int i) { return result.moves.begin() + i; };
  if (from < to)
    std::rotate(at(from), at(from + 1), at(to + 1));
  else
    std::rotate(at(to), at(from), at(from + 1));
  return result;
}

} // namespace uc
