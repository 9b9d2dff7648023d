#include "divide/division.h"

#include "divide/starts.h"
#include "programme/holding.h"

#include <algorithm>
#include <cmath>

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
    const GridPlan& plan = division_.plans[f];
    std::vector<char> made(static_cast<std::size_t>(plan.task.parts) + 1, 0);
    for (const GridStep& step : plan.steps) {
      const auto direction = plan.task.directions[static_cast<std::size_t>(step.makes)];
      hold(f, step, direction);
      Move move = move_of(f, step, direction, made[static_cast<std::size_t>(step.makes)]);
      made[static_cast<std::size_t>(step.makes)] = 1;
      if (division_.plans.size() > 1) move.repeat = RepeatPlace{0, static_cast<int>(f) + 1};
      out_.moves.push_back(std::move(move));
    }
    fill_sigmas(f);
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

  Division& division_;
  Programme& out_;
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
