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

int Programme::count(MoveKind kind) const {
  return static_cast<int>(std::count_if(moves.begin(), moves.end(), [&](const Move& m) { return m.kind == kind; }));
}

std::vector<Segment> SheetState::Crease::all() const {
  std::vector<Segment> both = spans;
  both.insert(both.end(), reversed.begin(), reversed.end());
  return both;
}

Effect effect_of(MoveKind kind) {
  switch (kind) {
  case MoveKind::align:
  case MoveKind::crease_through:
  case MoveKind::crease_between:
  case MoveKind::pinch:
  case MoveKind::guess:
  case MoveKind::score:
  case MoveKind::mark:
  case MoveKind::work_both_ways:
    return Effect::make_creases;
  case MoveKind::fold:
  case MoveKind::unfold:
    return Effect::refold;
  case MoveKind::collapse:
    return Effect::collapse;
  case MoveKind::join:
    return Effect::join;
  case MoveKind::turn_over:
  case MoveKind::rotate:
    return Effect::handle;
  case MoveKind::cut:
    return Effect::cut;
  case MoveKind::wait:
  case MoveKind::damp:
  case MoveKind::clip:
  case MoveKind::glue:
  case MoveKind::curl:
  case MoveKind::check:
    return Effect::work;
  }
  return Effect::work;
}

void handle(SheetState& state, const Move& move) {
  if (move.kind == MoveKind::rotate) {
    state.turned_deg = std::remainder(state.turned_deg + move.degrees, 360);
    return;
  }
  if (move.kind != MoveKind::turn_over) return;
  state.underside_up = !state.underside_up;
  state.turned_deg = -state.turned_deg;
}

namespace {

using CreasePlaces = std::unordered_map<ElementId, std::size_t>; // of each element's crease in the state

void crease(SheetState& state, CreasePlaces& place, const Move& move, int index) {
  const auto known = place.find(*move.makes);
  if (move.kind == MoveKind::work_both_ways) {
    if (known == place.end()) return;
    SheetState::Crease& crease = state.creases[known->second];
    crease.both_ways = !move.settles;
    if (!move.settles) return;
    crease.spans = without(crease.spans, move.spans);
    crease.reversed.insert(crease.reversed.end(), move.spans.begin(), move.spans.end());
    return;
  }
  if (move.kind == MoveKind::score && known != place.end()) {
    auto& reversed = state.creases[known->second].reversed;
    reversed.insert(reversed.end(), move.spans.begin(), move.spans.end());
    return;
  }
  const auto [here, fresh] = place.try_emplace(*move.makes, state.creases.size());
  if (fresh) state.creases.emplace_back();
  SheetState::Crease& crease = state.creases[here->second];
  crease.element = *move.makes;
  crease.made_by = index;
  crease.pinch = move.extent == Extent::pinch;
  crease.fold = move.fold;
  crease.spans = move.spans;
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
    switch (effect_of(move.kind)) {
    case Effect::handle:
      handle(state, move);
      break;
    case Effect::make_creases:
      if (!skip && move.makes) crease(state, place, move, i);
      break;
    case Effect::refold:
    case Effect::collapse:
    case Effect::join:
    case Effect::cut:
    case Effect::work: // leave the creases as they are
      break;
    }
  }
  return state;
}

Isometry view_of(const SheetState& state, const Point& centre) {
  const Isometry turn = Isometry::rotation_about(centre, state.turned_deg * std::numbers::pi / 180);
  if (!state.underside_up) return turn;
  return turn * Isometry::reflection_in(Line::with_normal(Point{1, 0}, centre.x()));
}

namespace {

bool handles(const Move& move) { return effect_of(move.kind) == Effect::handle; }

/// Everything a move refers to, what its crease ends at too, with the lines its marks are crossings of.
std::vector<ElementId> referred_to(const Programme& programme, const Move& move) {
  std::vector<ElementId> ids;
  for (const auto* list : {&move.moving, &move.onto, &move.through, &move.ends}) {
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
  if (handles(first) || handles(second)) return true;
  if (first.makes && second.makes && *first.makes == *second.makes) return true;
  const auto uses = [&](const Move& move, const std::optional<ElementId>& made) {
    const auto ids = referred_to(programme, move);
    return made && std::find(ids.begin(), ids.end(), *made) != ids.end();
  };
  return uses(second, first.makes) || uses(first, second.makes);
}

} // namespace

bool may_reorder(const Programme& programme, int from, int to) {
  const int count = static_cast<int>(programme.moves.size());
  if (from < 0 || to < 0 || from >= count || to >= count || from == to || programme.folding) return false;
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
