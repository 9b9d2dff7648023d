#include "pattern/relief_pleats.h"

#include "base/index.h"
#include "base/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
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
    if (std::abs(after.x()) != std::abs(after.y()))
      return Error{
          fmt::format("the side from {} to {} does not run at 45 degrees, so pleats would turn there by another "
                      "angle than at the other sides",
                      place_text(p), place_text(p + after))};
    if (turning(before, after) != 0) out.push_back(p);
  }
  if (out.size() < 4) return Error{"an outline needs four corners or more"};
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

/// Each side moved inward; fails when a side would vanish or sides would meet.
Result<Polygon> moved_inward(const Polygon& p, double step) {
  Polygon out;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Point before = (p[i] - p[(i + p.size() - 1) % p.size()]).normalized();
    const Point after = (p[(i + 1) % p.size()] - p[i]).normalized();
    const Point inward{-before.y() - after.y(), before.x() + after.x()};
    out.push_back(Point((p[i] + step / std::sqrt(2.0) * inward).array().round()));
  }
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Point now = out[(i + 1) % p.size()] - out[i];
    if (now.dot(p[(i + 1) % p.size()] - p[i]) <= 0)
      return Error{fmt::format("no room is left within the side from {}", place_text(p[i]))};
  }
  if (const auto ok = check_simple(out); !ok) return Error{ok.error()};
  return out;
}

/// Two-colours pleats by what is said of pairs of them; what contradicts something said before is refused.
class Alternation {
public:
  explicit Alternation(std::size_t count) : up_(count, -1), odd_(count, 0) {}
  bool say(int a, int b, bool differ) {
    const auto [ra, pa] = root(a);
    const auto [rb, pb] = root(b);
    const char wanted = static_cast<char>(differ);
    if (ra == rb) return (pa ^ pb) == wanted;
    up_[at(ra)] = rb;
    odd_[at(ra)] = static_cast<char>(pa ^ pb ^ wanted);
    return true;
  }
  /// The pleat it follows, and whether it is of the other direction.
  [[nodiscard]] std::pair<int, char> root(int a) const {
    char parity = 0;
    for (; up_[at(a)] >= 0; a = up_[at(a)]) parity = static_cast<char>(parity ^ odd_[at(a)]);
    return {a, parity};
  }

private:
  std::vector<int> up_;
  std::vector<char> odd_;
};

class Relief {
public:
  Relief(std::vector<Polygon> outlines, const Box& sheet) : outlines_(std::move(outlines)), area_(sheet) {
    for (const Polygon& p : outlines_) {
      const Box own = bounding_box(p);
      area_ = {area_.low.cwiseMin(own.low), area_.high.cwiseMax(own.high)};
    }
    cut_lines(0);
    cut_lines(1);
  }

  /// What is said first holds; what contradicts it does not.
  void direct() {
    Alternation said(pleats_.size());
    for (const auto& [key, p] : meeting_) said.say(p[0], p[1], false);
    std::vector<std::pair<int, int>> round_corners;
    for (const Polygon& outline : outlines_) {
      int last = -1; // on the side before
      const std::size_t n = outline.size();
      for (std::size_t i = 0; i <= n; ++i) {
        const std::vector<Point> places = places_on(outline, i % n);
        if (last >= 0) round_corners.emplace_back(last, level_at(places.front()));
        last = level_at(places.back());
        if (i == n) break;
        for (std::size_t k = 1; k < places.size(); ++k) said.say(level_at(places[k - 1]), level_at(places[k]), true);
      }
    }
    for (const auto& [a, b] : round_corners) said.say(a, b, false);
    for (std::size_t a = 0; a < pleats_.size(); ++a)
      for (std::size_t b = a + 1; b < pleats_.size() && pleats_[b].axis == pleats_[a].axis; ++b)
        if (neighbours(pleats_[a], pleats_[b])) said.say(static_cast<int>(a), static_cast<int>(b), true);
    for (std::size_t i = 0; i < pleats_.size(); ++i) {
      const auto [first, odd] = said.root(static_cast<int>(i));
      pleats_[i].kind = odd != 0 ? EdgeKind::valley : EdgeKind::mountain;
    }
  }

  [[nodiscard]] std::vector<ReliefCrease> creases(bool grid) const {
    std::vector<ReliefCrease> out;
    for (const Pleat& p : pleats_) out.push_back({segment_of(p), p.kind});
    for (const Polygon& outline : outlines_)
      for (std::size_t i = 0; i < outline.size(); ++i) add_side(out, outline, i);
    if (!grid) return out;
    for (const Pleat& p : idle_) out.push_back({segment_of(p), EdgeKind::unfolded});
    return out;
  }

private:
  struct Pleat {
    int axis = 0; // 0 level, 1 upright
    double at = 0;
    double from = 0;
    double to = 0;
    EdgeKind kind = EdgeKind::mountain;
  };
  using Key = std::pair<long, long>;
  static Key key_of(const Point& p) { return {std::lround(2 * p.x()), std::lround(2 * p.y())}; }
  static Segment segment_of(const Pleat& p) {
    if (p.axis == 0) return {{p.from, p.at}, {p.to, p.at}};
    return {{p.at, p.from}, {p.at, p.to}};
  }

  /// All pleats of one axis: an even number of outlines lies round level ones, an odd number round upright ones.
  void cut_lines(int axis) {
    const Eigen::Index along = axis;
    const Eigen::Index across = 1 - axis;
    for (double at = std::ceil(area_.low[across] - 0.5 + 1e-9) + 0.5; at < area_.high[across] - 1e-9; ++at) {
      std::vector<double> meets;
      for (const Polygon& p : outlines_) {
        for (std::size_t i = 0; i < p.size(); ++i) {
          const Point& a = p[i];
          const Point& b = p[(i + 1) % p.size()];
          if ((a[across] - at) * (b[across] - at) < 0)
            meets.push_back(a[along] + (at - a[across]) * (b[along] - a[along]) / (b[across] - a[across]));
        }
      }
      std::sort(meets.begin(), meets.end());
      for (std::size_t i = 0; i <= meets.size(); ++i) {
        const Pleat pleat{axis, at, i == 0 ? area_.low[along] : meets[i - 1],
                          i == meets.size() ? area_.high[along] : meets[i]};
        if (static_cast<int>(i % 2) != axis) {
          idle_.push_back(pleat);
          continue;
        }
        const Segment s = segment_of(pleat);
        const int number = static_cast<int>(pleats_.size());
        if (i > 0) meeting_[key_of(s.from)].at(static_cast<std::size_t>(axis)) = number;
        if (i < meets.size()) meeting_[key_of(s.to)].at(static_cast<std::size_t>(axis)) = number;
        pleats_.push_back(pleat);
      }
    }
  }

  static bool neighbours(const Pleat& a, const Pleat& b) {
    return std::abs(std::abs(a.at - b.at) - 1) < 1e-9 && std::min(a.to, b.to) > std::max(a.from, b.from);
  }
  [[nodiscard]] int level_at(const Point& p) const { return meeting_.at(key_of(p))[0]; }

  /// Where pleats meet a side, from its first corner on.
  static std::vector<Point> places_on(const Polygon& outline, std::size_t side) {
    const Point& from = outline[side];
    const Point d = outline[(side + 1) % outline.size()] - from;
    const Point step = d.cwiseSign();
    const auto count = std::lround(std::abs(d.x()));
    std::vector<Point> out;
    out.reserve(static_cast<std::size_t>(count));
    for (long k = 0; k < count; ++k) out.emplace_back(from + (static_cast<double>(k) + 0.5) * step);
    return out;
  }

  void add_side(std::vector<ReliefCrease>& out, const Polygon& outline, std::size_t side) const {
    const std::vector<Point> places = places_on(outline, side);
    // The direction that a pleat gives to a piece beside it.
    const auto given = [&](const Point& meets, const Point& piece) {
      const Pleat& level = pleats_[at(level_at(meets))];
      const double out_of = std::abs(level.from - meets.x()) < 1e-9 ? 1 : -1; // which way the level pleat leaves
      return (piece.x() - meets.x()) * out_of > 0 ? turned_over(level.kind) : level.kind;
    };
    Point from = outline[side];
    for (std::size_t k = 0; k <= places.size(); ++k) {
      const Point to = k < places.size() ? places[k] : outline[(side + 1) % outline.size()];
      const Point middle = (from + to) / 2;
      const EdgeKind before = given(places[k > 0 ? k - 1 : 0], middle);
      const EdgeKind after = given(places[std::min(k, places.size() - 1)], middle);
      out.push_back({{from, to}, before == after ? before : EdgeKind::undirected});
      from = to;
    }
  }

  std::vector<Polygon> outlines_;
  Box area_;
  std::vector<Pleat> pleats_;
  std::vector<Pleat> idle_;                   // lines of the grid that are not folded
  std::map<Key, std::array<int, 2>> meeting_; // the level and the upright pleat that meet on a side
};

} // namespace

Result<std::vector<ReliefCrease>> relief_creases(const ReliefWish& wish, const Box& sheet) {
  auto outline = relief_outline(wish.outline);
  if (!outline) return Error{outline.error()};
  if (const auto ok = check_simple(*outline); !ok) return Error{ok.error()};
  std::vector<Polygon> outlines{*std::move(outline)};
  while (static_cast<int>(outlines.size()) < wish.nested) {
    auto next = moved_inward(outlines.back(), wish.step);
    if (!next)
      return Error{
          fmt::format("{} outlines, {} apart, do not fit into each other: {}", wish.nested, wish.step, next.error())};
    outlines.push_back(*std::move(next));
  }
  Relief relief(std::move(outlines), sheet);
  relief.direct();
  return relief.creases(wish.grid);
}

} // namespace uc
