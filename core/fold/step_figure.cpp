#include "fold/step_figure.h"

#include "base/index.h"
#include "fold/folds/named_fold.h"
#include "fold/step_text.h"
#include "programme/naming.h"
#include "reference/construction.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uc {
namespace {

/// For each face how many layers of others it stands on, seen from the folder's side.
std::vector<int> levels(const PieceForm& form, bool from_behind) {
  const std::size_t n = form.graph.faces.size();
  std::vector<std::vector<int>> over(n);
  std::vector<int> below(n, 0);
  for (std::size_t p = 1; p < form.pairs.size(); ++p) {
    const auto [f, g] = form.pairs[p];
    const bool first = (form.first_above[p] != 0) != from_behind;
    over[at(first ? g : f)].push_back(first ? f : g);
    ++below[at(first ? f : g)];
  }
  std::vector<int> level(n, 0);
  std::vector<int> queue;
  for (std::size_t f = 0; f < n; ++f) {
    if (below[f] == 0) queue.push_back(static_cast<int>(f));
  }
  for (std::size_t i = 0; i < queue.size(); ++i) {
    for (const int f : over[at(queue[i])]) {
      level[at(f)] = std::max(level[at(f)], level[at(queue[i])] + 1);
      if (--below[at(f)] == 0) queue.push_back(f);
    }
  }
  return level;
}

/// Layers are moved apart by this part of the drawing's size, the uppermost to the lower right.
Point fan(int level, int most, double size) {
  constexpr double widest = 0.05;
  constexpr double step = 0.012;
  return level * size * std::min(step, most > 0 ? widest / most : step) * Point{0.5, -0.85};
}

LineStyle side_style(const PieceForm& form, int from, int to) {
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const PatternEdge& edge = form.pattern.edges[e];
    if ((edge.from == from && edge.to == to) || (edge.from == to && edge.to == from))
      return edge.kind == EdgeKind::unfolded ? LineStyle::undirected : LineStyle::raw_edge;
  }
  return LineStyle::raw_edge;
}

class Drawing {
public:
  explicit Drawing(const StepState& state) : form_(*state.form), view_(seen_by_folder(state)) {
    figure_.underside_up = state.underside_up;
    const auto level = levels(form_, state.underside_up);
    most_ = *std::max_element(level.begin(), level.end());
    std::vector<Point> seen;
    for (const Point& p : form_.form.vertices) seen.push_back(view_ * p);
    size_ = bounding_box(seen).size().norm();
    std::vector<int> order(level.size());
    std::iota(order.begin(), order.end(), 0);
    std::stable_sort(order.begin(), order.end(), [&](int f, int g) { return level[at(f)] < level[at(g)]; });
    std::vector<Point> corners;
    for (const int f : order) {
      const auto& cycle = form_.graph.faces[at(f)].cycle;
      FigurePatch patch;
      patch.coloured = (form_.form.flipped[at(f)] != 0) == state.underside_up;
      for (std::size_t i = 0; i < cycle.size(); ++i) {
        patch.outline.push_back(view_ * form_.form.vertices[at(cycle[i])] + fan(level[at(f)], most_, size_));
        patch.sides.push_back(side_style(form_, cycle[i], cycle[(i + 1) % cycle.size()]));
      }
      corners.insert(corners.end(), patch.outline.begin(), patch.outline.end());
      if (signed_area(patch.outline) < 0) { // the sides go with the corners
        std::reverse(patch.outline.begin(), patch.outline.end());
        std::reverse(patch.sides.begin(), patch.sides.end());
        std::rotate(patch.sides.begin(), patch.sides.begin() + 1, patch.sides.end());
      }
      figure_.patches.push_back(std::move(patch));
    }
    const Box box = bounding_box(corners);
    figure_.outline = {box.low, {box.high.x(), box.low.y()}, box.high, {box.low.x(), box.high.y()}};
    figure_.view = view_;
    for (const Segment& mark : form_.marks) {
      if (const auto faces = faces_at(form_, mark.middle()); !faces.empty())
        figure_.lines.push_back({view_ * (form_.form.place[at(faces.front())] * mark), LineStyle::pinch, 0, false});
    }
  }

  /// Where something that lies on top is seen.
  [[nodiscard]] Point on_top(const Point& lies) const { return view_ * lies + fan(most_, most_, size_); }
  [[nodiscard]] double size() const { return size_; }
  Figure& figure() { return figure_; }

private:
  const PieceForm& form_;
  Isometry view_;
  Figure figure_;
  double size_ = 0;
  int most_ = 0;
};

Point place_of(const PieceForm& form, const Point& on_sheet) {
  const auto faces = faces_at(form, on_sheet);
  return faces.empty() ? on_sheet : Point(form.form.place[at(faces.front())] * on_sheet);
}

/// The point whose way the arrow shows: the corner that travels furthest.
std::optional<std::pair<Point, Point>> way_of(const PieceForm& before, const PieceForm& after) {
  std::optional<std::pair<Point, Point>> way;
  double furthest = 1e-6;
  for (const GraphFace& face : after.graph.faces) {
    for (const VertexId v : face.cycle) {
      const Point from = place_of(before, after.pattern.vertices[at(v)]);
      const Point& to = after.form.vertices[at(v)];
      if ((to - from).norm() > furthest) furthest = (to - from).norm(), way = {from, to};
    }
  }
  return way;
}

/// Where something that has a name lies: a point, or a crease by its longest piece.
std::optional<Segment> place_named(const FoldSequence& sequence, const StepState& state, const std::string& name) {
  const PieceForm& form = *state.form;
  const auto at_point = [&](const Point& on_sheet) {
    const Point lies = place_of(form, on_sheet);
    return Segment{lies, lies};
  };
  if (const auto p = sequence.points.find(name); p != sequence.points.end()) return at_point(p->second);
  const Polygon& sheet = sequence.file.sheet.outline();
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    if (corner_id(sheet, static_cast<int>(i)) == name) return at_point(sheet[i]);
    if (edge_id(sheet, static_cast<int>(i)) == name) return at_point((sheet[i] + sheet[(i + 1) % sheet.size()]) / 2);
  }
  const auto crease = sequence.creases.find(name);
  std::optional<Segment> longest;
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const int line = form.line_of[e];
    if (line < 0 || crease == sequence.creases.end() || sequence.lines[at(line)].crease != crease->second) continue;
    const PatternEdge& edge = form.pattern.edges[e];
    const Segment piece{form.form.vertices[at(edge.from)], form.form.vertices[at(edge.to)]};
    if (!longest || piece.length() > longest->length() + 1e-9) longest = piece;
  }
  if (longest) { // as far as it runs on straight
    const Point d = (longest->to - longest->from).normalized();
    const Segment piece = *longest;
    for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
      const int line = form.line_of[e];
      if (line < 0 || sequence.lines[at(line)].crease != crease->second) continue;
      for (const int v : {form.pattern.edges[e].from, form.pattern.edges[e].to}) {
        const Point& p = form.form.vertices[at(v)];
        const double along = d.dot(p - piece.from);
        if ((piece.from + along * d - p).norm() > 1e-6 * piece.length()) continue;
        if (along < d.dot(longest->from - piece.from)) longest->from = p;
        if (along > d.dot(longest->to - piece.from)) longest->to = p;
      }
    }
    return longest;
  }
  for (const FoldRecord& fold : sequence.folds) // a pinch bounds no face
    if (fold.name == name) return form.form.place[0] * fold.aligned;
  return std::nullopt;
}

/// All that the sentence calls by a name of the file, clear of each other.
void add_names(Drawing& drawing, const FoldSequence& sequence, std::size_t index) {
  TextStyle style;
  style.names_told_apart = true;
  Figure& figure = drawing.figure();
  for (const std::string& name : names_in(state_text(sequence, index, style))) {
    const auto place = place_named(sequence, sequence.states.at(index - 1), name);
    if (!place) continue;
    Point at = drawing.on_top(place->from);
    for (const double part : {1.0, 0.0, 0.62, 0.38, 0.8}) { // best at an end, where it leaves the drawing free
      at = drawing.on_top(place->at(part));
      if (std::none_of(figure.labels.begin(), figure.labels.end(),
                       [&](const Figure::Label& l) { return (l.at - at).norm() < 0.06 * drawing.size(); }))
        break;
    }
    figure.labels.push_back({at, name, true, false, true});
  }
}

/// Mountain or valley, as a crease that was made is seen in the highest layer it runs through.
LineStyle seen_style(const FoldSequence& sequence, const StepState& before, const StepState& after, int fold) {
  const auto level = levels(*before.form, before.underside_up);
  int highest = -1;
  LineStyle style = LineStyle::valley;
  const CreasePattern& pattern = after.form->pattern;
  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    const int line = after.form->line_of[e];
    if (line < 0 || sequence.lines[at(line)].fold != fold || !folds(pattern.edges[e].kind)) continue;
    for (const FaceId f : faces_at(*before.form, pattern.segment(CreaseId(e)).middle())) {
      if (level[at(f)] <= highest) continue;
      highest = level[at(f)];
      const bool coloured = (before.form->form.flipped[at(f)] != 0) == before.underside_up;
      style = (pattern.edges[e].kind == EdgeKind::valley) == coloured ? LineStyle::valley : LineStyle::mountain;
    }
  }
  return style;
}

/// The creases that a move folds and that were there already, each as it is seen.
void add_folded_creases(Drawing& drawing, const StepState& before, const StepState& after) {
  const PieceForm& form = *before.form;
  const CreasePattern& now = after.form->pattern;
  if (now.edges.size() != form.pattern.edges.size()) return;
  for (std::size_t e = 0; e < now.edges.size(); ++e) {
    const PatternEdge& edge = form.pattern.edges[e];
    const int face = std::max(form.graph.sides[e][0], form.graph.sides[e][1]);
    if (!folds(now.edges[e].kind) || folds(edge.kind) || face < 0) continue;
    const bool coloured = (form.form.flipped[at(face)] != 0) == before.underside_up;
    const bool valley = (now.edges[e].kind == EdgeKind::valley) == coloured;
    drawing.figure().lines.push_back(
        {{drawing.on_top(form.form.vertices[at(edge.from)]), drawing.on_top(form.form.vertices[at(edge.to)])},
         valley ? LineStyle::valley : LineStyle::mountain,
         0,
         false});
  }
}

/// A curve from one place to another that bulges to the left of the way.
FigureArrow arc(const Point& from, const Point& to, ArrowWay way) {
  const Point d = to - from;
  return {from, (from + to) / 2 + 0.28 * Point{-d.y(), d.x()}, to, way};
}

} // namespace

Figure state_figure(const FoldSequence& sequence, std::size_t state) {
  return Drawing(sequence.states.at(state)).figure();
}

Figure step_figure(const FoldSequence& sequence, std::size_t index) {
  const StepState& state = sequence.states.at(index);
  if (state.step < 0) return state_figure(sequence, index);
  const StepLine& step = sequence.steps[at(state.step)];
  if (step.kind == StepVerb::over || step.kind == StepVerb::turn) {
    Figure figure = state_figure(sequence, index);
    figure.turns_over = step.kind == StepVerb::over;
    figure.turn_deg = step.kind == StepVerb::turn ? step.degrees : 0;
    return figure;
  }
  const StepState& before = sequence.states.at(index - 1);
  Drawing drawing(before);
  Figure& figure = drawing.figure();
  if (state.fold >= 0) {
    const FoldRecord& fold = sequence.folds[at(state.fold)];
    const Isometry lies = before.form->form.place[0];
    const Segment s = lies * fold.aligned;
    LineStyle style = step.kind == StepVerb::mountain ? LineStyle::mountain
                      : step.kind == StepVerb::pinch  ? LineStyle::pinch
                                                      : LineStyle::valley;
    if (fold_maker(step.kind) || state.folds > 1) {
      for (int k = state.fold; k < state.fold + state.folds; ++k) {
        const Segment made = lies * sequence.folds[at(k)].aligned;
        figure.lines.push_back(
            {{drawing.on_top(made.from), drawing.on_top(made.to)}, seen_style(sequence, before, state, k), 0, false});
      }
    } else if (step.kind != StepVerb::pinch)
      figure.lines.push_back({{drawing.on_top(s.from), drawing.on_top(s.to)}, style, 0, false});
    for (std::size_t m = before.form->marks.size(); m < state.form->marks.size(); ++m) {
      const Segment& mark = state.form->marks[m];
      figure.lines.push_back(
          {{drawing.on_top(place_of(*before.form, mark.from)), drawing.on_top(place_of(*before.form, mark.to))},
           style,
           0,
           false});
    }
    const Line line = lies * fold.line;
    // What is brought over: the point that was named, else the corner that travels furthest across the line.
    std::optional<std::pair<Point, Point>> way;
    if (state.moved) {
      way = way_of(*before.form, *state.form);
    } else {
      double furthest = 0;
      for (const Point& p : before.form->form.vertices) {
        if (std::abs(line.distance(p)) <= furthest + 1e-6) continue;
        furthest = std::abs(line.distance(p));
        way = {p, Isometry::reflection_in(line) * p};
      }
    }
    if (way) {
      const ArrowWay how = !state.moved                      ? ArrowWay::over_and_back
                           : step.kind == StepVerb::mountain ? ArrowWay::behind
                                                             : ArrowWay::over;
      figure.arrows.push_back(arc(drawing.on_top(way->first), drawing.on_top(way->second), how));
    }
    if (!fold.along && !fold.things.empty() && (fold.op == Alignment::O2 || fold.op == Alignment::O1)) {
      for (const std::string& name : fold.op == Alignment::O2
                                         ? std::vector<std::string>{step.alignment.moved, step.alignment.target}
                                         : step.alignment.through) {
        if (const auto p = sequence.points.find(name); p != sequence.points.end())
          figure.dots.push_back(drawing.on_top(place_of(*before.form, p->second)));
      }
    }
  } else if (const auto way = way_of(*before.form, *state.form)) {
    if (step.kind == StepVerb::collapse) add_folded_creases(drawing, before, state);
    figure.arrows.push_back(arc(drawing.on_top(way->first), drawing.on_top(way->second),
                                step.kind == StepVerb::collapse ? ArrowWay::over : ArrowWay::open));
  }
  add_names(drawing, sequence, index);
  return figure;
}

} // namespace uc
