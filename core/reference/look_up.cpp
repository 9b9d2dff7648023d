#include "reference/look_up.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

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
  ~Stopwatch() { sum_ += std::chrono::duration<double>(Clock::now() - start_).count(); }
  Stopwatch(const Stopwatch&) = delete;
  Stopwatch& operator=(const Stopwatch&) = delete;

private:
  using Clock = std::chrono::steady_clock;
  double& sum_;
  Clock::time_point start_ = Clock::now();
};

class LookUp {
public:
  LookUp(const SheetIndex& index, const Polygon& sheet, const Target& target, const SearchOptions& options,
         Shortlist& list)
      : index_(index), target_(target), options_(options), frame_(sheet),
        variance_(std::pow(options.sigma_mm / frame_.size, 2)), list_(list) {}

  double run() {
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
    return combining_seconds_;
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
        if (l.twin) continue;
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

  /// Where lines that pass near `where` meet a line through it.
  template <class Use> void meetings(const Point& where, const Line& axis, int most_creases, const Use& use) {
    const Point d = axis.direction();
    for (const NearLine& l : lines_near(where, most_creases)) {
      const double sine = l.x * axis.normal.y() - l.y * axis.normal.x();
      if (std::abs(sine) < 0.05) continue;
      const Point met = where - l.off / (l.x * d.x() + l.y * d.y()) * d;
      if (!on_sheet(met) || is_corner(met)) continue;
      use(l, l.off * l.off / (sine * sine), l.variance / (sine * sine));
    }
  }

  void meet(const Point& at, const Line& axis, std::uint32_t axis_id, int most_creases) {
    meetings(at, axis, most_creases, [&](const NearLine& l, double residual2, double variance) {
      Candidate c;
      c.kind = Candidate::Kind::crossing;
      c.first = {axis_id, l.id};
      c.creases = l.creases;
      c.residual2 = residual2;
      c.variance = variance_ * variance;
      list_.offer(c);
    });
  }

  void look_for_mark() {
    const Point at = frame_.in(target_.point);
    const Segment carrier = target_.carrier ? Segment{frame_.in(target_.carrier->from), frame_.in(target_.carrier->to)}
                                            : edge_in_reading_order(index_.outline(), target_.edge);
    const Line axis = Line::through(carrier.from, carrier.to);
    const std::uint32_t id = target_.carrier ? Candidate::carrier : static_cast<std::uint32_t>(target_.edge);
    meet(at, axis, id, options_.max_creases);
    if (options_.max_creases < 2) return;
    // Halfway between a mark and an end of the edge: pinch in the middle.
    if (!target_.carrier) {
      for (const Point& end : {carrier.from, carrier.to}) {
        const Point beyond = 2 * at - end;
        if ((beyond - carrier.middle()).norm() > carrier.length() / 2 - 1e-9) continue;
        const auto corner = corner_at(end);
        meetings(beyond, axis, std::min(4, options_.max_creases - 1),
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
      if (p.creases >= static_cast<std::uint32_t>(options_.max_creases)) break;
      if (p.creases == 0 || p.twin) continue;
      const double off = d.dot(p.at) - wanted;
      if (std::abs(off) > 0.01 || std::abs(axis.distance(p.at)) < 1e-6) continue;
      Candidate c;
      c.kind = Candidate::Kind::squared;
      c.first = {p.lines[0], p.lines[1]};
      c.line = id;
      c.creases = static_cast<int>(p.creases) + 1;
      c.residual2 = off * off;
      c.variance = variance_ * (p.variance / 2 + 1);
      list_.offer(c);
    }
  }

  void look_for_point() {
    const Point at = frame_.in(target_.point);
    if (options_.max_creases <= most_point_creases && index_.has_all_marks()) {
      look_for_mark_near(at);
      return;
    }
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

  void offer_mark(const PointHit& hit) {
    const IndexPoint& p = index_.points()[hit.id];
    if (p.creases < 1) return;
    Candidate c;
    c.kind = Candidate::Kind::crossing;
    c.first = {p.lines[0], p.lines[1]};
    c.creases = static_cast<int>(p.creases);
    c.residual2 = hit.squared;
    c.variance = variance_ * p.variance;
    list_.offer(c);
  }

  /// The marks of the index themselves. None that is further away than the last place's whole rank can take a place.
  void look_for_mark_near(const Point& at) {
    const auto wanted = 2 * static_cast<std::size_t>(options_.top) + 4;
    index_.nearest_points(at, options_.max_creases, wanted, hits_);
    if (hits_.empty()) return;
    double seen = hits_.back().squared;
    // The tree tells a few dozen at a time; for long lists the circle grows instead, at most beyond the whole sheet.
    while (hits_.size() < wanted && seen < 4) {
      seen = std::max(2 * seen, 1e-4);
      index_.points_within(at, options_.max_creases, std::sqrt(seen), hits_);
    }
    ranks_.clear();
    for (const PointHit& hit : hits_) {
      offer_mark(hit);
      const IndexPoint& p = index_.points()[hit.id];
      ranks_.push_back(std::sqrt(hit.squared + variance_ * p.variance) +
                       options_.weights.effort_mm / frame_.size * p.creases);
    }
    const auto last = ranks_.begin() + static_cast<std::ptrdiff_t>(std::min(wanted, ranks_.size())) - 1;
    std::nth_element(ranks_.begin(), last, ranks_.end());
    if (*last * *last > seen) {
      index_.points_within(at, options_.max_creases, *last, hits_);
      for (const PointHit& hit : hits_) {
        if (hit.squared > seen) offer_mark(hit);
      }
    }
    for (int fewest = 1; fewest < options_.max_creases; ++fewest) {
      index_.nearest_points(at, fewest, 8, hits_);
      for (const PointHit& hit : hits_) offer_mark(hit);
      if (std::any_of(hits_.begin(), hits_.end(), [&](const PointHit& h) { return index_.points()[h.id].creases > 0; }))
        break;
    }
    // Along an edge every line of the index makes a mark, also those that nothing is built on.
    for (std::uint32_t e = 0; e < static_cast<std::uint32_t>(index_.edges()); ++e) {
      const Line& edge = index_.lines()[e].line;
      if (std::abs(edge.distance(at)) < 1e-9) meet(at, edge, e, options_.max_creases);
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
        if (l.twin) continue;
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
      if (m.creases >= static_cast<std::uint32_t>(options_.max_creases)) break;
      if (m.twin || std::abs(wanted.distance(m.at)) > 0.01) continue;
      take(ref_of(i), m.at, m.variance / 2, static_cast<int>(m.creases));
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
      if (m.creases > 2 || static_cast<int>(m.creases) + 1 > options_.max_creases) break;
      if (m.twin) continue;
      const Point image = fold * m.at;
      const auto found = index_.nearest_point(image);
      if (found.first == no_entry || found.first == i || found.second > 0.02) continue;
      const IndexPoint& other = index_.points()[found.first];
      const double travel = (image - m.at).norm();
      if (travel < 0.1) continue;
      const int creases = static_cast<int>(m.creases + other.creases) + 1;
      if (creases > options_.max_creases) continue;
      const Line crease = Line::through(m.at, other.at);
      const Point n = -quarter_turned(crease.normal);
      const Line made{n, n.dot(m.at + other.at) / 2};
      Candidate c;
      c.kind = Candidate::Kind::brought;
      c.first = ref_of(i);
      c.second = ref_of(found.first);
      c.creases = creases;
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
        if (l.twin) continue;
        const double sine = l.line.normal.dot(d);
        if (std::abs(sine) > (level < 3 ? 0.9999 : level < 4 ? 0.05 : 0.002)) continue;
        offer_line(i, sine * sine / (1 - sine * sine), l.variance.turn);
      }
    }
  }

  [[nodiscard]] PointRef ref_of(std::uint32_t point) const {
    const IndexPoint& p = index_.points()[point];
    return p.creases == 0 ? PointRef::corner(point) : PointRef{p.lines[0], p.lines[1]};
  }

  [[nodiscard]] bool on_sheet(const Point& p) const {
    for (std::uint32_t e = 0; e < static_cast<std::uint32_t>(index_.edges()); ++e) {
      const Point side = index_.outline()[(e + 1) % index_.outline().size()] - index_.outline()[e];
      const Point to = p - index_.outline()[e];
      if (side.x() * to.y() - side.y() * to.x() < -1e-9) return false;
    }
    return true;
  }

  [[nodiscard]] bool is_corner(const Point& p) const {
    return std::any_of(index_.outline().begin(), index_.outline().end(),
                       [&](const Point& corner) { return (corner - p).squaredNorm() < 1e-12; });
  }

  [[nodiscard]] std::uint32_t corner_at(const Point& p) const {
    std::uint32_t best = 0;
    for (std::uint32_t i = 0; i < index_.outline().size(); ++i) {
      if ((index_.outline()[i] - p).norm() < (index_.outline()[best] - p).norm()) best = i;
    }
    return best;
  }

  const SheetIndex& index_;
  const Target& target_;
  const SearchOptions& options_;
  Frame frame_;
  double variance_; // s² in units of the index
  Shortlist& list_;
  double combining_seconds_ = 0;
  std::vector<float> buffer_;
  std::vector<PointHit> hits_;
  std::vector<double> ranks_;
  std::vector<std::pair<float, std::uint32_t>> near_;
  std::vector<std::pair<float, std::pair<float, std::uint32_t>>> by_score_;
};

} // namespace

double look_up(const SheetIndex& index, const Polygon& sheet, const Target& target, const SearchOptions& options,
               Shortlist& list) {
  return LookUp(index, sheet, target, options, list).run();
}

} // namespace uc
