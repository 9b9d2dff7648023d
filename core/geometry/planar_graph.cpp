#include "geometry/planar_graph.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <numeric>
#include <tuple>
#include <unordered_map>
#include <unordered_set>

namespace uc {
namespace {

/// Square buckets over a box; what lies in a bucket is listed in one array.
class Buckets {
public:
  Buckets(const Box& box, std::size_t wanted) : low_(box.low) {
    const Point size = box.size().cwiseMax(1e-300);
    const double longer = size.maxCoeff();
    const double area = std::max(size.x() * size.y(), longer * longer * 1e-4);
    side_ = std::max(std::sqrt(area / static_cast<double>(std::max<std::size_t>(1, wanted))), longer / 4096);
    columns_ = static_cast<int>(size.x() / side_) + 1;
    rows_ = static_cast<int>(size.y() / side_) + 1;
  }
  [[nodiscard]] std::size_t count() const { return at(columns_) * at(rows_); }

  /// Calls use(bucket) for the buckets within `reach` of a segment.
  template <class Use> void along(const Point& a, const Point& b, double reach, Use&& use) const {
    const int first = column(std::min(a.x(), b.x()) - reach);
    const int last = column(std::max(a.x(), b.x()) + reach);
    const double run = b.x() - a.x();
    for (int c = first; c <= last; ++c) {
      double low = std::min(a.y(), b.y());
      double high = std::max(a.y(), b.y());
      if (std::abs(run) > reach) {
        const double left = low_.x() + c * side_ - reach;
        const auto y_at = [&](double x) { return a.y() + (b.y() - a.y()) * std::clamp((x - a.x()) / run, 0.0, 1.0); };
        const double y0 = y_at(left);
        const double y1 = y_at(left + side_ + 2 * reach);
        low = std::min(y0, y1);
        high = std::max(y0, y1);
      }
      const int r1 = row(high + reach);
      for (int r = row(low - reach); r <= r1; ++r) use(at(r) * at(columns_) + at(c));
    }
  }
  [[nodiscard]] std::size_t of(const Point& p) const { return at(row(p.y())) * at(columns_) + at(column(p.x())); }

private:
  [[nodiscard]] int column(double x) const {
    return std::clamp(static_cast<int>(std::floor((x - low_.x()) / side_)), 0, columns_ - 1);
  }
  [[nodiscard]] int row(double y) const {
    return std::clamp(static_cast<int>(std::floor((y - low_.y()) / side_)), 0, rows_ - 1);
  }
  Point low_;
  double side_;
  int columns_;
  int rows_;
};

/// Lists of items per bucket, filled in two passes.
class Lists {
public:
  explicit Lists(std::size_t buckets) : first_(buckets + 1, 0) {}
  void count(std::size_t bucket) { ++first_[bucket + 1]; }
  void laid_out() {
    std::partial_sum(first_.begin(), first_.end(), first_.begin());
    items_.resize(static_cast<std::size_t>(first_.back()));
    fill_ = first_;
  }
  void put(std::size_t bucket, int item) { items_[at(fill_[bucket]++)] = item; }
  [[nodiscard]] const int* begin(std::size_t bucket) const { return items_.data() + first_[bucket]; }
  [[nodiscard]] const int* end(std::size_t bucket) const { return items_.data() + first_[bucket + 1]; }

private:
  std::vector<int> first_, fill_, items_;
};

/// Gives every point the first earlier point closer than the tolerance.
class Merger {
public:
  explicit Merger(double tolerance) : tolerance_(std::max(tolerance, 1e-300)) {}
  int put(const Point& p, std::vector<Point>& kept) {
    const std::int64_t cx = cell(p.x());
    const std::int64_t cy = cell(p.y());
    for (std::int64_t x = cx - 1; x <= cx + 1; ++x) {
      for (std::int64_t y = cy - 1; y <= cy + 1; ++y) {
        const auto found = cells_.find(key(x, y));
        if (found == cells_.end()) continue;
        for (int i = found->second; i >= 0; i = next_[at(i)]) {
          if ((kept[at(i)] - p).norm() <= tolerance_) return i;
        }
      }
    }
    const int made = static_cast<int>(kept.size());
    kept.push_back(p);
    auto& head = cells_.try_emplace(key(cx, cy), -1).first->second;
    next_.push_back(head);
    head = made;
    return made;
  }
  void reserve(std::size_t n) {
    cells_.reserve(n);
    next_.reserve(n);
  }

private:
  /// Points all in one place leave no tolerance to speak of; what is far out for it then shares the outermost cells.
  [[nodiscard]] std::int64_t cell(double place) const {
    return static_cast<std::int64_t>(std::clamp(std::floor(place / tolerance_), -9e18, 9e18));
  }
  static std::uint64_t key(std::int64_t x, std::int64_t y) {
    return static_cast<std::uint64_t>(x) * 0x9E3779B97F4A7C15ULL ^
           static_cast<std::uint64_t>(y) * 0xC2B2AE3D27D4EB4FULL;
  }
  double tolerance_;
  std::unordered_map<std::uint64_t, int> cells_;
  std::vector<int> next_;
};

double cross(const Point& a, const Point& b) { return a.x() * b.y() - a.y() * b.x(); }

struct Ends {
  int from, to, source;
};

class Splitter {
public:
  Splitter(SplitSegments& out, double tolerance, const SplitLimits& limits)
      : out_(out), tolerance_(tolerance), limits_(limits) {}

  [[nodiscard]] bool stopped() const { return limits_.progress && limits_.progress->stopped(); }

  void split_at_vertices(std::vector<Ends>& segments) const {
    const Buckets buckets(bounding_box(out_.vertices), segments.size());
    Lists lists(buckets.count());
    for (const Point& p : out_.vertices) lists.count(buckets.of(p));
    lists.laid_out();
    for (std::size_t i = 0; i < out_.vertices.size(); ++i) lists.put(buckets.of(out_.vertices[i]), static_cast<int>(i));
    std::vector<Ends> pieces;
    pieces.reserve(segments.size());
    std::vector<std::pair<double, int>> on;
    for (const Ends& s : segments) {
      if (pieces.size() % 1024 == 0 && stopped()) return;
      on.clear();
      const Point& a = out_.vertices[at(s.from)];
      const Point& b = out_.vertices[at(s.to)];
      const Point d = b - a;
      const double length = d.norm();
      buckets.along(a, b, tolerance_, [&](std::size_t bucket) {
        for (const int* v = lists.begin(bucket); v != lists.end(bucket); ++v) {
          if (*v == s.from || *v == s.to) continue;
          const Point p = out_.vertices[at(*v)] - a;
          if (std::abs(cross(d, p)) > tolerance_ * length) continue;
          const double along = d.dot(p) / length;
          if (along > 0 && along < length) on.emplace_back(along, *v);
        }
      });
      if (on.empty()) {
        pieces.push_back(s);
        continue;
      }
      ++out_.split_segments;
      std::sort(on.begin(), on.end());
      int from = s.from;
      for (const auto& [along, v] : on) {
        pieces.push_back({from, v, s.source});
        from = v;
      }
      pieces.push_back({from, s.to, s.source});
    }
    segments = std::move(pieces);
  }

  /// Proper crossings of pieces, each once. `use(i, k, point)` gets their indices and says whether to go on.
  template <class Use> void crossings(const std::vector<Ends>& pieces, Use&& use) const {
    const Buckets buckets(bounding_box(out_.vertices), pieces.size());
    Lists lists(buckets.count());
    const auto ends = [&](const Ends& e) -> std::pair<const Point&, const Point&> {
      return {out_.vertices[at(e.from)], out_.vertices[at(e.to)]};
    };
    for (const Ends& e : pieces) {
      const auto [a, b] = ends(e);
      buckets.along(a, b, tolerance_, [&](std::size_t bucket) { lists.count(bucket); });
    }
    lists.laid_out();
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      const auto [a, b] = ends(pieces[i]);
      buckets.along(a, b, tolerance_, [&](std::size_t bucket) { lists.put(bucket, static_cast<int>(i)); });
    }
    for (std::size_t bucket = 0; bucket < buckets.count(); ++bucket) {
      if (bucket % 256 == 0 && stopped()) return;
      for (const int* i = lists.begin(bucket); i != lists.end(bucket); ++i) {
        const Ends& e = pieces[at(*i)];
        const auto [a, b] = ends(e);
        for (const int* k = i + 1; k != lists.end(bucket); ++k) {
          const Ends& f = pieces[at(*k)];
          if (e.from == f.from || e.from == f.to || e.to == f.from || e.to == f.to) continue;
          const auto [c, d] = ends(f);
          const double c_side = cross(b - a, c - a);
          const double d_side = cross(b - a, d - a);
          if (!(c_side > 0 ? d_side < 0 : d_side > 0 && c_side < 0)) continue;
          const double a_side = cross(d - c, a - c);
          const double b_side = cross(d - c, b - c);
          if (!(a_side > 0 ? b_side < 0 : b_side > 0 && a_side < 0)) continue;
          const Point where = a + (b - a) * (a_side / (a_side - b_side));
          if (buckets.of(where) == bucket && !use(*i, *k, where)) return;
        }
      }
    }
  }

private:
  SplitSegments& out_;
  double tolerance_;
  const SplitLimits& limits_;
};

/// Twice the signed area of a walk, from its first vertex for exactness.
double walk_area(const std::vector<Point>& vertices, const std::vector<VertexId>& walk) {
  double sum = 0;
  const Point& o = vertices[at(walk.front())];
  for (std::size_t i = 0; i < walk.size(); ++i)
    sum += cross(vertices[at(walk[i])] - o, vertices[at(walk[(i + 1) % walk.size()])] - o);
  return sum;
}

void rotate_to_least(std::vector<VertexId>& cycle, std::vector<int>& halves) {
  const int least = *std::min_element(cycle.begin(), cycle.end());
  std::size_t best = cycle.size();
  const auto before = [&](std::size_t a, std::size_t b) {
    for (std::size_t i = 0; i < cycle.size(); ++i) {
      const int x = cycle[(a + i) % cycle.size()];
      const int y = cycle[(b + i) % cycle.size()];
      if (x != y) return x < y;
    }
    return false;
  };
  for (std::size_t i = 0; i < cycle.size(); ++i) {
    if (cycle[i] == least && (best == cycle.size() || before(i, best))) best = i;
  }
  const auto shift = static_cast<std::ptrdiff_t>(best);
  std::rotate(cycle.begin(), cycle.begin() + shift, cycle.end());
  std::rotate(halves.begin(), halves.begin() + shift, halves.end());
}

/// Of pieces between the same ends the first.
std::vector<Ends> distinct(std::vector<Ends> pieces) {
  std::unordered_set<std::uint64_t> seen;
  seen.reserve(pieces.size());
  std::erase_if(pieces, [&](const Ends& e) {
    const auto [low, high] = std::minmax(e.from, e.to);
    return !seen.insert(static_cast<std::uint64_t>(low) << 32U | static_cast<std::uint32_t>(high)).second;
  });
  return pieces;
}

} // namespace

SplitSegments split_segments(const std::vector<Point>& vertices, const std::vector<std::array<VertexId, 2>>& segments,
                             double tolerance, bool split_crossings, const SplitLimits& limits) {
  SplitSegments out;
  Merger merger(tolerance);
  merger.reserve(vertices.size());
  out.vertices.reserve(vertices.size());
  out.vertex_of.reserve(vertices.size());
  for (const Point& p : vertices) out.vertex_of.emplace_back(merger.put(p, out.vertices));
  out.merged_vertices = static_cast<int>(vertices.size() - out.vertices.size());
  std::vector<Ends> pieces;
  pieces.reserve(segments.size());
  for (std::size_t i = 0; i < segments.size(); ++i) {
    const Ends e{out.vertex_of[at(segments[i][0])], out.vertex_of[at(segments[i][1])], static_cast<int>(i)};
    if (e.from == e.to)
      ++out.dropped_segments;
    else
      pieces.push_back(e);
  }
  if (pieces.empty()) return out;
  const Splitter splitter(out, tolerance, limits);
  splitter.split_at_vertices(pieces);
  // Splitting at a crossing can bring a vertex onto a third segment: go on until nothing new turns up.
  for (int round = 0; round < 8; ++round) {
    std::vector<std::tuple<int, int, Point>> found;
    std::size_t count = out.crossings.size();
    // Folded paper lies edge on edge: where only the places of crossings count, each edge is looked at once.
    const std::vector<Ends> looked_at = split_crossings ? distinct(pieces) : pieces;
    splitter.crossings(looked_at, [&](int i, int k, const Point& p) {
      if (++count <= limits.most_crossings) found.emplace_back(i, k, p);
      return count <= limits.most_crossings;
    });
    if (count > limits.most_crossings) {
      out.too_many = count;
      return out;
    }
    if (splitter.stopped()) return out;
    for (const auto& [i, k, p] : found)
      out.crossings.push_back({p, {looked_at[at(i)].source, looked_at[at(k)].source}});
    if (!split_crossings || found.empty()) break;
    for (const auto& [i, k, p] : found) merger.put(p, out.vertices);
    const int before = out.split_segments;
    splitter.split_at_vertices(pieces);
    out.split_segments = before;
  }
  out.pieces.reserve(pieces.size());
  for (const Ends& e : pieces) out.pieces.push_back({VertexId(e.from), VertexId(e.to), e.source});
  return out;
}

VertexStars::VertexStars(const std::vector<Point>& vertices, const std::vector<std::array<VertexId, 2>>& edges) {
  first_.assign(vertices.size() + 1, 0);
  for (const auto& e : edges) {
    ++first_[at(e[0]) + 1];
    ++first_[at(e[1]) + 1];
  }
  std::partial_sum(first_.begin(), first_.end(), first_.begin());
  half_edges_.resize(2 * edges.size());
  degrees_.resize(2 * edges.size());
  next_.resize(2 * edges.size());
  std::vector<int> fill = first_;
  for (std::size_t i = 0; i < edges.size(); ++i) {
    const Point d = vertices[at(edges[i][1])] - vertices[at(edges[i][0])];
    const double deg = std::atan2(d.y(), d.x()) * 180 / std::numbers::pi;
    degrees_[2 * i] = deg;
    degrees_[2 * i + 1] = deg > 0 ? deg - 180 : deg + 180;
    half_edges_[at(fill[at(edges[i][0])]++)] = static_cast<int>(2 * i);
    half_edges_[at(fill[at(edges[i][1])]++)] = static_cast<int>(2 * i + 1);
  }
  for (std::size_t v = 0; v < vertices.size(); ++v) {
    const auto begin = half_edges_.begin() + first_[v];
    const auto end = half_edges_.begin() + first_[v + 1];
    std::sort(begin, end, [&](int a, int b) { return degrees_[at(a)] < degrees_[at(b)]; });
    // Arriving against an outgoing half-edge, the face on the left goes on with the one before it.
    for (auto it = begin; it != end; ++it) next_[at(*it ^ 1)] = it == begin ? *(end - 1) : *(it - 1);
  }
}

bool contains(const std::vector<Point>& vertices, const std::vector<VertexId>& cycle, const Point& p) {
  bool in = false;
  for (std::size_t i = 0, k = cycle.size() - 1; i < cycle.size(); k = i++) {
    const Point& a = vertices[at(cycle[i])];
    const Point& b = vertices[at(cycle[k])];
    if ((a.y() > p.y()) != (b.y() > p.y()) && p.x() < (b.x() - a.x()) * (p.y() - a.y()) / (b.y() - a.y()) + a.x())
      in = !in;
  }
  return in;
}

GraphFaces graph_faces(const std::vector<Point>& vertices, const std::vector<std::array<VertexId, 2>>& edges,
                       const VertexStars& stars) {
  struct Walk {
    std::vector<VertexId> cycle;
    std::vector<int> halves;
  };
  std::vector<Walk> inside;
  std::vector<Walk> round; // walks round a connected part, seen from outside
  std::vector<char> done(2 * edges.size(), 0);
  for (std::size_t h = 0; h < done.size(); ++h) {
    if (done[h]) continue;
    Walk walk;
    for (int k = static_cast<int>(h); !done[at(k)]; k = stars.next(k)) {
      done[at(k)] = 1;
      walk.halves.push_back(k);
      walk.cycle.push_back(edges[at(k) / 2][at(k) % 2]);
    }
    rotate_to_least(walk.cycle, walk.halves);
    (walk_area(vertices, walk.cycle) > 0 ? inside : round).push_back(std::move(walk));
  }
  std::sort(inside.begin(), inside.end(), [](const Walk& a, const Walk& b) { return a.cycle < b.cycle; });
  GraphFaces out;
  out.sides.assign(edges.size(), {});
  out.faces.reserve(inside.size());
  for (Walk& w : inside) {
    for (const int h : w.halves) out.sides[at(h) / 2][at(h) % 2] = FaceId(out.faces.size());
    out.faces.push_back({std::move(w.cycle), {}});
  }
  if (round.size() < 2) return out;
  std::vector<std::pair<double, Box>> extent;
  extent.reserve(out.faces.size());
  for (const GraphFace& f : out.faces) {
    Box box{vertices[at(f.cycle[0])], vertices[at(f.cycle[0])]};
    for (const VertexId v : f.cycle) {
      box.low = box.low.cwiseMin(vertices[at(v)]);
      box.high = box.high.cwiseMax(vertices[at(v)]);
    }
    extent.emplace_back(walk_area(vertices, f.cycle), box);
  }
  for (Walk& w : round) {
    const Point& p = vertices[at(w.cycle[0])];
    FaceId in;
    for (std::size_t f = 0; f < out.faces.size(); ++f) {
      const Box& box = extent[f].second;
      if (p.x() < box.low.x() || p.x() > box.high.x() || p.y() < box.low.y() || p.y() > box.high.y()) continue;
      if (in >= 0 && extent[f].first >= extent[at(in)].first) continue;
      const auto& cycle = out.faces[f].cycle;
      if (std::find(cycle.begin(), cycle.end(), w.cycle[0]) != cycle.end()) continue; // its own part
      if (contains(vertices, cycle, p)) in = FaceId(f);
    }
    if (in < 0) continue;
    for (const int h : w.halves) out.sides[at(h) / 2][at(h) % 2] = in;
    out.faces[at(in)].holes.push_back(std::move(w.cycle));
  }
  return out;
}

} // namespace uc
