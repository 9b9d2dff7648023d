#include "divide/division.h"

#include "divide/guides.h"
#include "divide/starts.h"
#include "programme/holding.h"
#include "programme/naming.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace uc {

ElementId line_element_id(std::size_t family, int index) {
  return {ElementSource::grid, static_cast<int>(family), index};
}

namespace {

/// Turns plans into moves, adding the handling between them.
class ProgrammeBuilder {
public:
  ProgrammeBuilder(Division& division, const Sheet& sheet)
      : division_(division), out_(division.programme), holding_(division.hand) {
    out_.sheet = sheet.outline();
  }

  void build() {
    if (division_.layout.cut_first) {
      add_cut();
      holding_.take(family(0).normal, false);
    }
    for (std::size_t f = 0; f < division_.plans.size(); ++f) add_elements(f);
    add_diagonals();
    for (std::size_t f = 0; f < division_.plans.size(); ++f) add_guides(f);
    if (division_.plans.size() > 1) out_.repeats = {{RepeatWay::directions, static_cast<int>(division_.plans.size())}};
    for (std::size_t f = 0; f < division_.plans.size(); ++f) add_steps(f);
    if (division_.spec.direction == DirectionRule::both_ways) add_both_ways();
  }

private:
  [[nodiscard]] const Family& family(std::size_t f) const { return division_.layout.families[f]; }

  void add_cut() { out_.moves.push_back(Move::cutting(division_.layout.area, 180)); }

  void add_elements(std::size_t f) {
    const GridSpec& spec = division_.spec;
    for (int k = 0; k <= spec.parts; ++k) {
      Element e;
      e.id = line_element_id(f, k);
      e.family = family(f).name;
      e.index = k;
      e.parts = spec.parts;
      if (k == 0 || k == spec.parts) {
        const bool corner = k == 0 ? family(f).low_is_corner : family(f).high_is_corner;
        e.role = corner ? Role::corner : Role::raw_edge;
        e.place = k == 0 ? family(f).low_place : family(f).high_place;
        e.spans = clip(line_at(family(f), k, spec.parts), division_.layout.area, 1e-7);
        if (corner) e.spans = {corner_mark(f, k)};
        e.sigma_mm = 0;
      } else {
        e.role = Role::crease;
        e.spans = crease_spans(division_.layout, family(f), k, spec);
        const double sigma = division_.plans[f].line_sigma_mm[static_cast<std::size_t>(k)];
        if (std::isfinite(sigma)) e.sigma_mm = sigma;
        e.existing = spec.start && spec.start->line == k;
      }
      out_.elements.push_back(std::move(e));
    }
  }

  [[nodiscard]] Segment corner_mark(std::size_t f, int k) const {
    const Line line = line_at(family(f), k, division_.spec.parts);
    for (const Point& p : division_.layout.area) {
      if (std::abs(line.distance(p)) < 1e-7) return {p, p};
    }
    return {};
  }

  [[nodiscard]] bool is_corner(std::size_t f, int line) const {
    return line == 0 ? family(f).low_is_corner : line == division_.spec.parts ? family(f).high_is_corner : false;
  }
  /// Whether a step brings one end of the sheet onto the other, which as corners need no guide.
  [[nodiscard]] bool joins_ends(std::size_t f, const GridStep& step) const {
    return step.kind == StepKind::bring && is_corner(f, step.a) && is_corner(f, step.b) && family(f).low_guide &&
           family(f).high_guide && std::abs(family(f).high_guide->distance(corner_mark(f, 0).from)) < 1e-6;
  }
  /// The corner of the grid's end that a step leads over the sheet, as the number of its line.
  [[nodiscard]] std::optional<int> led_corner(std::size_t f, const GridStep& step) const {
    if (step.kind == StepKind::guess || joins_ends(f, step)) return std::nullopt;
    for (const int line : {step.a, step.b})
      if (is_corner(f, line)) return line;
    return std::nullopt;
  }
  [[nodiscard]] const std::optional<Line>& guide_line(std::size_t f, int line) const {
    return line == 0 ? family(f).low_guide : family(f).high_guide;
  }
  [[nodiscard]] std::optional<ElementId> guide_of(std::size_t f, const GridStep& step) const {
    auto line = led_corner(f, step);
    if (step.kind == StepKind::guess) line = is_corner(f, 0) ? 0 : division_.spec.parts;
    if (!line || !is_corner(f, *line) || !guide_line(f, *line)) return std::nullopt;
    for (const auto& [guide, id] : guides_)
      if (std::abs(guide.distance(corner_mark(f, *line).from)) < 1e-6 &&
          std::abs(guide.normal.dot(family(f).normal)) < 1e-9)
        return id;
    return std::nullopt;
  }

  /// Creases stop at diagonals that are there.
  void add_diagonals() {
    if (division_.spec.extent != ExtentRule::to_diagonals) return;
    const Box box = bounding_box(division_.layout.area);
    add_guide(Line::through(box.low, box.high));
    add_guide(Line::through({box.low.x(), box.high.y()}, {box.high.x(), box.low.y()}));
  }
  void add_guides(std::size_t f) {
    for (const GridStep& step : division_.plans[f].steps) {
      const auto line = led_corner(f, step);
      if (line && guide_line(f, *line) && !guide_of(f, step)) add_guide(*guide_line(f, *line));
      if (crosses_middle(f, step)) add_centre();
    }
  }
  /// Brings one end onto the other where neither corner is led to the other: on rectangles the crease goes through the
  /// middle of the sheet.
  [[nodiscard]] bool crosses_middle(std::size_t f, const GridStep& step) const {
    return step.kind == StepKind::bring && is_corner(f, step.a) && is_corner(f, step.b) && !joins_ends(f, step) &&
           division_.layout.area.size() == 4;
  }
  /// The middle of the sheet, where two pinches cross.
  void add_centre() {
    if (out_.find(centre_)) return;
    Element centre;
    centre.id = centre_;
    centre.role = Role::point;
    centre.label = "A";
    const Point at = bounding_box(division_.layout.area).centre();
    centre.spans = {{at, at}};
    for (const int side : {0, 1}) { // the sides a pinch is brought over from
      const Point along = side == 0 ? Point{1, 0} : Point{0, 1};
      Element e;
      e.id = {ElementSource::start, guide_plan, 3000 + side};
      e.label = "1";
      e.spans = {{at - 5 * along, at + 5 * along}};
      centre.made_of.push_back(e.id);
      MakeCreases crease;
      crease.makes = e.id;
      crease.extent = Extent::pinch;
      crease.spans = e.spans;
      Move move;
      move.aligned.moving = {area_edge(side)};
      move.aligned.onto = {area_edge(side + 2)};
      move.effect = std::move(crease);
      move.sigma_mm = move.hand_sigma_mm = division_.hand.sigma_mm;
      move.seconds = division_.hand.pinch_seconds;
      out_.elements.push_back(std::move(e));
      out_.moves.push_back(std::move(move));
      ++division_.guides;
    }
    out_.elements.push_back(std::move(centre));
  }

  /// The line of a grid that a plan makes first, by bringing one end onto the other, and that lies on a guide.
  [[nodiscard]] std::optional<std::size_t> made_by(const Line& guide) const {
    for (std::size_t f = 0; f < division_.plans.size(); ++f) {
      const auto& steps = division_.plans[f].steps;
      if (steps.empty() || steps.front().pinch || !joins_ends(f, steps.front())) continue;
      const Line line = line_at(family(f), steps.front().makes, division_.spec.parts);
      const auto spans = crease_spans(division_.layout, family(f), steps.front().makes, division_.spec);
      const auto whole = clip(line, division_.layout.area, 1e-7);
      if (spans.size() == 1 && whole.size() == 1 && std::abs(spans[0].length() - whole[0].length()) < 1e-6 &&
          std::abs(std::abs(line.normal.dot(guide.normal)) - 1) < 1e-9 &&
          std::abs(guide.distance(whole[0].from)) < 1e-6)
        return f;
    }
    return std::nullopt;
  }

  ElementId area_corner(int i) {
    const Polygon& area = division_.layout.area;
    const Point at = area[static_cast<std::size_t>(i)];
    const ElementId id{ElementSource::start, guide_plan, 1000 + i};
    if (!out_.find(id)) {
      Element e;
      e.id = id;
      e.role = Role::corner;
      e.place = place_of(at - bounding_box(area).centre());
      if (area.size() != 4) e.label = "A"; // lettered when it is told
      e.spans = {{at, at}};
      out_.elements.push_back(std::move(e));
    }
    return id;
  }
  ElementId area_edge(int i) {
    const Polygon& area = division_.layout.area;
    const Segment side{area[static_cast<std::size_t>(i)], area[(static_cast<std::size_t>(i) + 1) % area.size()]};
    const ElementId id{ElementSource::start, guide_plan, 2000 + i};
    if (!out_.find(id)) {
      Element e;
      e.id = id;
      e.role = Role::raw_edge;
      e.place = place_of(-Point{-(side.to - side.from).y(), (side.to - side.from).x()});
      if (area.size() != 4) e.label = "a";
      e.spans = {side};
      out_.elements.push_back(std::move(e));
    }
    return id;
  }

  /// The smaller part of the sheet is brought over.
  [[nodiscard]] bool on_smaller_side(Line line, ElementId edge) const {
    if (line.distance(out_.find(edge)->spans.front().middle()) > 0) line = {-line.normal, -line.c};
    const Polygon& area = division_.layout.area;
    return 2 * std::abs(signed_area(clip_to_side(area, line))) <= std::abs(signed_area(area)) + 1e-6;
  }

  void add_guide(const Line& guide) {
    const auto fold = guide_fold(division_.layout.area, guide);
    if (!fold) return;
    if (fold->way == GuideFold::Way::edge) {
      guides_.emplace_back(guide, area_edge(fold->edges[0]));
      return;
    }
    if (const auto f = made_by(guide)) {
      const GridStep& step = division_.plans[*f].steps.front();
      const ElementId id = line_element_id(*f, step.makes);
      guides_.emplace_back(guide, id);
      for (Element& e : out_.elements)
        if (e.id == id) e.by_direction = true; // others of this fraction run the other way
      if (first_made_.insert(*f).second) add_step(*f, step);
      return;
    }
    Element e;
    e.id = {ElementSource::start, guide_plan, static_cast<int>(guides_.size())};
    e.label = "1"; // numbered when it is told
    e.spans = clip(guide, division_.layout.area, 1e-7);
    guides_.emplace_back(guide, e.id);
    Move move;
    MakeCreases crease;
    crease.makes = e.id;
    crease.fold = Fold::valley;
    crease.spans = e.spans;
    switch (fold->way) {
    case GuideFold::Way::edge:
      break;
    case GuideFold::Way::corner_onto:
      move.aligned.moving = {area_corner(fold->corners[0])};
      move.aligned.onto = {area_corner(fold->corners[1])};
      break;
    case GuideFold::Way::through_corners:
      crease.way = CreaseWay::between;
      move.aligned.through = {area_corner(fold->corners[0]), area_corner(fold->corners[1])};
      break;
    case GuideFold::Way::edges_onto:
      move.aligned.moving = {area_edge(fold->edges[0])};
      move.aligned.onto = {area_edge(fold->edges[1])};
      if (!on_smaller_side(guide, move.aligned.moving[0])) std::swap(move.aligned.moving, move.aligned.onto);
      move.aligned.through = {area_corner(fold->corners[0])};
      break;
    }
    out_.elements.push_back(std::move(e));
    move.effect = std::move(crease);
    move.sigma_mm = move.hand_sigma_mm = division_.hand.sigma_mm;
    move.seconds = division_.hand.fold_seconds;
    out_.moves.push_back(std::move(move));
    ++division_.guides;
  }

  void hold(std::size_t f, const GridStep& step, Fold direction) {
    const bool any_face = step.pinch || step.kind == StepKind::guess;
    if (!any_face && underside_ != (direction == Fold::mountain)) turn_over();
    const Point& normal = family(f).normal;
    const bool any_edge = step.kind == StepKind::guess || 2 * step.makes == division_.spec.parts;
    if (any_edge && holding_.lies_along(normal)) return;
    const bool high = !any_edge && 2 * step.makes > division_.spec.parts;
    if (auto rotate = holding_.take(high ? Point(-normal) : normal, underside_)) {
      out_.moves.push_back(*std::move(rotate));
      ++division_.rotations;
    }
  }

  void turn_over() {
    out_.moves.push_back(Move::turning_over(division_.hand.turn_seconds));
    underside_ = !underside_;
    ++division_.turn_overs;
  }

  void add_steps(std::size_t f) {
    const auto& steps = division_.plans[f].steps;
    for (std::size_t i = first_made_.contains(f) ? 1 : 0; i < steps.size(); ++i) add_step(f, steps[i]);
    fill_sigmas(f);
  }
  void add_step(std::size_t f, const GridStep& step) {
    const auto direction = division_.plans[f].task.directions[static_cast<std::size_t>(step.makes)];
    hold(f, step, direction);
    const bool again = !made_.insert(line_element_id(f, step.makes)).second;
    Move move = move_of(f, step, direction, again);
    if (division_.plans.size() > 1) move.repeat = RepeatPlace{0, static_cast<int>(f) + 1};
    out_.moves.push_back(std::move(move));
  }

  /// The expected error of each move's line at the moment it is made.
  void fill_sigmas(std::size_t f) {
    const GridPlan& plan = division_.plans[f];
    LineErrors running = replay(plan.task, {});
    std::size_t step = 0;
    for (Move& move : out_.moves) {
      const auto& makes = move.creases().makes;
      if (!makes || makes->plan != static_cast<int>(f) || step >= plan.steps.size()) continue;
      const GridStep& s = plan.steps[step++];
      const double fold = plan.task.sigma_mm * plan.task.sigma_mm;
      if (s.kind == StepKind::bring) running.bring(s.a, s.b, s.makes, fold);
      if (s.kind == StepKind::through) running.through(s.a, s.b, s.makes, fold);
      if (s.kind == StepKind::guess) {
        running.set_independent(s.makes, plan.task.guess_sigma_mm * plan.task.guess_sigma_mm);
      }
      move.sigma_mm = std::sqrt(running.variance(s.makes));
    }
  }

  [[nodiscard]] Move move_of(std::size_t f, const GridStep& step, Fold direction, bool replaces) const {
    const GridSpec& spec = division_.spec;
    const HandProfile& hand = division_.hand;
    Move move;
    MakeCreases crease;
    crease.makes = line_element_id(f, step.makes);
    crease.replaces = replaces;
    move.hand_sigma_mm = hand.sigma_mm;
    move.seconds = step.pinch ? hand.pinch_seconds : hand.fold_seconds;
    switch (step.kind) {
    case StepKind::bring:
      move.aligned.moving = {line_element_id(f, step.a)};
      move.aligned.onto = {line_element_id(f, step.b)};
      // A corner is brought to an edge, not the edge to the corner.
      if (is_corner(f, step.b) && !is_corner(f, step.a)) std::swap(move.aligned.moving, move.aligned.onto);
      break;
    case StepKind::through:
      crease.way = CreaseWay::through;
      move.aligned.moving = {line_element_id(f, step.b)};
      move.aligned.onto = {line_element_id(f, step.a)};
      break;
    case StepKind::guess:
      crease.way = CreaseWay::guess;
      move.hand_sigma_mm = hand.guess_sigma_mm;
      break;
    }
    if (const auto guide = guide_of(f, step)) {
      if (crosses_middle(f, step) && out_.find(centre_)) {
        move.aligned = {{*guide}, {*guide}, {centre_}};
      } else {
        lead(move, step, *guide);
      }
    }
    if (step.pinch) {
      crease.extent = Extent::pinch;
      crease.spans = pinch_spans(division_.layout, family(f), step.makes, spec);
      if (step.kind == StepKind::guess && crease.spans.size() > 1) crease.spans.resize(1);
      move.effect = std::move(crease);
      return move;
    }
    crease.fold = direction == Fold::mountain ? Fold::mountain : Fold::valley;
    crease.spans = crease_spans(division_.layout, family(f), step.makes, spec);
    crease.extent = spec.extent == ExtentRule::to_diagonals                     ? Extent::to_diagonals
                    : spec.extent == ExtentRule::inset                          ? Extent::inset
                    : !spec.keep_clean.empty() && is_interrupted(f, step.makes) ? Extent::partial
                                                                                : Extent::full;
    move.effect = std::move(crease);
    return move;
  }

  /// The corner comes over along the guide: the guide lies on itself, or the crease is square to it.
  static void lead(Move& move, const GridStep& step, ElementId guide) {
    if (step.kind == StepKind::bring) {
      move.aligned.moving.push_back(guide);
      move.aligned.onto.push_back(guide);
    } else {
      move.aligned.through = {guide};
    }
  }

  [[nodiscard]] bool is_interrupted(std::size_t f, int index) const {
    GridSpec open = division_.spec;
    open.keep_clean.clear();
    double whole = 0;
    double kept = 0;
    for (const Segment& s : crease_spans(division_.layout, family(f), index, open)) whole += s.length();
    for (const Segment& s : crease_spans(division_.layout, family(f), index, division_.spec)) kept += s.length();
    return kept < whole - 1e-6;
  }

  void add_both_ways() {
    std::vector<Move> again;
    for (const Move& move : out_.moves) {
      if (!move.creases().makes || move.creases().extent == Extent::pinch) continue;
      MakeCreases other = move.creases();
      other.way = CreaseWay::both_ways;
      other.fold = Fold::mountain;
      other.replaces = false;
      Move back = move;
      back.aligned.onto = {*other.makes};
      back.aligned.moving.clear();
      back.effect = std::move(other);
      back.seconds = division_.hand.pinch_seconds;
      again.push_back(std::move(back));
    }
    if (again.empty()) return;
    turn_over();
    out_.moves.insert(out_.moves.end(), again.begin(), again.end());
  }

  static constexpr int guide_plan = 100; // beside the starts of single directions
  static constexpr ElementId centre_{ElementSource::start, guide_plan, 3002};

  Division& division_;
  Programme& out_;
  std::vector<std::pair<Line, ElementId>> guides_;
  std::set<std::size_t> first_made_; // directions whose first step is a guide of others
  std::set<ElementId> made_;
  bool underside_ = false;
  Holding holding_;
};

} // namespace

Result<Division> divide(const Sheet& sheet, const GridSpec& wanted, const HandProfile& hand) {
  if (const auto ok = check_spec(wanted, hand); !ok) return Error{ok.error()};
  if (const auto ok = checked(hand); !ok) return Error{ok.error()};
  Division division;
  GridSpec spec = wanted;
  spec.start = revised_start(sheet, wanted, hand);
  division.start_fits = wanted.start.has_value() == spec.start.has_value();
  division.spec = spec;
  division.hand = hand;
  division.layout = lay_out(sheet, spec);
  double sum = 0;
  int lines = 0;
  for (const Family& family : division.layout.families) {
    const DivideTask task = task_for(division.layout, family, spec, hand);
    if (!division.plans.empty() && division.plans.front().task == task)
      division.plans.push_back(division.plans.front());
    else
      division.plans.push_back(plan_division(task, spec.method, hand));
    const GridPlan& plan = division.plans.back();
    division.worst_sigma_mm = std::max(division.worst_sigma_mm, plan.worst_sigma_mm);
    division.creases += plan.creases;
    for (int k = 1; k < spec.parts; ++k) {
      const double sigma = plan.line_sigma_mm[static_cast<std::size_t>(k)];
      if (std::isfinite(sigma)) sum += sigma, ++lines;
    }
  }
  if (lines > 0) division.mean_sigma_mm = sum / lines;
  ProgrammeBuilder(division, sheet).build();
  put_start_first(division, sheet);
  if (division.guides > 0) division.programme = lettered(std::move(division.programme));
  division.minutes = division.programme.planned_seconds() / 60;
  return division;
}

Result<std::vector<Division>> compare_methods(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand) {
  std::vector<Division> all;
  for (const Method method : all_methods) {
    GridSpec with = spec;
    with.method = method;
    auto division = divide(sheet, with, hand);
    if (!division) return Error{division.error()};
    all.push_back(std::move(division).value());
  }
  return all;
}

} // namespace uc
