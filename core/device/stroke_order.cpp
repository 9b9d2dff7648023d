#include "device/stroke_order.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <limits>
#include <map>
#include <nanoflann.hpp>
#include <numbers>
#include <random>

namespace uc {
namespace {

/// Above this many strokes blocks are moved and turned over short distances only, and nothing is shaken.
constexpr int most_shaken = 600;
constexpr int farthest_block = 1000;
constexpr int most_shakes = 4000;
constexpr int most_near = 10;

struct Ends {
  std::vector<Point> at; // of stroke s: 2s its first end, 2s+1 its second; stroke 0 is the home of the stylus
  [[nodiscard]] std::size_t kdtree_get_point_count() const { return at.size(); }
  [[nodiscard]] double kdtree_get_pt(std::size_t i, std::size_t axis) const {
    return at[i][static_cast<Eigen::Index>(axis)];
  }
  template <class Bounds> bool kdtree_get_bbox(Bounds&) const { return false; }
};
using EndTree = nanoflann::KDTreeSingleIndexDynamicAdaptor<nanoflann::L2_Simple_Adaptor<double, Ends>, Ends, 2>;

/// A closed tour over strokes. Place 0 is home and stays; `at_[place]` is the end by which the stroke there is entered.
class Tour {
public:
  Tour(const std::vector<Segment>& strokes, const Point& home) {
    ends_.at = {home, home};
    for (const Segment& s : strokes) ends_.at.insert(ends_.at.end(), {s.from, s.to});
    n_ = static_cast<int>(strokes.size()) + 1;
    find_near();
    begin();
  }

  void improve() {
    std::vector<int> all(static_cast<std::size_t>(n_));
    for (int i = 0; i < n_; ++i) all[static_cast<std::size_t>(i)] = stroke(n_ - 1 - i);
    settle(std::move(all));
    if (n_ > 8 && n_ <= most_shaken) shake();
  }

  [[nodiscard]] std::vector<Segment> strokes() const {
    std::vector<Segment> out;
    for (int p = 1; p < n_; ++p) out.push_back({point(entry(p)), point(exit(p))});
    return out;
  }

private:
  [[nodiscard]] const Point& point(int end) const { return ends_.at[static_cast<std::size_t>(end)]; }
  [[nodiscard]] int entry(int place) const { return at_[static_cast<std::size_t>(place)]; }
  [[nodiscard]] int exit(int place) const { return entry(place) ^ 1; }
  [[nodiscard]] int stroke(int place) const { return entry(place) / 2; }
  [[nodiscard]] int place(int end) const { return place_[static_cast<std::size_t>(end / 2)]; }
  [[nodiscard]] int next(int place) const { return place + 1 == n_ ? 0 : place + 1; }
  [[nodiscard]] double far(int a, int b) const { return (point(a) - point(b)).norm(); }
  [[nodiscard]] int reach() const { return n_ <= most_shaken ? n_ : farthest_block; }
  void put(int place, int end) {
    at_[static_cast<std::size_t>(place)] = end;
    place_[static_cast<std::size_t>(end / 2)] = place;
  }

  void find_near() {
    EndTree tree(2, ends_, nanoflann::KDTreeSingleIndexAdaptorParams(12));
    const std::size_t most = std::min<std::size_t>(most_near + 1, ends_.at.size());
    near_.assign(ends_.at.size(), {});
    std::vector<std::size_t> ids(most);
    std::vector<double> squared(most);
    for (std::size_t e = 0; e < ends_.at.size(); ++e) {
      nanoflann::KNNResultSet<double> result(most);
      result.init(ids.data(), squared.data());
      tree.findNeighbors(result, ends_.at[e].data(), nanoflann::SearchParams());
      auto& near = near_[e];
      near.fill(-1);
      std::size_t filled = 0;
      for (std::size_t i = 0; i < result.size() && filled < near.size(); ++i) {
        if (ids[i] != e) near[filled++] = static_cast<int>(ids[i]);
      }
    }
  }

  /// Always on to the nearest end of a stroke that is not drawn yet.
  void begin() {
    at_.resize(static_cast<std::size_t>(n_));
    place_.resize(static_cast<std::size_t>(n_));
    put(0, 0);
    EndTree tree(2, ends_, nanoflann::KDTreeSingleIndexAdaptorParams(12));
    for (std::size_t home : {0, 1}) tree.removePoint(home);
    for (int p = 1; p < n_; ++p) {
      std::size_t id = 0;
      double squared = 0;
      nanoflann::KNNResultSet<double> result(1);
      result.init(&id, &squared);
      tree.findNeighbors(result, point(exit(p - 1)).data(), nanoflann::SearchParams());
      put(p, static_cast<int>(id));
      tree.removePoint(id);
      tree.removePoint(id ^ 1u);
    }
  }

  void turn(int from, int to) {
    for (; from < to; ++from, --to) {
      const int a = exit(from);
      put(from, exit(to));
      put(to, a);
    }
    if (from == to) put(from, exit(from));
  }

  void wake(int place) { queue_.push_back(stroke(place)); }

  /// Turns the block [from, to] round when that shortens the tour.
  bool try_turn(int from, int to) {
    if (from < 1 || to < from || to >= n_ || to - from >= reach()) return false;
    const int before = exit(from - 1);
    const int after = entry(next(to));
    const double gain =
        far(before, entry(from)) + far(exit(to), after) - far(before, exit(to)) - far(entry(from), after);
    if (gain <= 1e-9) return false;
    turn(from, to);
    for (int p : {from - 1, from, to, next(to)}) wake(p);
    return true;
  }

  /// Moves the block [from, to] to between `after` and the place that follows it, when that shortens the tour.
  bool try_move(int from, int to, int after) {
    if (from < 1 || to >= n_ || (after >= from - 1 && after <= to)) return false;
    if (std::abs(after - from) >= reach()) return false;
    const double saved = far(exit(from - 1), entry(from)) + far(exit(to), entry(next(to))) -
                         far(exit(from - 1), entry(next(to))) + far(exit(after), entry(next(after)));
    const double straight = far(exit(after), entry(from)) + far(exit(to), entry(next(after)));
    const double turned = far(exit(after), exit(to)) + far(entry(from), entry(next(after)));
    if (saved - std::min(straight, turned) <= 1e-9) return false;
    if (turned < straight) turn(from, to);
    const auto at = [&](int place) { return at_.begin() + place; };
    const int low = std::min(from, after + 1);
    const int high = std::max(to, after);
    if (after < from)
      std::rotate(at(after + 1), at(from), at(to + 1));
    else
      std::rotate(at(from), at(to + 1), at(after + 1));
    for (int p = low; p <= high; ++p) put(p, entry(p));
    for (int p : {low - 1, low, high, next(high)}) wake(p);
    const int moved = after < from ? after + (to - from) + 1 : after - (to - from) - 1;
    for (int p : {moved, next(moved)}) wake(p);
    return true;
  }

  bool better_at(int which) {
    for (const int end : {2 * which, 2 * which + 1}) {
      for (const int other : near_[static_cast<std::size_t>(end)]) {
        if (other < 0) break;
        const int p = place_[static_cast<std::size_t>(which)];
        const int q = place(other);
        // Two exits, or two entries, come together when the block between them is turned round.
        if (end == exit(p) && other == exit(q) && p != q && try_turn(std::min(p, q) + 1, std::max(p, q))) return true;
        if (end == entry(p) && other == entry(q) && p != q && try_turn(std::min(p, q), std::max(p, q) - 1)) return true;
        for (int length = 1; length <= 3; ++length) {
          const int after = other == exit(q) ? q : q - 1;
          if (after < 0) continue;
          if (try_move(p, p + length - 1, after) || try_move(p - length + 1, p, after)) return true;
        }
      }
      const int p = place_[static_cast<std::size_t>(which)];
      if (try_turn(p, p)) return true;
    }
    return false;
  }

  void settle(std::vector<int> from) {
    queue_ = std::move(from);
    while (!queue_.empty()) {
      const int which = queue_.back();
      queue_.pop_back();
      if (which == 0) continue;
      while (better_at(which)) {
      }
    }
  }

  [[nodiscard]] double length() const {
    double sum = 0;
    for (int p = 0; p < n_; ++p) sum += far(exit(p), entry(next(p)));
    return sum;
  }

  /// Two neighbouring blocks change places, what is broken is mended, and the shorter tour is kept.
  void shake() {
    std::mt19937 random(1);
    double best = length();
    auto kept = std::pair(at_, place_);
    for (int i = 0; i < std::min(most_shakes, 40 * n_); ++i) {
      const int span = std::min(50, n_ - 2);
      const auto any = [&](int low, int high) {
        return low + static_cast<int>(random() % static_cast<unsigned>(high - low + 1));
      };
      const int a = any(1, n_ - 2);
      const int c = std::min(n_ - 1, a + any(1, span));
      const int b = any(a, c - 1);
      std::rotate(at_.begin() + a, at_.begin() + b + 1, at_.begin() + c + 1);
      for (int p = a; p <= c; ++p) put(p, entry(p));
      const int seam = a + (c - b);
      settle({stroke(a - 1), stroke(a), stroke(seam - 1), stroke(std::min(seam, n_ - 1)), stroke(c), stroke(next(c))});
      const double now = length();
      if (now < best - 1e-9)
        best = now, kept = {at_, place_};
      else
        std::tie(at_, place_) = kept;
    }
  }

  Ends ends_;
  int n_ = 0;
  std::vector<int> at_;
  std::vector<int> place_; // per stroke
  std::vector<std::array<int, most_near>> near_;
  std::vector<int> queue_;
};

} // namespace

double lifted_travel(const std::vector<Segment>& strokes, const Point& home) {
  double sum = 0;
  Point at = home;
  for (const Segment& s : strokes) sum += (s.from - at).norm(), at = s.to;
  return strokes.empty() ? 0 : sum + (home - at).norm();
}

std::vector<Segment> in_short_order(const std::vector<Segment>& strokes, const Point& home) {
  if (strokes.empty()) return {};
  Tour tour(strokes, home);
  tour.improve();
  return tour.strokes();
}

std::vector<Segment> in_courses(const std::vector<Segment>& strokes, const Point& home) {
  struct Laid {
    long line = 0;   // which of the parallel lines it lies on, in hundredths of a mm
    double from = 0; // along it
    Segment stroke;
  };
  std::map<long, std::vector<Laid>> courses; // by direction, in tenths of a degree
  for (Segment s : strokes) {
    double angle = std::atan2(s.to.y() - s.from.y(), s.to.x() - s.from.x());
    if (angle < -1e-4) angle += std::numbers::pi;
    long course = std::lround(angle * 1800 / std::numbers::pi);
    if (course >= 1800) course -= 1800;
    const double radians = static_cast<double>(course) * std::numbers::pi / 1800;
    const Point along{std::cos(radians), std::sin(radians)};
    if (along.dot(s.to - s.from) < 0) std::swap(s.from, s.to);
    const Point across{-along.y(), along.x()};
    courses[course].push_back({std::lround(100 * across.dot((s.from + s.to) / 2)), along.dot(s.from), s});
  }
  if (courses.size() > most_courses) return {};
  // To and fro over the lines of one course, beginning at either side and either end.
  const auto swept = [](std::vector<Laid> laid, bool last_first, bool backward) {
    std::sort(laid.begin(), laid.end(), [&](const Laid& a, const Laid& b) {
      return a.line != b.line ? (a.line < b.line) != last_first : a.from < b.from;
    });
    std::vector<Segment> out;
    for (std::size_t i = 0; i < laid.size(); backward = !backward) {
      std::size_t end = i;
      while (end < laid.size() && laid[end].line == laid[i].line) ++end;
      for (std::size_t k = i; k < end; ++k) {
        const Segment& s = laid[backward ? end - 1 - (k - i) : k].stroke;
        out.push_back(backward ? Segment{s.to, s.from} : s);
      }
      i = end;
    }
    return out;
  };
  std::vector<Segment> out;
  Point at = home;
  while (!courses.empty()) {
    double least = std::numeric_limits<double>::max();
    std::pair<long, std::vector<Segment>> chosen;
    for (const auto& [course, laid] : courses) {
      for (const bool last_first : {false, true}) {
        for (const bool backward : {false, true}) {
          auto way = swept(laid, last_first, backward);
          double travel = (way.front().from - at).norm();
          for (std::size_t i = 1; i < way.size(); ++i) travel += (way[i].from - way[i - 1].to).norm();
          // Begun courses count for nothing, so the nearest one comes first.
          travel /= static_cast<double>(way.size());
          if (travel < least) least = travel, chosen = {course, std::move(way)};
        }
      }
    }
    courses.erase(chosen.first);
    at = chosen.second.back().to;
    out.insert(out.end(), chosen.second.begin(), chosen.second.end());
  }
  return out;
}

} // namespace uc
