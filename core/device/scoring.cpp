#include "device/scoring.h"

#include "base/quantity.h"
#include "crease/carrier_lines.h"
#include "device/stroke_order.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

/// Course by course keeps the sheet flat; it is taken while it travels at most this much more than the short order.
constexpr double worth_courses = 1.15;

std::vector<Segment> ordered(const std::vector<Segment>& strokes) {
  const Point home = Point::Zero();
  auto best = in_short_order(strokes, home);
  auto courses = in_courses(strokes, home);
  const bool flat = !courses.empty() && lifted_travel(courses, home) <= worth_courses * lifted_travel(best, home);
  return flat ? courses : best;
}

} // namespace

std::size_t ScorePlan::strokes() const {
  std::size_t sum = 0;
  for (const ScorePass& pass : passes) sum += pass.strokes.size();
  return sum;
}

Status check(const ScoreSettings& settings) {
  if (!(settings.feed_mm_s >= 0.1 && settings.feed_mm_s <= 1000))
    return Error{fmt::format("{} mm/s cannot be driven; type 0.1 to 1000", format_number(settings.feed_mm_s, 3))};
  if (!(settings.pressure_g >= 1 && settings.pressure_g <= 10'000))
    return Error{fmt::format("{} g cannot be pressed; type 1 to 10000", format_number(settings.pressure_g, 3))};
  return Done{};
}

Segment on_face(const Segment& stroke, ScoredSide side, double sheet_width) {
  if (side == ScoredSide::face) return stroke;
  return {{sheet_width - stroke.from.x(), stroke.from.y()}, {sheet_width - stroke.to.x(), stroke.to.y()}};
}

bool leaves_sheet(const Segment& stroke, const Polygon& sheet) {
  return std::min(depth_inside(stroke.from, sheet), depth_inside(stroke.to, sheet)) < -scoring_tolerance_mm;
}

void measure(ScorePlan& plan, double feed_mm_s) {
  plan.travel_mm = plan.scored_mm = 0;
  int turns = 0;
  for (const ScorePass& pass : plan.passes) {
    plan.travel_mm += lifted_travel(pass.strokes, Point::Zero());
    for (const Segment& s : pass.strokes) plan.scored_mm += s.length();
    turns += pass.side == ScoredSide::underside;
  }
  plan.minutes = (plan.scored_mm / feed_mm_s + plan.travel_mm / lifted_mm_s +
                  2 * lift_seconds * static_cast<double>(plan.strokes()) + turn_over_seconds * turns) /
                 60;
}

Result<ScorePlan> score_plan(const CreasePattern& pattern, const Polygon& sheet, const ScoreSettings& settings,
                             int* outside) {
  if (outside) *outside = 0;
  if (const auto ok = check(settings); !ok) return Error{ok.error()};
  const Box box = bounding_box(sheet);
  ScorePlan plan;
  for (const Point& p : sheet) plan.sheet.push_back(p - box.low);
  if (settings.bed_mm && (box.size().x() > settings.bed_mm->x() || box.size().y() > settings.bed_mm->y()))
    return Error{fmt::format("The sheet of {} x {} mm does not fit on the bed of {} x {} mm; take a smaller sheet.",
                             format_number(box.size().x(), 1), format_number(box.size().y(), 1),
                             format_number(settings.bed_mm->x(), 1), format_number(settings.bed_mm->y(), 1))};
  ScorePass face{ScoredSide::face, {}};
  ScorePass underside{ScoredSide::underside, {}};
  int off = 0;
  for (const CarrierLine& line : carrier_lines(pattern)) {
    for (const EdgeKind kind : {EdgeKind::valley, EdgeKind::undirected, EdgeKind::mountain}) {
      for (const Segment& span : line.spans(kind)) {
        const Segment laid{span.from - box.low, span.to - box.low};
        off += leaves_sheet(laid, plan.sheet);
        ScorePass& pass = kind == EdgeKind::mountain ? underside : face;
        pass.strokes.push_back(on_face(laid, pass.side, box.size().x()));
      }
    }
  }
  if (outside) *outside = off;
  if (off > 0)
    return Error{fmt::format("{} of the strokes {} off the sheet of {} x {} mm; choose a larger --sheet or move the "
                             "pattern onto it.",
                             off, off == 1 ? "lies" : "lie", format_number(box.size().x(), 1),
                             format_number(box.size().y(), 1))};
  for (ScorePass* pass : {&face, &underside}) {
    if (pass->strokes.empty()) continue;
    pass->strokes = ordered(pass->strokes);
    plan.passes.push_back(std::move(*pass));
  }
  if (plan.passes.empty()) return Error{"There is no crease to score; the pattern has none that folds."};
  measure(plan, settings.feed_mm_s);
  return plan;
}

} // namespace uc
