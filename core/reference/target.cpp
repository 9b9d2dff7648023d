#include "reference/target.h"

#include "base/expression.h"
#include "reference/construction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

namespace uc {
namespace {

bool on_sheet(const Polygon& sheet, const Point& p) {
  const double size = bounding_box(sheet).size().maxCoeff();
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const Point side = (sheet[(i + 1) % sheet.size()] - sheet[i]).normalized();
    const Point to = p - sheet[i];
    if (side.x() * to.y() - side.y() * to.x() < -1e-9 * size) return false;
  }
  return true;
}

std::string size_text(const Polygon& sheet) {
  const Point size = bounding_box(sheet).size();
  return fmt::format("{} x {} mm", format_number(size.x(), 2), format_number(size.y(), 2));
}

std::vector<std::string_view> words(std::string_view text, std::string_view at) {
  std::vector<std::string_view> out;
  while (!text.empty()) {
    const auto end = std::min(text.find_first_of(at), text.size());
    if (end > 0) out.push_back(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  return out;
}

Result<Point> parse_point(std::string_view text, LengthUnit unit) {
  const auto halves = words(text, ",");
  if (halves.size() != 2) return Error{fmt::format("\"{}\" is not a point; type x,y such as 120,80.", text)};
  const auto x = parse_length(halves[0], unit);
  if (!x) return Error{x.error()};
  const auto y = parse_length(halves[1], unit);
  if (!y) return Error{y.error()};
  return Point{x->value, y->value};
}

} // namespace

Segment edge_in_reading_order(const Polygon& sheet, int edge) {
  const auto n = sheet.size();
  const Point& p = sheet[static_cast<std::size_t>(edge)];
  const Point& q = sheet[(static_cast<std::size_t>(edge) + 1) % n];
  const bool flip = std::abs(p.x() - q.x()) > 1e-9 ? p.x() > q.x() : p.y() > q.y();
  return flip ? Segment{q, p} : Segment{p, q};
}

Result<Target> mark_on_edge(const Polygon& sheet, int edge, double fraction) {
  if (!(fraction > 1e-9 && fraction < 1 - 1e-9))
    return Error{fmt::format("The fraction {} is not inside the edge; type one between 0 and 1 such as 1/3.",
                             format_number(fraction, 6))};
  Target t;
  t.kind = Target::Kind::mark;
  t.edge = edge;
  t.fraction = fraction;
  t.point = edge_in_reading_order(sheet, edge).at(fraction);
  return t;
}

Result<Target> mark_on_line(const Polygon& sheet, const Segment& line, double fraction) {
  if (line.length() < 1e-6) return Error{"The line has no length; give two different points."};
  const auto seen = chord(Line::through(line.from, line.to), sheet);
  if (!seen) return Error{fmt::format("The line does not cross the sheet of {}; give points on it.", size_text(sheet))};
  if (!(fraction > 1e-9 && fraction < 1 - 1e-9))
    return Error{"The fraction must lie between 0 and 1; type one such as 1/3."};
  Target t;
  t.kind = Target::Kind::mark;
  // In the sense in which it was given.
  const bool same = (seen->to - seen->from).dot(line.to - line.from) > 0;
  t.carrier = same ? *seen : Segment{seen->to, seen->from};
  t.fraction = fraction;
  t.point = t.carrier->at(fraction);
  return t;
}

Result<Target> wanted_point(const Polygon& sheet, const Point& point) {
  if (!point.allFinite() || !on_sheet(sheet, point)) {
    return Error{fmt::format("The point {}, {} lies off the sheet of {}; give one on it.", format_number(point.x(), 3),
                             format_number(point.y(), 3), size_text(sheet))};
  }
  Target t;
  t.kind = Target::Kind::point;
  t.point = point;
  return t;
}

Result<Target> wanted_line(const Polygon& sheet, const Point& p, const Point& q) {
  if (!p.allFinite() || !q.allFinite() || (q - p).norm() < 1e-6)
    return Error{"The two points of the line are one; give two different points."};
  const double size = bounding_box(sheet).size().norm();
  const auto seen = chord(Line::through(p, q), sheet, 1e-9 * size);
  if (!seen || seen->length() < 1e-3 * size)
    return Error{fmt::format("The line does not cross the sheet of {}; give points on it.", size_text(sheet))};
  Target t;
  t.kind = Target::Kind::line;
  t.ends = *seen;
  return t;
}

Result<Target> wanted_angle(double degrees) {
  if (!(degrees >= 0 && degrees <= 180))
    return Error{fmt::format("The angle {} cannot be used; type 0 to 180 degrees.", format_number(degrees, 6))};
  Target t;
  t.kind = Target::Kind::angle;
  t.degrees = degrees == 180 ? 0 : degrees;
  return t;
}

Result<Target> wanted_angle_at(const Polygon& sheet, const Point& at, double degrees) {
  const auto point = wanted_point(sheet, at);
  if (!point) return Error{point.error()};
  const auto angle = wanted_angle(degrees);
  if (!angle) return Error{angle.error()};
  const double r = degrees * std::numbers::pi / 180;
  auto line = wanted_line(sheet, at, at + Point{std::cos(r), std::sin(r)});
  if (!line) return Error{"From there a line in this direction does not cross the sheet; turn it inward."};
  return line;
}

int edge_named(const Polygon& sheet, std::string_view name) {
  for (int i = 0; i < static_cast<int>(sheet.size()); ++i) {
    if (edge_id(sheet, i) == name) return i;
  }
  return -1;
}

namespace {

/// Edges as people call them: bottom, "the left edge", "the long side".
int edge_in_words(const Polygon& sheet, std::vector<std::string_view> name) {
  if (!name.empty() && name.front() == "the") name.erase(name.begin());
  if (name.size() == 2 && (name[1] == "edge" || name[1] == "side")) {
    const Point size = bounding_box(sheet).size();
    if (name[0] == "long") return size.x() >= size.y() ? 0 : 3;
    if (name[0] == "short") return size.x() >= size.y() ? 3 : 0;
    name.pop_back();
  }
  return name.size() == 1 ? edge_named(sheet, name[0]) : -1;
}

/// What people type on a rectangle: diagonal · falling diagonal · half · middle · 1/3 of the long side · 15 cm from the
/// left. Empty when it is something else.
std::optional<Result<Target>> target_in_words(const Polygon& sheet, const std::vector<std::string_view>& said,
                                              LengthUnit unit) {
  const Box box = bounding_box(sheet);
  const Point size = box.size();
  const bool falling = said.size() == 2 && (said[0] == "falling" || said[0] == "other");
  if (said.back() == "diagonal" && (said.size() == 1 || falling || (said.size() == 2 && said[0] == "rising")))
    return falling ? wanted_line(sheet, {box.low.x(), box.high.y()}, {box.high.x(), box.low.y()})
                   : wanted_line(sheet, box.low, box.high);
  if (said.size() == 1 && (said[0] == "middle" || said[0] == "centre" || said[0] == "center"))
    return wanted_point(sheet, box.centre());
  if (said.size() == 1 && said[0] == "half") { // across the longer side
    const Point c = box.centre();
    return size.x() >= size.y() ? wanted_line(sheet, {c.x(), box.low.y()}, {c.x(), box.high.y()})
                                : wanted_line(sheet, {box.low.x(), c.y()}, {box.high.x(), c.y()});
  }
  const auto split =
      std::find_if(said.begin(), said.end(), [](std::string_view w) { return w == "of" || w == "from"; });
  if (split == said.begin() || split == said.end() || split + 1 == said.end()) return std::nullopt;
  const int edge = edge_in_words(sheet, {split + 1, said.end()});
  if (edge < 0) return std::nullopt;
  std::string amount;
  for (auto w = said.begin(); w != split; ++w) amount += (amount.empty() ? "" : " ") + std::string(*w);
  const auto part = amount == "half" ? Result<double>(0.5) : parse_number(amount);
  if (*split == "of") return part ? mark_on_edge(sheet, edge, *part) : Result<Target>(Error{part.error()});
  // From an edge: along the edge that leads away from it.
  const bool across = edge == 1 || edge == 3;
  const double side = across ? size.x() : size.y();
  double fraction = 0;
  if (part && *part < 1) {
    fraction = *part;
  } else {
    const auto length = parse_length(amount, unit);
    if (!length) return Result<Target>(Error{length.error()});
    fraction = length->value / side;
  }
  if (edge == 1 || edge == 2) fraction = 1 - fraction;
  if (!(fraction > 0 && fraction < 1))
    return Result<Target>(
        Error{fmt::format("{} from there lies off the sheet; it is {} mm that way.", amount, format_number(side, 2))});
  return mark_on_edge(sheet, across ? 0 : 3, fraction);
}

} // namespace

Result<Target> parse_target(const Polygon& sheet, std::string_view text, LengthUnit unit) {
  const Error unknown{fmt::format(
      "\"{}\" is not a target; type a mark ({}:1/3), a point (120,80), line 0,0 240,120, angle 36 or words such as "
      "diagonal, middle, 1/3 of the long side.",
      text, edge_id(sheet, 0))};
  const auto parts = words(text, " ");
  if (parts.empty()) return unknown;
  if (is_box(sheet)) {
    if (auto worded = target_in_words(sheet, parts, unit)) return *std::move(worded);
  }
  if (parts[0] == "line") {
    if (parts.size() != 3) return Error{"Type a line as two points, such as line 0,0 240,120."};
    const auto p = parse_point(parts[1], unit);
    if (!p) return Error{p.error()};
    const auto q = parse_point(parts[2], unit);
    if (!q) return Error{q.error()};
    return wanted_line(sheet, *p, *q);
  }
  if (parts[0] == "angle") {
    if (parts.size() != 2 && !(parts.size() == 4 && parts[2] == "at"))
      return Error{"Type an angle as angle 36, or angle 36 at 0,0."};
    const auto degrees = parse_degrees(parts[1]);
    if (!degrees) return Error{degrees.error()};
    if (parts.size() == 2) return wanted_angle(*degrees);
    for (int i = 0; i < static_cast<int>(sheet.size()); ++i) {
      if (corner_id(sheet, i) == parts[3]) return wanted_angle_at(sheet, sheet[static_cast<std::size_t>(i)], *degrees);
    }
    const auto at = parse_point(parts[3], unit);
    if (!at) return Error{at.error()};
    return wanted_angle_at(sheet, *at, *degrees);
  }
  if (parts.size() == 4 && parts[1] == "of" && parts[2].find(',') != std::string_view::npos) {
    const auto fraction = parse_number(parts[0]);
    if (!fraction) return Error{fraction.error()};
    const auto p = parse_point(parts[2], unit);
    if (!p) return Error{p.error()};
    const auto q = parse_point(parts[3], unit);
    if (!q) return Error{q.error()};
    return mark_on_line(sheet, {*p, *q}, *fraction);
  }
  const auto colon = text.find(':');
  if (colon != std::string_view::npos) {
    const std::string_view name = text.substr(0, colon);
    const int edge = edge_named(sheet, name);
    if (edge < 0) {
      std::string names;
      for (int i = 0; i < static_cast<int>(sheet.size()); ++i) names += (i ? ", " : "") + edge_id(sheet, i);
      return Error{fmt::format("\"{}\" is not an edge of this sheet; type {}.", name, names)};
    }
    const auto fraction = parse_number(text.substr(colon + 1));
    if (!fraction) return Error{fraction.error()};
    return mark_on_edge(sheet, edge, *fraction);
  }
  if (text.find(',') == std::string_view::npos) return unknown;
  const auto p = parse_point(text, unit);
  if (!p) return Error{p.error()};
  return wanted_point(sheet, *p);
}

std::string describe(const Target& target, const Polygon& sheet, LengthUnit unit) {
  const auto pair = [&](const Point& p) {
    return fmt::format("{},{}", format_number(p.x() / mm_per(unit), 3), format_number(p.y() / mm_per(unit), 3));
  };
  switch (target.kind) {
  case Target::Kind::mark:
    if (target.edge < 0)
      return fmt::format("{} of {} {}", format_number(target.fraction, 6), pair(target.carrier->from),
                         pair(target.carrier->to));
    return fmt::format("{}:{}", edge_id(sheet, target.edge), format_number(target.fraction, 6));
  case Target::Kind::point:
    return pair(target.point);
  case Target::Kind::line:
    return fmt::format("line {} {}", pair(target.ends.from), pair(target.ends.to));
  case Target::Kind::angle:
    return fmt::format("angle {}", format_number(target.degrees, 6));
  }
  return {};
}

} // namespace uc
