#include "pattern/relief_outline.h"

#include "base/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

namespace uc {
namespace {

std::string place_text(const Point& p) {
  return fmt::format("{},{}", format_number(p.x(), 3), format_number(p.y(), 3));
}

double turning(const Point& a, const Point& b) { return a.x() * b.y() - a.y() * b.x(); }

/// Counter-clockwise, without corners that turn nothing.
Result<Polygon> relief_outline(const Polygon& typed) {
  Polygon out;
  for (std::size_t i = 0; i < typed.size(); ++i) {
    const Point& p = typed[i];
    const Point before = p - typed[(i + typed.size() - 1) % typed.size()];
    const Point after = typed[(i + 1) % typed.size()] - p;
    if (p != Point(p.array().round()))
      return Error{fmt::format("the corner at {} is not at whole cells", place_text(p))};
    if (after.norm() == 0) return Error{fmt::format("the corner at {} stands there twice", place_text(p))};
    if (after.x() != 0 && after.y() != 0 && std::abs(after.x()) != std::abs(after.y()))
      return Error{fmt::format("the side from {} to {} is neither level, upright nor at 45 degrees, so pleats would "
                               "leave the grid there; the rule reflect takes such outlines",
                               place_text(p), place_text(p + after))};
    if (turning(before, after) != 0) out.push_back(p);
  }
  if (out.size() < 3) return Error{"an outline needs three corners or more"};
  if (signed_area(out) < 0) std::reverse(out.begin(), out.end());
  return out;
}

/// Whether two segments have a point in common; each reaches the other's line, and so do their boxes.
bool have_common_point(const Segment& a, const Segment& b) {
  const auto crosses = [](const Segment& line, const Segment& s) {
    const Line on = Line::through(line.from, line.to);
    return on.distance(s.from) * on.distance(s.to) <= 1e-9;
  };
  const auto beside = [](const Segment& s, const Segment& other) {
    return (s.from.cwiseMax(s.to).array() < other.from.cwiseMin(other.to).array()).any();
  };
  return crosses(a, b) && crosses(b, a) && !beside(a, b) && !beside(b, a);
}

Status check_simple(const Polygon& p) {
  for (std::size_t i = 0; i < p.size(); ++i) {
    for (std::size_t j = i + 2; j < p.size(); ++j) {
      if (i == 0 && j + 1 == p.size()) continue; // neighbours
      if (have_common_point({p[i], p[i + 1]}, {p[j], p[(j + 1) % p.size()]}))
        return Error{fmt::format("its sides from {} and from {} meet", place_text(p[i]), place_text(p[j]))};
    }
  }
  return Done{};
}

/// Each side moved inward by so many cells along the grid; fails when a side would vanish or sides would meet.
Result<Polygon> moved_inward(const Polygon& p, int step) {
  // A side's own line is all points whose product with its normal, of whole cells, is one number.
  const auto line_of = [&](std::size_t i) {
    const Point d = (p[(i + 1) % p.size()] - p[i]).cwiseSign();
    const Point normal{-d.y(), d.x()};
    return std::pair{normal, normal.dot(p[i]) + step};
  };
  Polygon out;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const auto [m, c] = line_of((i + p.size() - 1) % p.size());
    const auto [n, d] = line_of(i);
    const double area = m.x() * n.y() - m.y() * n.x();
    out.emplace_back((c * n.y() - d * m.y()) / area, (d * m.x() - c * n.x()) / area);
  }
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Point now = out[(i + 1) % p.size()] - out[i];
    if (now.dot(p[(i + 1) % p.size()] - p[i]) <= 0)
      return Error{fmt::format("no room is left within the side from {}", place_text(p[i]))};
  }
  if (const auto ok = check_simple(out); !ok) return Error{ok.error()};
  return out;
}

} // namespace

Result<std::vector<Polygon>> relief_outlines(const Polygon& typed, int nested, int step) {
  auto outline = relief_outline(typed);
  if (!outline) return Error{outline.error()};
  if (const auto ok = check_simple(*outline); !ok) return Error{ok.error()};
  std::vector<Polygon> outlines{*std::move(outline)};
  while (static_cast<int>(outlines.size()) < nested) {
    auto next = moved_inward(outlines.back(), step);
    if (!next)
      return Error{fmt::format("{} outlines, {} apart, do not fit into each other: {}; draw fewer, or closer together",
                               nested, step, next.error())};
    outlines.push_back(*std::move(next));
  }
  return outlines;
}

} // namespace uc
