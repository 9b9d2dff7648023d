// Simple polygons in counter-clockwise order and what a straight line or a half-plane cuts from them.
#pragma once

#include "geometry/plane.h"

#include <span>

namespace uc {

using Polygon = std::vector<Point>;

struct Box {
  Point low = Point::Zero();
  Point high = Point::Zero();
  [[nodiscard]] Point size() const { return {high.x() - low.x(), high.y() - low.y()}; }
  [[nodiscard]] Point centre() const { return {(low.x() + high.x()) / 2, (low.y() + high.y()) / 2}; }
};

double signed_area(std::span<const Point> polygon);
Box bounding_box(std::span<const Point> points);
/// Counter-clockwise, without points on its sides (Andrew 1979).
Polygon convex_hull(std::vector<Point> points);
/// The sides of the rectangle of least area about the points, the longer first; one of them lies along a side of the
/// convex hull (Freeman and Shapira 1975). Of several as small the one that is nearest to a square.
Point least_rectangle(std::vector<Point> points);
/// Least and greatest n·p over the polygon, for a unit normal n.
std::pair<double, double> support(std::span<const Point> polygon, const Point& normal);

/// How far inside a convex polygon a point lies: its distance from the nearest side's line, negative outside.
double depth_inside(const Point& p, std::span<const Point> convex);

/// The parts of a line inside a polygon, in the order of line.direction(). A line along an edge yields that edge.
std::vector<Segment> clip(const Line& line, std::span<const Point> polygon, double tolerance = 1e-9);
/// The part of a convex or simple polygon with line.distance(p) <= 0 (Sutherland and Hodgman 1974).
Polygon clip_to_side(std::span<const Point> polygon, const Line& line);
/// What is left of a segment outside an axis-parallel box.
std::vector<Segment> outside(const Segment& segment, const Box& box);

/// What is left of segments that lie along one line when others on it are taken away.
std::vector<Segment> without(const std::vector<Segment>& segments, const std::vector<Segment>& taken);

/// Regular n-gon with one edge along y = 0, its bounding box touching both axes. Edge in mm.
Polygon regular_polygon(int sides, double edge);

} // namespace uc
