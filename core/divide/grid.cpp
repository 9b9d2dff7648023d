#include "divide/grid.h"

#include "divide/guides.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

/// The corner that lies farthest out that way; none where that is a whole side.
std::optional<Point> corner_towards(const Polygon& area, const Point& outward) {
  const double far = support(area, outward).second;
  const auto on = [&](const Point& p) { return far - outward.dot(p) < 1e-7; };
  if (std::count_if(area.begin(), area.end(), on) != 1) return std::nullopt;
  return *std::find_if(area.begin(), area.end(), on);
}

/// The line that a corner is led along, square to the lines of the family.
std::optional<Line> guide_through(const Polygon& area, const std::optional<Point>& corner, const Point& normal) {
  if (!corner) return std::nullopt;
  const Line guide = Line::through(*corner, *corner + normal);
  return guide_fold(area, guide) ? std::optional(guide) : std::nullopt;
}

Family family_of(std::string name, const Polygon& area, const Point& normal) {
  const auto [low, high] = support(area, normal);
  Family f;
  f.name = std::move(name);
  f.normal = normal;
  f.low = low;
  f.extent_mm = high - low;
  f.low_place = place_of(-normal);
  f.high_place = place_of(normal);
  const auto low_corner = corner_towards(area, -normal);
  const auto high_corner = corner_towards(area, normal);
  f.low_is_corner = low_corner.has_value();
  f.high_is_corner = high_corner.has_value();
  f.low_guide = guide_through(area, low_corner, normal);
  f.high_guide = guide_through(area, high_corner, normal);
  return f;
}

Point unit(double degrees) {
  const double a = degrees * std::numbers::pi / 180;
  return {std::cos(a), std::sin(a)};
}

std::vector<Family> equilateral_families(const Polygon& area) {
  std::vector<Family> families;
  for (const int direction : {0, 60, 120}) {
    families.push_back(family_of(std::to_string(direction), area, direction == 0 ? unit(90) : unit(direction - 90)));
  }
  return families;
}

/// The largest regular hexagon with two level edges that fits the sheet's bounding box, laid in its middle.
Polygon hexagon_in(const Sheet& sheet) {
  const double edge = std::min(sheet.width() / 2, sheet.height() / std::sqrt(3.0));
  Polygon hexagon = regular_polygon(6, edge);
  const Point shift = Point{sheet.width() / 2, sheet.height() / 2} - bounding_box(hexagon).centre();
  for (Point& p : hexagon) p += shift;
  return hexagon;
}

std::vector<Segment> kept_clean(std::vector<Segment> spans, const GridSpec& spec) {
  for (const Box& box : spec.keep_clean) {
    std::vector<Segment> left;
    for (const Segment& s : spans) {
      for (const Segment& part : outside(s, box)) left.push_back(part);
    }
    spans = std::move(left);
  }
  std::erase_if(spans, [](const Segment& s) { return s.length() < 1e-6; });
  return spans;
}

/// The part of a segment with low <= n·p <= high.
std::vector<Segment> between(const Segment& s, const Point& n, double low, double high) {
  const double a = n.dot(s.from);
  const double b = n.dot(s.to);
  if (std::abs(b - a) < 1e-12) return {};
  double t0 = (low - a) / (b - a);
  double t1 = (high - a) / (b - a);
  if (t0 > t1) std::swap(t0, t1);
  t0 = std::max(t0, 0.0);
  t1 = std::min(t1, 1.0);
  if (t1 - t0 < 1e-9) return {};
  return {{s.at(t0), s.at(t1)}};
}

/// How far along the lines of a family both edges at its ends reach: farther out they are not seen to land on a mark.
std::pair<double, double> reach_of_ends(const Polygon& area, const Family& family, int parts) {
  const Point along = line_at(family, 0, parts).direction();
  auto reach = support(area, along);
  for (const int end : {0, parts}) {
    if (end == 0 ? family.low_is_corner : family.high_is_corner) continue;
    for (const Segment& edge : clip(line_at(family, end, parts), area, 1e-7)) {
      const auto [low, high] = std::minmax({along.dot(edge.from), along.dot(edge.to)});
      reach = {std::max(reach.first, low), std::min(reach.second, high)};
    }
  }
  return reach;
}

} // namespace

std::string place_of(const Point& outward) {
  static constexpr std::array places = {"right", "upper-right", "top",    "upper-left",
                                        "left",  "lower-left",  "bottom", "lower-right"};
  const double eighths = std::atan2(outward.y(), outward.x()) / (std::numbers::pi / 4);
  const int i = static_cast<int>(std::lround(eighths) + 8) % 8;
  return places[static_cast<std::size_t>(i)];
}

bool GridSpec::operator==(const GridSpec& o) const {
  const auto same_box = [](const Box& a, const Box& b) { return a.low == b.low && a.high == b.high; };
  return parts == o.parts && axis == o.axis && method == o.method && direction == o.direction && extent == o.extent &&
         inset == o.inset && left_out == o.left_out && pinches_allowed == o.pinches_allowed && start == o.start &&
         std::equal(keep_clean.begin(), keep_clean.end(), o.keep_clean.begin(), o.keep_clean.end(), same_box);
}

GridLayout lay_out(const Sheet& sheet, const GridSpec& spec) {
  GridLayout layout;
  layout.area = sheet.outline();
  const double half = std::numbers::sqrt2 / 2;
  const auto add = [&](const char* name, const Point& n) {
    layout.families.push_back(family_of(name, layout.area, n));
  };
  switch (spec.axis) {
  case GridAxis::x:
    add("x", {1, 0});
    break;
  case GridAxis::y:
    add("y", {0, 1});
    break;
  case GridAxis::both:
    add("x", {1, 0}), add("y", {0, 1});
    break;
  case GridAxis::diagonal:
    add("rising", {half, -half}), add("falling", {half, half});
    break;
  case GridAxis::equilateral: {
    layout.families = equilateral_families(layout.area);
    const double first = layout.families[0].extent_mm;
    const bool equal = std::all_of(layout.families.begin(), layout.families.end(),
                                   [&](const Family& f) { return std::abs(f.extent_mm - first) < 1e-6 * first; });
    if (!equal) {
      layout.area = hexagon_in(sheet);
      layout.cut_first = true;
      layout.families = equilateral_families(layout.area);
    }
    // Unit normals with n60 + n0 = n120 up to sign: lines meet where the three offsets agree modulo one part.
    const auto& f = layout.families;
    const double part = layout.families[0].extent_mm / spec.parts;
    const Point corner = *line_at(f[0], 0, spec.parts).crossing(line_at(f[1], 0, spec.parts));
    const double off = (f[2].normal.dot(corner) - f[2].low) / part;
    layout.meets = std::abs(off - std::round(off)) < 1e-6;
    break;
  }
  }
  return layout;
}

Line line_at(const Family& family, int index, int parts) {
  return Line::with_normal(family.normal, family.low + family.extent_mm * index / parts);
}

std::vector<Segment> crease_spans(const GridLayout& layout, const Family& family, int index, const GridSpec& spec) {
  const Line line = line_at(family, index, spec.parts);
  std::vector<Segment> spans = clip(line, layout.area, 1e-7);
  if (index != 0 && index != spec.parts && spec.extent != ExtentRule::full) {
    const Box box = bounding_box(layout.area);
    std::vector<Segment> kept;
    for (const Segment& s : spans) {
      const Point along = line.direction();
      const auto [low, high] = support(layout.area, along);
      double cut = 0;
      if (spec.extent == ExtentRule::inset) {
        cut = (high - low) * spec.inset / spec.parts;
        const double stop = family.extent_mm * spec.inset / spec.parts;
        cut = std::abs(high - low - family.extent_mm) < 1e-6 ? stop : std::min(stop, (high - low) / 2);
        for (const Segment& part : between(s, along, low + cut, high - cut)) kept.push_back(part);
      } else {
        // Between the two lines from corner to corner of the bounding box, on the side of the nearer edge.
        const Line rising = Line::through(box.low, box.high);
        const Line falling = Line::through({box.low.x(), box.high.y()}, {box.high.x(), box.low.y()});
        const auto p = line.crossing(rising);
        const auto q = line.crossing(falling);
        if (!p || !q) {
          kept.push_back(s);
          continue;
        }
        const double a = along.dot(*p);
        const double b = along.dot(*q);
        for (const Segment& part : between(s, along, std::min(a, b), std::max(a, b))) kept.push_back(part);
      }
    }
    spans = std::move(kept);
  }
  if (index == 0 || index == spec.parts) return spans;
  return kept_clean(std::move(spans), spec);
}

std::vector<Segment> pinch_spans(const GridLayout& layout, const Family& family, int index, const GridSpec& spec) {
  const auto allowed = [&](std::vector<Segment> marks) {
    std::erase_if(marks, [&](const Segment& mark) {
      const auto rest = kept_clean({mark}, spec);
      return rest.size() != 1 || rest[0].length() < mark.length() - 1e-9;
    });
    return marks;
  };
  const Line line = line_at(family, index, spec.parts);
  std::vector<Segment> at_rim;
  std::vector<Segment> across;
  const auto [first, last] = reach_of_ends(layout.area, family, spec.parts);
  for (const Segment& s : clip(line, layout.area, 1e-7)) {
    const double length = std::min(10.0, s.length() / 8);
    const double t = length / s.length();
    for (const Segment& reached : between(s, line.direction(), first, last)) {
      const double part = std::min(0.5, length / reached.length());
      at_rim.push_back({reached.from, reached.at(part)});
      at_rim.push_back({reached.at(1 - part), reached.to});
    }
    for (const auto& guide : {family.low_guide, family.high_guide}) {
      const auto place = guide ? line.crossing(*guide) : std::nullopt;
      if (!place) continue;
      const double at = (*place - s.from).dot(s.to - s.from) / (s.length() * s.length());
      const Segment mark{s.at(std::max(0.0, at - t / 2)), s.at(std::min(1.0, at + t / 2))};
      const bool again = !across.empty() && (across.back().from - mark.from).norm() < 1e-6;
      if (at > -1e-9 && at < 1 + 1e-9 && !again) across.push_back(mark);
    }
  }
  across = allowed(std::move(across));
  return across.empty() ? allowed(std::move(at_rim)) : across;
}

DivideTask task_for(const GridLayout& layout, const Family& family, const GridSpec& spec, const HandProfile& hand) {
  DivideTask task;
  task.parts = spec.parts;
  task.sigma_mm = hand.sigma_mm;
  task.guess_sigma_mm = hand.guess_sigma_mm;
  if (spec.start) task.start = StartMark{spec.start->line, spec.start->sigma_mm, StartKind::given, {}};
  const bool alternating = spec.direction == DirectionRule::alternating;
  task.directions.assign(static_cast<std::size_t>(spec.parts) + 1, Fold::valley);
  for (int line = 1; line < spec.parts; ++line) {
    if (alternating && line % 2 == 0) task.directions[static_cast<std::size_t>(line)] = Fold::mountain;
    const bool wanted = std::find(spec.left_out.begin(), spec.left_out.end(), line) == spec.left_out.end();
    if (wanted && !crease_spans(layout, family, line, spec).empty()) continue;
    task.left_out.push_back(line);
    if (!spec.pinches_allowed || pinch_spans(layout, family, line, spec).empty()) task.untouchable.push_back(line);
  }
  return task;
}

Status check_spec(const GridSpec& spec, const HandProfile& hand) {
  DivideTask task;
  task.parts = spec.parts;
  task.sigma_mm = hand.sigma_mm;
  task.guess_sigma_mm = hand.guess_sigma_mm;
  task.start = spec.start;
  task.left_out = spec.left_out;
  if (auto ok = check_task(task); !ok) return ok;
  if (spec.extent == ExtentRule::inset && (spec.inset < 1 || 2 * spec.inset >= spec.parts)) {
    return Error{fmt::format("Stopping {} units in from both sides leaves nothing of {}; type 1 to {}.", spec.inset,
                             spec.parts, std::max(1, (spec.parts - 1) / 2))};
  }
  for (const Box& box : spec.keep_clean) {
    if (!(box.size().x() > 0 && box.size().y() > 0)) {
      return Error{"An area to keep clean has no size; give its left, bottom, right and top in mm."};
    }
  }
  return Done{};
}

} // namespace uc
