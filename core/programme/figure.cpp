#include "programme/figure.h"

#include "programme/folding.h"
#include "programme/space_figure.h"
#include "programme/text.h"
#include "programme/unit_figure.h"

#include <algorithm>
#include <cmath>
#include <string>
#include <unordered_map>

namespace uc {
namespace {

LineStyle style_of(Fold fold, bool pinch, bool underside) {
  if (pinch) return LineStyle::pinch;
  if (fold == Fold::undirected) return LineStyle::undirected;
  return (fold == Fold::valley) != underside ? LineStyle::valley : LineStyle::mountain;
}

/// Places in the list of elements, from 1, which is what drawings name lines by.
class Places {
public:
  explicit Places(const Programme& programme) {
    for (std::size_t i = 0; i < programme.elements.size(); ++i)
      places_.try_emplace(programme.elements[i].id, static_cast<int>(i) + 1);
  }
  [[nodiscard]] int of(ElementId id) const {
    const auto at = places_.find(id);
    return at == places_.end() ? 0 : at->second;
  }

private:
  std::unordered_map<ElementId, int> places_;
};

void add_creases(Figure& figure, const SheetState& state, const Places& places) {
  for (const auto& crease : state.creases) {
    const Fold other = crease.fold == Fold::valley     ? Fold::mountain
                       : crease.fold == Fold::mountain ? Fold::valley
                                                       : Fold::undirected;
    for (const auto& [spans, fold] : {std::pair{&crease.spans, crease.fold}, std::pair{&crease.reversed, other}}) {
      for (const Segment& s : *spans) {
        figure.lines.push_back({{figure.view * s.from, figure.view * s.to},
                                style_of(fold, crease.pinch, state.underside_up),
                                places.of(crease.element),
                                state.underside_up});
      }
    }
  }
}

std::vector<Segment> spans_of(const Programme& programme, const SheetState& state, ElementId id) {
  for (const auto& crease : state.creases) {
    if (crease.element == id) return crease.all();
  }
  const Element* e = programme.find(id);
  return e ? e->spans : std::vector<Segment>{};
}

void add_element(Figure& figure, const Programme& programme, const SheetState& state, ElementId id, LineStyle style,
                 const Places& places) {
  for (const Segment& s : spans_of(programme, state, id)) {
    if (s.length() < 1e-9)
      figure.dots.push_back(figure.view * s.from);
    else
      figure.lines.push_back({{figure.view * s.from, figure.view * s.to}, style, places.of(id), state.underside_up});
  }
}

std::optional<Line> line_of(const std::vector<Segment>& spans) {
  const auto longest = std::max_element(spans.begin(), spans.end(),
                                        [](const Segment& a, const Segment& b) { return a.length() < b.length(); });
  if (longest == spans.end() || longest->length() < 1e-9) return std::nullopt;
  return Line::through(longest->from, longest->to);
}

/// The line of a crease from rim to rim as it is seen, its lower end first.
std::optional<Segment> whole_line(const Figure& figure, const Polygon& outline, const std::vector<Segment>& spans) {
  const auto axis = line_of(spans);
  if (!axis) return std::nullopt;
  const auto whole = clip(*axis, outline);
  if (whole.empty()) return std::nullopt;
  const Segment seen{figure.view * whole.front().from, figure.view * whole.back().to};
  const bool from_first = seen.from.y() < seen.to.y() - 1e-6 ||
                          (std::abs(seen.from.y() - seen.to.y()) <= 1e-6 && seen.from.x() > seen.to.x());
  return from_first ? seen : Segment{seen.to, seen.from};
}

/// The fraction of a crease at the end that is seen lowest; a faint guide where only pinches stand for it.
void add_fraction(Figure& figure, const Programme& programme, ElementId id, const std::vector<Segment>& spans,
                  const Polygon& outline, bool pinched) {
  const Element* e = programme.find(id);
  if (!e || e->role != Role::crease) return;
  const auto seen = whole_line(figure, outline, spans);
  if (!seen) return;
  if (pinched) figure.lines.push_back({*seen, LineStyle::unfolded, 0, false});
  if (!e->label.empty()) return; // its name is among those of the sentence
  figure.labels.push_back({seen->from, fraction_name(*e)});
}

/// A letter or number where the thing lies, clear of those that are there.
void add_name(Figure& figure, const Element& e, const std::vector<Segment>& spans, const Polygon& outline) {
  if (spans.empty()) return;
  std::vector<Figure::Label> places;
  const Segment first{figure.view * spans.front().from, figure.view * spans.front().to};
  if (e.role == Role::point || e.role == Role::corner) {
    places.push_back({first.from, e.label, true});
  } else if (const auto seen = e.role == Role::crease ? whole_line(figure, outline, spans) : std::nullopt) {
    double creased = 0;
    for (const Segment& s : spans) creased += s.length();
    // Of a pinch at the pinch; else at the rim, along what is creased, along where it would run.
    if (creased < 0.35 * seen->length()) {
      places.push_back({first.at(0.5), e.label, true});
    } else {
      const auto reaches = [&](const Segment& s) {
        return std::min((figure.view * s.from - seen->from).norm(), (figure.view * s.to - seen->from).norm()) <
               0.02 * seen->length();
      };
      if (std::any_of(spans.begin(), spans.end(), reaches)) places.push_back({seen->from, e.label});
      for (const double part : {0.62, 0.38, 0.8, 0.2}) places.push_back({first.at(part), e.label, true});
      for (const double part : {0.7, 0.3, 0.85, 0.15, 0.5}) places.push_back({seen->at(part), e.label, true});
    }
  } else {
    for (const double part : {0.5, 0.3, 0.7}) places.push_back({first.at(part), e.label, true});
  }
  const double apart = 0.07 * bounding_box(figure.outline).size().maxCoeff();
  const auto free = std::find_if(places.begin(), places.end(), [&](const Figure::Label& place) {
    return std::none_of(figure.labels.begin(), figure.labels.end(),
                        [&](const Figure::Label& l) { return (l.at - place.at).norm() < apart; });
  });
  Figure::Label label = free == places.end() ? places.front() : *free;
  label.name = true;
  figure.labels.push_back(std::move(label));
}

/// All that the sentence of the move calls by a letter or a number, points first, which cannot be named elsewhere.
void add_names(Figure& figure, const Programme& programme, const SheetState& state, int index, const Polygon& outline) {
  const auto named = ProgrammeTeller(programme).named(static_cast<std::size_t>(index));
  const Move& move = programme.moves[static_cast<std::size_t>(index)];
  for (const bool points : {true, false}) {
    for (const ElementId id : named) {
      const Element* e = programme.find(id);
      if (!e || (e->role == Role::point || e->role == Role::corner) != points) continue;
      const bool made = move.creases().makes == id && !move.creases().spans.empty();
      add_name(figure, *e, made ? move.creases().spans : spans_of(programme, state, id), outline);
    }
  }
}

Point middle_of(const std::vector<Segment>& spans) { return (spans.front().from + spans.back().to) / 2; }

/// A bow from p to q, bulging to the left of the way.
FigureArrow bow(const Point& p, const Point& q) {
  const Point d = q - p;
  return {p, (p + q) / 2 + 0.28 * Point{-d.y(), d.x()}, q, ArrowWay::over_and_back};
}

void add_alignment(Figure& figure, const Programme& programme, const SheetState& state, const Move& move,
                   const Polygon& outline, const Places& places) {
  const auto pinched = [&](ElementId id) {
    return std::any_of(state.creases.begin(), state.creases.end(),
                       [&](const auto& c) { return c.element == id && c.pinch; });
  };
  for (const auto& [ids, style] :
       {std::pair{&move.aligned.through, LineStyle::target}, std::pair{&move.aligned.onto, LineStyle::target},
        std::pair{&move.aligned.moving, LineStyle::moving}}) {
    for (const ElementId id : *ids) {
      add_fraction(figure, programme, id, spans_of(programme, state, id), outline, pinched(id));
      add_element(figure, programme, state, id, style, places);
    }
  }
  const bool through = move.is(CreaseWay::through);
  if (move.aligned.moving.empty() || move.aligned.onto.empty()) return;
  const auto axis = line_of(through ? spans_of(programme, state, move.aligned.onto.front()) : move.creases().spans);
  if (!axis) return;
  const Isometry fold = Isometry::reflection_in(*axis);
  for (std::size_t i = 0; i < std::min(move.aligned.moving.size(), move.aligned.onto.size()); ++i) {
    const auto moving = spans_of(programme, state, move.aligned.moving[i]);
    if (moving.empty()) continue;
    if (i > 0 && move.aligned.moving[i] == move.aligned.onto[i]) continue; // the guide goes where the corner goes
    Point from = middle_of(moving);
    if (move.aligned.moving[i] == move.aligned.onto[i]) {
      // A line folded onto itself: one end of it comes over.
      const Point a = moving.front().from;
      const Point b = moving.back().to;
      from = std::abs(axis->distance(a)) < std::abs(axis->distance(b)) ? a : b;
    }
    figure.arrows.push_back(bow(figure.view * from, figure.view * (fold * from)));
    if (i > 0) continue;
    Line side = *axis;
    if (side.distance(from) > 0) side = {-side.normal, -side.c};
    for (const Point& p : clip_to_side(outline, side)) figure.flap.push_back(figure.view * (fold * p));
  }
}

/// What the move does, drawn on the sheet as it lies before it.
void add_effect(Figure& figure, const Programme& programme, const SheetState& state, const Move& move,
                const Polygon& outline, const Places& places) {
  const auto lines = [&](const std::vector<Segment>& spans, LineStyle style, const std::optional<ElementId>& of = {}) {
    for (const Segment& s : spans)
      figure.lines.push_back(
          {{figure.view * s.from, figure.view * s.to}, style, of ? places.of(*of) : 0, state.underside_up});
  };
  add_alignment(figure, programme, state, move, outline, places);
  by_effect(
      move,
      [&](const MakeCreases& made) {
        const bool pinch = made.extent == Extent::pinch;
        if (made.makes && made.way != CreaseWay::both_ways)
          add_fraction(figure, programme, *made.makes, made.spans, outline, pinch);
        lines(made.spans, pinch ? LineStyle::pinch : LineStyle::fresh, made.makes);
      },
      [&](const Cut& cut) { lines(cut.along, LineStyle::cut); },
      [&](const Refold& e) { lines(e.creases.spans, LineStyle::fresh, e.creases.makes); }, // else by its Folding
      [](const Collapse&) {}, [](const FoldUnit&) {}, [](const Join&) {},
      [&](const Handle& how) { // the arrow is the figure's own
        figure.turns_over = how.way == HandleWay::turn_over;
        figure.turn_deg = how.degrees;
      },
      [&](const Work& work) { // what is looked at is drawn with the alignment
        if (work.place_mm) figure.dots.push_back(figure.view * Point((*work.place_mm)[0], (*work.place_mm)[1]));
      });
}

} // namespace

Box Figure::bounds() const {
  std::vector<Point> all(outline.begin(), outline.end());
  all.insert(all.end(), flap.begin(), flap.end());
  for (const FigurePatch& patch : patches) all.insert(all.end(), patch.outline.begin(), patch.outline.end());
  // Folded paper may be opened far beyond where it lies.
  for (std::size_t i = 0; i < arrows.size() && !patches.empty(); ++i)
    all.insert(all.end(), {arrows[i].from, arrows[i].control, arrows[i].to});
  if (all.empty()) {
    for (const FigureLine& l : lines) all.insert(all.end(), {l.segment.from, l.segment.to});
  }
  return bounding_box(all);
}

Figure move_figure(const Programme& programme, int index, const std::vector<int>& skipped) {
  if (programme.folding && index >= 0) return programme.folding->figure(static_cast<std::size_t>(index));
  if (shows_space(programme, index)) return space_figure(programme, index);
  if (shows_units(programme, index)) return unit_figure(programme, index, skipped);
  Figure figure;
  // Turning over and rotating are drawn as the sheet lies then, with the arrow of how it came to lie so.
  const bool handles = index >= 0 && index < static_cast<int>(programme.moves.size()) &&
                       programme.moves[static_cast<std::size_t>(index)].is<Handle>();
  const SheetState state = state_after(programme, handles ? index + 1 : index, skipped);
  figure.underside_up = state.underside_up;
  figure.view = view_of(state, bounding_box(programme.sheet).centre());
  const Polygon outline = outline_before(programme, static_cast<std::size_t>(std::max(0, index)));
  for (const Point& p : outline) figure.outline.push_back(figure.view * p);
  const Places places(programme);
  add_creases(figure, state, places);
  if (index < 0 || index >= static_cast<int>(programme.moves.size())) return figure;
  const Move& move = programme.moves[static_cast<std::size_t>(index)];
  add_effect(figure, programme, state, move, outline, places);
  add_names(figure, programme, state, index, outline);
  return figure;
}

Figure crease_figure(const Programme& programme, bool underside_up) {
  SheetState state = state_after(programme, static_cast<int>(programme.moves.size()));
  state.underside_up = underside_up;
  state.turned_deg = 0;
  Figure figure;
  figure.underside_up = underside_up;
  figure.view = view_of(state, bounding_box(programme.sheet).centre());
  for (const Point& p : programme.sheet) figure.outline.push_back(figure.view * p);
  for (const Move& move : programme.moves) {
    const auto* cut = std::get_if<Cut>(&move.effect);
    if (!cut) continue;
    for (const Segment& s : cut->along)
      figure.lines.push_back({{figure.view * s.from, figure.view * s.to}, LineStyle::cut});
  }
  add_creases(figure, state, Places(programme));
  return figure;
}

Figure labelled_figure(const Programme& programme, bool underside_up) {
  Figure figure = crease_figure(programme, underside_up);
  for (const Element& e : programme.elements) {
    if (e.label.empty() || e.spans.empty()) continue;
    if (e.role == Role::point) figure.dots.push_back(figure.view * e.spans.front().from);
    if (e.role != Role::point && e.role != Role::crease) continue;
    Point at = e.spans.front().from;
    for (const Move& move : programme.moves) {
      // Off the middle, where names of crossing creases would meet.
      const MakeCreases& made = move.creases();
      if (made.makes == e.id && !made.spans.empty()) at = made.spans.front().at(0.62);
    }
    figure.labels.push_back({figure.view * at, e.label, true, false, true});
  }
  return figure;
}

} // namespace uc
