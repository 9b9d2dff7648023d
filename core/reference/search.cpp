#include "reference/search.h"

#include "reference/shortlist.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <numbers>
#include <set>
#include <tuple>

namespace uc {
namespace {

using Clock = std::chrono::steady_clock;

double seconds_since(Clock::time_point start) { return std::chrono::duration<double>(Clock::now() - start).count(); }

struct NearLine {
  double x, y; // normal
  double off;  // signed distance of the target
  double variance;
  std::uint32_t id;
  int creases;
};

/// Adds the time it lives to a sum.
class Stopwatch {
public:
  explicit Stopwatch(double& sum) : sum_(sum) {}
  ~Stopwatch() { sum_ += seconds_since(start_); }
  Stopwatch(const Stopwatch&) = delete;
  Stopwatch& operator=(const Stopwatch&) = delete;

private:
  double& sum_;
  Clock::time_point start_ = Clock::now();
};

class Search {
public:
  [[nodiscard]] double combining_seconds() const { return combining_seconds_; }

  Search(const SheetIndex& index, const Polygon& sheet, const Target& target, const SearchOptions& options)
      : index_(index), sheet_(sheet), target_(target), options_(options), frame_(sheet),
        variance_(std::pow(options.sigma_mm / frame_.size, 2)), list_(options.max_creases, options.top) {}

  void look_up() {
    switch (target_.kind) {
    case Target::Kind::mark:
      look_for_mark();
      break;
    case Target::Kind::point:
      look_for_point();
      break;
    case Target::Kind::line:
      look_for_line();
      break;
    case Target::Kind::angle:
      look_for_angle();
      break;
    }
  }

  std::vector<Route> judge(std::size_t& count) const {
    std::vector<Route> routes;
    std::set<std::tuple<int, std::uint64_t, std::uint64_t, std::uint32_t, std::uint32_t>> seen;
    std::set<std::tuple<long long, long long, int, std::string>> alike;
    RouteMaker maker(index_, sheet_, target_);
    for (const Candidate& c : list_.all()) {
      if (!seen.insert({static_cast<int>(c.kind), c.first.packed(), c.second.packed(), c.line, c.extra}).second)
        continue;
      ++count;
      auto route = maker.make(c, {options_.sigma_mm, options_.keep_clean});
      if (!route || route->creases > options_.max_creases) continue;
      // Mirror images and other ways to the very same lines have the same figures.
      std::string ops;
      for (const auto& item : route->construction.items()) {
        if (item.kind == ConstructionItem::Kind::crease) ops += name_of(item.op);
      }
      std::sort(ops.begin(), ops.end());
      const auto rounded = [&](double mm) { return std::llround(mm / frame_.size * 1e9); };
      if (!alike.insert({rounded(route->error_mm), rounded(route->sigma_mm), route->creases, ops}).second) continue;
      routes.push_back(std::move(*route));
    }
    return routes;
  }

private:
  /// Lines of the index that pass close to a point, the nearest of each level.
  [[nodiscard]] std::vector<NearLine> lines_near(const Point& at, int most_creases, std::size_t most = 700) {
    std::vector<NearLine> out;
    // With few creases allowed nothing may lie near; then what lies far is still the answer.
    const float few = options_.max_creases <= 2 ? 2.0f : 0.2f;
    const float reach[] = {0, few, few > 1 ? few : 0.06f, options_.max_creases <= 3 ? 0.06f : 0.02f, 0.004f};
    for (int level = 1; level <= std::min(4, most_creases); ++level) {
      const auto begin = index_.level(level).first;
      index_.distances(level, at, buffer_);
      near_.clear();
      for (std::uint32_t i = 0; i < buffer_.size(); ++i) {
        if (std::abs(buffer_[i]) < reach[level]) near_.emplace_back(std::abs(buffer_[i]), begin + i);
      }
      if (near_.size() > most) keep_best(at, most);
      std::sort(near_.begin(), near_.end());
      for (const auto& [d, id] : near_) {
        const IndexLine& l = index_.lines()[id];
        out.push_back({l.line.normal.x(), l.line.normal.y(), l.line.distance(at),
                       l.variance.at(quarter_turned(l.line.normal).dot(at)), id, l.creases});
      }
    }
    return out;
  }

  /// Of the lines in `near_`, half the places go to the nearest, half to those with the least expected error.
  void keep_best(const Point& at, std::size_t most) {
    const auto half = static_cast<std::ptrdiff_t>(most / 2);
    std::nth_element(near_.begin(), near_.begin() + half, near_.end());
    by_score_.clear();
    for (auto it = near_.begin() + half; it != near_.end(); ++it) {
      const IndexLine& l = index_.lines()[it->second];
      const double variance = l.variance.at(quarter_turned(l.line.normal).dot(at));
      by_score_.emplace_back(static_cast<float>(it->first * it->first + variance_ * variance), *it);
    }
    std::nth_element(by_score_.begin(), by_score_.begin() + half, by_score_.end());
    near_.resize(static_cast<std::size_t>(half));
    for (auto it = by_score_.begin(); it != by_score_.begin() + half; ++it) near_.push_back(it->second);
  }

  void look_for_mark() {
    const Point at = frame_.in(target_.point);
    const Segment carrier = target_.carrier ? Segment{frame_.in(target_.carrier->from), frame_.in(target_.carrier->to)}
                                            : edge_in_reading_order(index_.outline(), target_.edge);
    const Line axis = Line::through(carrier.from, carrier.to);
    const std::uint32_t id = target_.carrier ? Candidate::carrier : static_cast<std::uint32_t>(target_.edge);
    const auto meeting = [&](const Point& where, int most, auto&& use) {
      for (const NearLine& l : lines_near(where, most)) {
        const double sine = l.x * axis.normal.y() - l.y * axis.normal.x();
        if (std::abs(sine) < 0.05) continue;
        use(l, l.off * l.off / (sine * sine), l.variance / (sine * sine));
      }
    };
    meeting(at, options_.max_creases, [&](const NearLine& l, double residual2, double variance) {
      Candidate c;
      c.kind = Candidate::Kind::crossing;
      c.first = {id, l.id};
      c.creases = l.creases;
      c.residual2 = residual2;
      c.variance = variance_ * variance;
      list_.offer(c);
    });
    if (options_.max_creases < 2) return;
    // Halfway between a mark and an end of the edge: pinch in the middle.
    if (!target_.carrier) {
      for (const Point& end : {carrier.from, carrier.to}) {
        const Point beyond = 2 * at - end;
        if ((beyond - carrier.middle()).norm() > carrier.length() / 2 - 1e-9) continue;
        const auto corner = corner_at(end);
        meeting(beyond, std::min(4, options_.max_creases - 1),
                [&](const NearLine& l, double residual2, double variance) {
                  Candidate c;
                  c.kind = Candidate::Kind::halved;
                  c.first = {id, l.id};
                  c.second = PointRef::corner(corner);
                  c.line = id;
                  c.creases = l.creases + 1;
                  c.residual2 = residual2 / 4;
                  c.variance = variance_ * (variance / 4 + 1);
                  list_.offer(c);
                });
      }
    }
    // A crossing inside the sheet brought down to the edge by a crease square to it.
    const Point d = axis.direction();
    const double wanted = d.dot(at);
    for (const IndexPoint& p : index_.points()) {
      if (p.lines[0] == no_entry) continue;
      const double off = d.dot(p.at) - wanted;
      if (std::abs(off) > 0.01 || std::abs(axis.distance(p.at)) < 1e-6) continue;
      const int creases = index_.creases_together(p.lines[0], p.lines[1]) + 1;
      if (creases > options_.max_creases) continue;
      Candidate c;
      c.kind = Candidate::Kind::squared;
      c.first = {p.lines[0], p.lines[1]};
      c.line = id;
      c.creases = creases;
      c.residual2 = off * off;
      c.variance = variance_ * (crossing_variance(p.lines[0], p.lines[1], p.at) / 2 + 1);
      list_.offer(c);
    }
  }

  void look_for_point() {
    const Point at = frame_.in(target_.point);
    std::vector<NearLine> near = lines_near(at, options_.max_creases, 320);
    for (std::uint32_t e = 0; e < static_cast<std::uint32_t>(index_.edges()); ++e) {
      const Line& l = index_.lines()[e].line;
      if (std::abs(l.distance(at)) < (options_.max_creases <= 2 ? 2 : 0.01))
        near.push_back({l.normal.x(), l.normal.y(), l.distance(at), 0, e, 0});
    }
    const Stopwatch watch(combining_seconds_);
    for (std::size_t i = 0; i < near.size(); ++i) {
      const NearLine& a = near[i];
      for (std::size_t k = i + 1; k < near.size(); ++k) {
        const NearLine& b = near[k];
        const double sine = a.x * b.y - a.y * b.x;
        const double sine2 = sine * sine;
        if (sine2 < 0.01) continue;
        const double cosine = a.x * b.x + a.y * b.y;
        const double residual2 = (a.off * a.off + b.off * b.off - 2 * a.off * b.off * cosine) / sine2;
        const double variance = variance_ * (a.variance + b.variance) / sine2;
        if (a.creases + b.creases > 4 + options_.max_creases) continue;
        if (!list_.might_take(residual2, residual2 + variance, std::max(1, a.creases + b.creases))) continue;
        const int creases = index_.creases_together(a.id, b.id);
        if (creases > options_.max_creases) continue;
        Candidate c;
        c.kind = Candidate::Kind::crossing;
        c.first = {std::min(a.id, b.id), std::max(a.id, b.id)};
        c.creases = creases;
        c.residual2 = residual2;
        c.variance = variance;
        list_.offer(c);
      }
    }
  }

  void offer_line(std::uint32_t id, double residual2, double variance) {
    Candidate c;
    c.kind = Candidate::Kind::line;
    c.line = id;
    c.creases = index_.lines()[id].creases;
    c.residual2 = residual2;
    c.variance = variance_ * variance;
    list_.offer(c);
  }

  void look_for_line() {
    const Point p = frame_.in(target_.ends.from);
    const Point q = frame_.in(target_.ends.to);
    std::vector<float> from_q;
    for (int level = 1; level <= std::min(4, options_.max_creases); ++level) {
      const auto begin = index_.level(level).first;
      index_.distances(level, p, buffer_);
      index_.distances(level, q, from_q);
      const float reach = level < 3 ? 2.0f : level < 4 ? 0.1f : 0.02f;
      for (std::uint32_t i = 0; i < buffer_.size(); ++i) {
        if (std::max(std::abs(buffer_[i]), std::abs(from_q[i])) >= reach) continue;
        const IndexLine& l = index_.lines()[begin + i];
        const double off = std::max(std::abs(l.line.distance(p)), std::abs(l.line.distance(q)));
        const Point t = quarter_turned(l.line.normal);
        offer_line(begin + i, off * off, std::max(l.variance.at(t.dot(p)), l.variance.at(t.dot(q))));
      }
    }
    if (options_.max_creases < 2) return;
    look_for_line_through_marks(p, q);
    look_for_line_between_marks(p, q);
  }

  struct NearMark {
    PointRef ref;
    double along;
    double off;
    double variance;
    int creases;
  };

  /// The wanted line as the crease through two marks that lie close to it.
  void look_for_line_through_marks(const Point& p, const Point& q) {
    const Line wanted = Line::through(p, q);
    const Point d = (q - p).normalized();
    const double length = (q - p).norm();
    std::vector<NearMark> marks;
    const auto take = [&](const PointRef& ref, const Point& at, double variance, int creases) {
      marks.push_back({ref, d.dot(at - p), wanted.distance(at), variance, creases});
    };
    for (std::uint32_t i = 0; i < index_.points().size(); ++i) {
      const IndexPoint& m = index_.points()[i];
      if (std::abs(wanted.distance(m.at)) > 0.01) continue;
      if (m.lines[0] == no_entry)
        take(PointRef::corner(i), m.at, 0, 0);
      else {
        const int creases = index_.creases_together(m.lines[0], m.lines[1]);
        if (creases < options_.max_creases)
          take({m.lines[0], m.lines[1]}, m.at, crossing_variance(m.lines[0], m.lines[1], m.at) / 2, creases);
      }
    }
    for (const Point& end : {p, q}) {
      for (std::uint32_t e = 0; e < static_cast<std::uint32_t>(index_.edges()); ++e) {
        const Line& edge = index_.lines()[e].line;
        if (std::abs(edge.distance(end)) > 1e-9) continue;
        for (const NearLine& l : lines_near(end, std::min(4, options_.max_creases - 1), 60)) {
          const auto at = edge.crossing(index_.lines()[l.id].line);
          const double sine = l.x * edge.normal.y() - l.y * edge.normal.x();
          if (!at || std::abs(sine) < 0.1) continue;
          take({e, l.id}, *at, l.variance / (sine * sine), l.creases);
        }
      }
    }
    std::stable_sort(marks.begin(), marks.end(), [&](const NearMark& a, const NearMark& b) {
      return a.off * a.off + variance_ * a.variance < b.off * b.off + variance_ * b.variance;
    });
    if (marks.size() > 400) marks.resize(400);
    const Stopwatch watch(combining_seconds_);
    for (std::size_t i = 0; i < marks.size(); ++i) {
      for (std::size_t k = 0; k < i; ++k) {
        const NearMark& a = marks[i];
        const NearMark& b = marks[k];
        const double apart = b.along - a.along;
        if (std::abs(apart) < 0.2 * length || a.creases + b.creases + 1 > options_.max_creases + 3) continue;
        const double at_p = a.off - a.along * (b.off - a.off) / apart;
        const double at_q = a.off + (length - a.along) * (b.off - a.off) / apart;
        const double wa = std::max(std::abs(b.along / apart), std::abs((b.along - length) / apart));
        const double wb = std::max(std::abs(a.along / apart), std::abs((length - a.along) / apart));
        Candidate c;
        c.kind = Candidate::Kind::through;
        c.first = a.ref;
        c.second = b.ref;
        c.creases = a.creases + b.creases + 1;
        c.residual2 = std::max(at_p * at_p, at_q * at_q);
        c.variance = variance_ * (wa * wa * (a.variance + 1) + wb * wb * (b.variance + 1));
        if (!list_.might_take(c.residual2, c.score(), std::min(c.creases, most_route_creases))) continue;
        // What both marks share is folded once; the true count is known when the route is made.
        if (c.creases > options_.max_creases && !shares_creases(a.ref, b.ref)) continue;
        c.creases = std::min(c.creases, options_.max_creases);
        list_.offer(c);
      }
    }
  }

  [[nodiscard]] bool shares_creases(const PointRef& a, const PointRef& b) const {
    for (const std::uint32_t l : {a.a, a.b}) {
      for (const std::uint32_t m : {b.a, b.b}) {
        if (a.is_corner() || b.is_corner() || l == Candidate::carrier || m == Candidate::carrier) return false;
        const int apart = index_.lines()[l].creases + index_.lines()[m].creases;
        if (index_.creases_together(l, m) < apart) return true;
      }
    }
    return false;
  }

  /// The wanted line as the crease that brings one mark onto another: its mirror image.
  void look_for_line_between_marks(const Point& p, const Point& q) {
    const Isometry fold = Isometry::reflection_in(Line::through(p, q));
    const double length = (q - p).norm();
    for (std::uint32_t i = 0; i < index_.points().size(); ++i) {
      const IndexPoint& m = index_.points()[i];
      const int creases = m.lines[0] == no_entry ? 0 : index_.creases_together(m.lines[0], m.lines[1]);
      if (creases > 2 || creases + 1 > options_.max_creases) continue;
      const Point image = fold * m.at;
      const auto found = index_.nearest_point(image);
      if (found.first == no_entry || found.first == i || found.second > 0.02) continue;
      const IndexPoint& other = index_.points()[found.first];
      const double travel = (image - m.at).norm();
      if (travel < 0.1) continue;
      const int more = other.lines[0] == no_entry ? 0 : index_.creases_together(other.lines[0], other.lines[1]);
      if (creases + more + 1 > options_.max_creases) continue;
      const Line crease = Line::through(m.at, other.at);
      const Point n = -quarter_turned(crease.normal);
      const Line made{n, n.dot(m.at + other.at) / 2};
      Candidate c;
      c.kind = Candidate::Kind::brought;
      c.first = m.lines[0] == no_entry ? PointRef::corner(i) : PointRef{m.lines[0], m.lines[1]};
      c.second = other.lines[0] == no_entry ? PointRef::corner(found.first) : PointRef{other.lines[0], other.lines[1]};
      c.creases = creases + more + 1;
      c.residual2 = std::pow(std::max(std::abs(made.distance(p)), std::abs(made.distance(q))), 2);
      c.variance = variance_ * (1 + 4 * std::pow(length / travel, 2));
      list_.offer(c);
    }
  }

  void look_for_angle() {
    const double r = target_.degrees * std::numbers::pi / 180;
    const Point d{std::cos(r), std::sin(r)};
    for (int level = 1; level <= std::min(4, options_.max_creases); ++level) {
      const auto [begin, end] = index_.level(level);
      for (std::uint32_t i = begin; i < end; ++i) {
        const IndexLine& l = index_.lines()[i];
        const double sine = l.line.normal.dot(d);
        if (std::abs(sine) > (level < 3 ? 0.9999 : level < 4 ? 0.05 : 0.002)) continue;
        offer_line(i, sine * sine / (1 - sine * sine), l.variance.turn);
      }
    }
  }

  [[nodiscard]] double crossing_variance(std::uint32_t a, std::uint32_t b, const Point& at) const {
    const IndexLine& l = index_.lines()[a];
    const IndexLine& m = index_.lines()[b];
    const double sine = l.line.normal.x() * m.line.normal.y() - l.line.normal.y() * m.line.normal.x();
    return (l.variance.at(quarter_turned(l.line.normal).dot(at)) +
            m.variance.at(quarter_turned(m.line.normal).dot(at))) /
           std::max(1e-9, sine * sine);
  }

  [[nodiscard]] std::uint32_t corner_at(const Point& p) const {
    std::uint32_t best = 0;
    for (std::uint32_t i = 0; i < index_.outline().size(); ++i) {
      if ((index_.outline()[i] - p).norm() < (index_.outline()[best] - p).norm()) best = i;
    }
    return best;
  }

  const SheetIndex& index_;
  const Polygon& sheet_;
  const Target& target_;
  const SearchOptions& options_;
  Frame frame_;
  double variance_; // s² in units of the index
  Shortlist list_;
  double combining_seconds_ = 0;
  std::vector<float> buffer_;
  std::vector<std::pair<float, std::uint32_t>> near_;
  std::vector<std::pair<float, std::pair<float, std::uint32_t>>> by_score_;
};

bool inside(const Box& box, const Point& p) {
  return p.x() > box.low.x() && p.x() < box.high.x() && p.y() > box.low.y() && p.y() < box.high.y();
}

} // namespace

double rank_of(const Route& route, const RouteWeights& weights) {
  return route.total_mm() + weights.effort_mm * route.creases + weights.scar * route.scar_mm -
         (route.exact ? weights.exact_mm : 0);
}

Status check_search(const Polygon& sheet, const Target& target, const SearchOptions& options) {
  if (options.max_creases < 1 || options.max_creases > most_route_creases)
    return Error{
        fmt::format("A limit of {} creases cannot be used; type 1 to {}.", options.max_creases, most_route_creases)};
  if (options.top < 1 || options.top > 100)
    return Error{fmt::format("{} routes cannot be listed; type 1 to 100.", options.top)};
  if (!(options.sigma_mm >= 0.001 && options.sigma_mm <= 100))
    return Error{"Your hand's error must be 0.001 to 100 mm."};
  if (target.kind == Target::Kind::mark || target.kind == Target::Kind::point) {
    for (const Point& corner : sheet) {
      if ((corner - target.point).norm() < 1e-9 * bounding_box(sheet).size().norm())
        return Error{"This point is a corner of the sheet; nothing has to be folded for it."};
    }
  }
  for (std::size_t i = 0; i < sheet.size() && target.kind == Target::Kind::line; ++i) {
    const Line edge = Line::through(sheet[i], sheet[(i + 1) % sheet.size()]);
    const double most = std::max(std::abs(edge.distance(target.ends.from)), std::abs(edge.distance(target.ends.to)));
    if (most < 1e-9 * bounding_box(sheet).size().norm())
      return Error{"This line is an edge of the sheet; nothing has to be folded for it."};
  }
  for (const Box& box : options.keep_clean) {
    const Box whole = bounding_box(sheet);
    if (box.low.x() <= whole.low.x() && box.low.y() <= whole.low.y() && box.high.x() >= whole.high.x() &&
        box.high.y() >= whole.high.y())
      return Error{"The area to keep clean covers the whole sheet; leave some of it free."};
    const bool point = target.kind == Target::Kind::mark || target.kind == Target::Kind::point;
    if (point && inside(box, target.point))
      return Error{"The mark lies inside an area to keep clean; move one of the two."};
    if (target.kind == Target::Kind::line) {
      double free_mm = 0;
      for (const Segment& s : outside(target.ends, box)) free_mm += s.length();
      if (free_mm < target.ends.length() - 1e-6)
        return Error{"The line runs through an area to keep clean; move one of the two."};
    }
  }
  return Done{};
}

Result<std::vector<Route>> find_routes(const SheetIndex& index, const Polygon& sheet, const Target& target,
                                       const SearchOptions& options, SearchFigures* figures) {
  if (const auto ok = check_search(sheet, target, options); !ok) return Error{ok.error()};
  const auto start = Clock::now();
  Search search(index, sheet, target, options);
  search.look_up();
  const double look_up = seconds_since(start) - search.combining_seconds();
  std::size_t count = 0;
  std::vector<Route> found = search.judge(count);
  std::vector<Route> routes;
  for (Route& r : found) {
    if (r.clean_mm < 1e-6) routes.push_back(std::move(r));
  }
  if (routes.empty()) {
    if (found.empty()) {
      return Error{fmt::format("Nothing comes near this with at most {} crease{}; allow more.", options.max_creases,
                               options.max_creases == 1 ? "" : "s")};
    }
    const auto least = std::min_element(found.begin(), found.end(),
                                        [](const Route& a, const Route& b) { return a.clean_mm < b.clean_mm; });
    return Error{
        fmt::format("No route with at most {} creases leaves the areas clean; the cleanest puts {} mm of crease "
                    "in them. Allow more creases or make the areas smaller.",
                    options.max_creases, format_number(least->clean_mm, 1))};
  }
  const auto before = [&](const Route& a, const Route& b) {
    const double x = rank_of(a, options.weights);
    const double y = rank_of(b, options.weights);
    if (std::abs(x - y) > 1e-9 * (std::abs(x) + std::abs(y))) return x < y;
    return a.creases < b.creases;
  };
  std::stable_sort(routes.begin(), routes.end(), before);
  const auto keep = static_cast<std::size_t>(options.top);
  if (routes.size() > keep) {
    const auto least = std::min_element(routes.begin(), routes.end(),
                                        [](const Route& a, const Route& b) { return a.error_mm < b.error_mm - 1e-12; });
    const auto shortest = std::min_element(routes.begin(), routes.end(),
                                           [](const Route& a, const Route& b) { return a.creases < b.creases; });
    std::vector<Route> extra;
    const auto beyond = [&](auto r) { return static_cast<std::size_t>(r - routes.begin()) >= keep; };
    if (beyond(least)) extra.push_back(*least);
    if (beyond(shortest) && shortest != least) extra.push_back(*shortest);
    routes.resize(keep);
    for (Route& r : extra) routes.push_back(std::move(r));
    std::stable_sort(routes.begin(), routes.end(), before);
  }
  if (figures) *figures = {look_up, seconds_since(start), count};
  return routes;
}

} // namespace uc
