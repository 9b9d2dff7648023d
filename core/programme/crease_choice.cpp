#include "programme/crease_choice.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double apart_deg = 4; // what the eye tells apart
constexpr double apart_mm = 8;

/// Of a crease as it is seen: degrees from level, and where its middle is.
struct Seen {
  double steep = 0;
  Point middle = Point::Zero();
  Seen(const Segment& s, const SheetState& state) {
    const Isometry view = view_of(state, Point::Zero());
    const Point d = view.linear * (s.to - s.from);
    steep = std::atan2(std::abs(d.y()), std::abs(d.x())) * 180 / std::numbers::pi;
    middle = view * s.middle();
  }
};

/// How far the first stands out from the second that way, in what the eye needs; 1 is enough.
double lead(Stand stand, const Seen& a, const Seen& b) {
  switch (stand) {
  case Stand::steepest:
    return (a.steep - b.steep) / apart_deg;
  case Stand::flattest:
    return (b.steep - a.steep) / apart_deg;
  case Stand::leftmost:
    return (b.middle.x() - a.middle.x()) / apart_mm;
  case Stand::rightmost:
    return (a.middle.x() - b.middle.x()) / apart_mm;
  case Stand::highest:
    return (a.middle.y() - b.middle.y()) / apart_mm;
  case Stand::lowest:
    return (b.middle.y() - a.middle.y()) / apart_mm;
  case Stand::alone:
  case Stand::unclear:
    break;
  }
  return 0;
}

} // namespace

CreaseChoice crease_choice(const Segment& meant, const std::vector<Segment>& others, const SheetState& state) {
  CreaseChoice out{course_of({meant}, state), Stand::alone};
  const Seen own(meant, state);
  std::vector<Seen> rivals;
  for (const Segment& s : others)
    if (s.length() > 1e-9 && course_of({s}, state) == out.course) rivals.emplace_back(s, state);
  if (rivals.empty()) return out;
  double best = 1;
  out.stand = Stand::unclear;
  for (const Stand stand :
       {Stand::steepest, Stand::flattest, Stand::leftmost, Stand::rightmost, Stand::highest, Stand::lowest}) {
    double least = 1e300;
    for (const Seen& rival : rivals) least = std::min(least, lead(stand, own, rival));
    if (least > best) {
      best = least;
      out.stand = stand;
    }
  }
  return out;
}

bool could_be_meant(const CreaseChoice& said, const Segment& meant, const Segment& other, const SheetState& state) {
  if (course_of({other}, state) != said.course) return false;
  if (said.stand == Stand::alone || said.stand == Stand::unclear) return true;
  return lead(said.stand, Seen(meant, state), Seen(other, state)) < 1;
}

} // namespace uc
