// What a folder wants on the sheet: a mark on an edge, a point, a line, a direction.
#pragma once

#include "base/result.h"
#include "geometry/polygon.h"
#include "paper/sheet.h"

#include <optional>
#include <string>
#include <string_view>

namespace uc {

struct Target {
  enum class Kind { mark, point, line, angle };
  Kind kind = Kind::mark;
  int edge = -1;                  // mark: the edge of the sheet it lies on, -1 when it lies on `carrier`
  std::optional<Segment> carrier; // mark: a line that is on the sheet already
  double fraction = 0;            // mark: from the left or lower end of its edge, from the first end of its carrier
  Point point = Point::Zero();    // mark and point, mm
  Segment ends;                   // line: its two ends on the sheet, mm
  double degrees = 0;             // angle: counter-clockwise from the bottom edge, 0 to 180
};

/// Left or lower end first.
Segment edge_in_reading_order(const Polygon& sheet, int edge);

/// Fraction from 0 to 1, ends excluded.
Result<Target> mark_on_edge(const Polygon& sheet, int edge, double fraction);
/// A mark on a line that exists already, such as a crease; the line is cut to the sheet.
Result<Target> mark_on_line(const Polygon& sheet, const Segment& line, double fraction);
Result<Target> wanted_point(const Polygon& sheet, const Point& point);
/// The line through two points; it must cross the sheet.
Result<Target> wanted_line(const Polygon& sheet, const Point& p, const Point& q);
Result<Target> wanted_angle(double degrees);
/// The line through a point of the sheet, such as a corner, in this direction.
Result<Target> wanted_angle_at(const Polygon& sheet, const Point& at, double degrees);

/// Edges by name: bottom, right, top, left on a rectangle, e1, e2, ... on others; -1 when there is none.
int edge_named(const Polygon& sheet, std::string_view name);

/// Reads "bottom:1/3", "120,80", "line 0,0 240,120", "angle 36", "angle 36 at bl",
/// "1/3 of 0,120 240,120" (of an old crease), with typed lengths.
Result<Target> parse_target(const Polygon& sheet, std::string_view text, LengthUnit unit = LengthUnit::mm);
std::string describe(const Target& target, const Polygon& sheet, LengthUnit unit = LengthUnit::mm);

} // namespace uc
