// Whether a state as the command `steps` prints it can be folded from paper: written for the tests from the conditions
// alone (isometries; Justin 1997 for the layers), by sampling places, and sharing no code with the core.
#pragma once

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <random>
#include <set>
#include <string>
#include <vector>

namespace uc::testing {

class FoldChecker {
public:
  using Json = nlohmann::json;
  struct P {
    double x = 0, y = 0;
    P operator-(const P& o) const { return {x - o.x, y - o.y}; }
    P operator+(const P& o) const { return {x + o.x, y + o.y}; }
    P operator*(double t) const { return {x * t, y * t}; }
    [[nodiscard]] double cross(const P& o) const { return x * o.y - y * o.x; }
    [[nodiscard]] double dot(const P& o) const { return x * o.x + y * o.y; }
    [[nodiscard]] double length() const { return std::hypot(x, y); }
  };

  explicit FoldChecker(const Json& state, unsigned seed = 1) : random_(seed) {
    for (const Json& v : state["vertices"]) sheet_.push_back({v[0].get<double>(), v[1].get<double>()});
    for (const Json& f : state["faces"]) {
      faces_.push_back(f["vertices"].get<std::vector<int>>());
      iso_.push_back(f["isometry"].get<std::array<double, 6>>());
    }
    for (const Json& e : state["edges"])
      edges_.push_back(
          {e[0].get<int>(), e[1].get<int>(), e[2] == "cut" ? "raw" : e[2].get<std::string>(), -1, -1, {}, {}});
    for (const Json& a : state["above"]) above_.insert({a[0].get<int>(), a[1].get<int>()});
    for (std::size_t f = 0; f < faces_.size(); ++f) {
      std::vector<P> outline;
      for (const int v : faces_[f]) outline.push_back(put(f, sheet_[static_cast<std::size_t>(v)]));
      folded_.push_back(outline);
    }
  }

  /// Empty when all is well.
  std::string wrong(double sheet_area) {
    double area = 0;
    for (std::size_t f = 0; f < faces_.size(); ++f) {
      const auto& m = iso_[f];
      if (std::abs(m[0] * m[0] + m[2] * m[2] - 1) > 1e-9 || std::abs(m[0] * m[1] + m[2] * m[3]) > 1e-9)
        return "face " + std::to_string(f) + " is stretched";
      double a = 0;
      for (std::size_t i = 0; i < faces_[f].size(); ++i) a += corner(f, i).cross(corner(f, i + 1)) / 2;
      if (a <= 0) return "a face runs clockwise";
      area += a;
    }
    if (std::abs(area - sheet_area) > 1e-6 * sheet_area) return "paper is missing or doubled";
    if (std::abs(iso_[0][0] - 1) > 1e-9 || std::hypot(iso_[0][4], iso_[0][5]) > 1e-9) return "face 0 has moved";
    if (auto e = edges(); !e.empty()) return e;
    if (auto p = places(); !p.empty()) return p;
    return lines();
  }

private:
  struct Edge {
    int from = 0, to = 0;
    std::string kind;
    int left = -1, right = -1;
    P a, b; // as it lies folded
  };

  [[nodiscard]] P put(std::size_t f, const P& p) const {
    const auto& m = iso_[f];
    return {m[0] * p.x + m[1] * p.y + m[4], m[2] * p.x + m[3] * p.y + m[5]};
  }
  [[nodiscard]] bool turned(int f) const {
    const auto& m = iso_[static_cast<std::size_t>(f)];
    return m[0] * m[3] - m[1] * m[2] < 0;
  }
  [[nodiscard]] P corner(std::size_t f, std::size_t i) const {
    return sheet_[static_cast<std::size_t>(faces_[f][i % faces_[f].size()])];
  }
  [[nodiscard]] bool over(int f, int g) const { return above_.count({f, g}) > 0; }

  std::string edges() {
    std::map<std::pair<int, int>, int> side;
    for (std::size_t f = 0; f < faces_.size(); ++f) {
      for (std::size_t i = 0; i < faces_[f].size(); ++i)
        side[{faces_[f][i], faces_[f][(i + 1) % faces_[f].size()]}] = static_cast<int>(f);
    }
    for (Edge& e : edges_) {
      const auto left = side.find({e.from, e.to});
      const auto right = side.find({e.to, e.from});
      e.left = left == side.end() ? -1 : left->second;
      e.right = right == side.end() ? -1 : right->second;
      if (e.left < 0 && e.right < 0) return "an edge bounds no face";
      if ((e.kind == "raw") != (e.left < 0 || e.right < 0)) return "an edge is called " + e.kind;
      const auto f = static_cast<std::size_t>(e.left >= 0 ? e.left : e.right);
      e.a = put(f, sheet_[static_cast<std::size_t>(e.from)]);
      e.b = put(f, sheet_[static_cast<std::size_t>(e.to)]);
      if (e.kind == "raw") continue;
      const auto g = static_cast<std::size_t>(e.right);
      if ((put(g, sheet_[static_cast<std::size_t>(e.from)]) - e.a).length() > 1e-6 ||
          (put(g, sheet_[static_cast<std::size_t>(e.to)]) - e.b).length() > 1e-6)
        return "the paper is torn at an edge";
      const bool folded = turned(e.left) != turned(e.right);
      if (folded != (e.kind != "flat")) return "a crease is called " + e.kind;
      if (!folded) continue;
      const int up = turned(e.left) ? e.right : e.left;
      const int down = turned(e.left) ? e.left : e.right;
      if (over(up, down) == over(down, up)) return "the two faces of a fold have no order";
      if ((e.kind == "valley") != over(down, up)) return "a fold is called " + e.kind;
    }
    return {};
  }

  enum class In { outside, edge, inside };
  [[nodiscard]] In where(std::size_t f, const P& p) const {
    const auto& c = folded_[f];
    bool in = false;
    for (std::size_t i = 0; i < c.size(); ++i) {
      const P& a = c[i];
      const P& b = c[(i + 1) % c.size()];
      const P d = b - a;
      const double t = std::clamp((p - a).dot(d) / d.dot(d), 0.0, 1.0);
      if ((a + d * t - p).length() < margin) return In::edge;
      if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (p.y - a.y) / (b.y - a.y) * (b.x - a.x)) in = !in;
    }
    return in ? In::inside : In::outside;
  }
  /// The faces that cover a place; empty with `unclear` when it is too near an edge of one that is not left out.
  std::vector<int> covering(const P& p, bool& unclear, int but = -1, int nor = -1) const {
    std::vector<int> out;
    for (std::size_t f = 0; f < faces_.size(); ++f) {
      const In in = where(f, p);
      const int i = static_cast<int>(f);
      if (i == but || i == nor) continue;
      unclear = unclear || in == In::edge;
      if (in == In::inside) out.push_back(i);
    }
    return out;
  }

  std::string places() {
    std::uniform_real_distribution<double> unit(0, 1);
    for (std::size_t f = 0; f < faces_.size(); ++f) {
      for (int k = 0; k < 6; ++k) {
        const double s = std::sqrt(unit(random_));
        const double t = unit(random_);
        const std::size_t i = 1 + static_cast<std::size_t>(unit(random_) * static_cast<double>(faces_[f].size() - 2));
        const auto& c = folded_[f];
        const P p = c[0] * (1 - s) + c[i] * (s * (1 - t)) + c[i + 1] * (s * t);
        bool unclear = false;
        const std::vector<int> stack = covering(p, unclear);
        if (unclear) continue;
        for (const int a : stack) {
          for (const int b : stack) {
            if (a < b && over(a, b) == over(b, a)) return "faces that overlap have no order";
          }
        }
        std::set<std::size_t> ranks;
        for (const int a : stack) ranks.insert(rank(a, stack));
        if (ranks.size() != stack.size()) return "the layers run in a circle";
      }
    }
    return {};
  }
  [[nodiscard]] std::size_t rank(int f, const std::vector<int>& stack) const {
    return static_cast<std::size_t>(std::count_if(stack.begin(), stack.end(), [&](int g) { return over(g, f); }));
  }

  /// Which side of its own line a face of an edge lies on, as it lies folded.
  [[nodiscard]] bool lies_left(const Edge& e, int f) const { return (f == e.left) != turned(f); }

  std::string lines() {
    std::uniform_real_distribution<double> unit(0.05, 0.95);
    for (const Edge& e : edges_) {
      if (e.kind == "raw") continue;
      for (int k = 0; k < 3; ++k) {
        bool unclear = false;
        const auto stack = covering(e.a + (e.b - e.a) * unit(random_), unclear, e.left, e.right);
        if (unclear) continue;
        for (const int h : stack) {
          if (over(h, e.left) != over(h, e.right)) return "paper passes through a crease";
        }
      }
    }
    for (std::size_t i = 0; i < edges_.size(); ++i) {
      for (std::size_t k = i + 1; k < edges_.size(); ++k) {
        const Edge& e = edges_[i];
        const Edge& o = edges_[k];
        if (e.kind == "raw" || o.kind == "raw" || !along_each_other(e, o)) continue;
        const bool same_sense = (e.b - e.a).dot(o.b - o.a) > 0;
        for (const bool left : {true, false}) {
          const auto mine = on_side(e, left);
          const auto theirs = on_side(o, left == same_sense);
          if (mine.size() == 2 && theirs.size() == 2) {
            if (between(theirs[0], mine) != between(theirs[1], mine)) return "two folds pass through each other";
          } else if (mine.size() == 2 && theirs.size() == 1) {
            if (between(theirs[0], mine)) return "an open crease lies inside a fold";
          } else if (mine.size() == 1 && theirs.size() == 2) {
            if (between(mine[0], theirs)) return "an open crease lies inside a fold";
          }
        }
        const auto a = on_side(e, true);
        const auto b = on_side(e, false);
        const auto c = on_side(o, same_sense);
        const auto d = on_side(o, !same_sense);
        if (a.size() == 1 && b.size() == 1 && c.size() == 1 && d.size() == 1 && over(a[0], c[0]) != over(b[0], d[0]))
          return "two open creases pass through each other";
      }
    }
    return {};
  }
  [[nodiscard]] std::vector<int> on_side(const Edge& e, bool left) const {
    std::vector<int> out;
    for (const int f : {e.left, e.right}) {
      if (lies_left(e, f) == left) out.push_back(f);
    }
    return out;
  }
  [[nodiscard]] bool between(int h, const std::vector<int>& pair) const { return over(h, pair[0]) != over(h, pair[1]); }
  static bool along_each_other(const Edge& e, const Edge& o) {
    const P d = (e.b - e.a) * (1 / (e.b - e.a).length());
    if (std::abs(d.cross(o.a - e.a)) > 1e-6 || std::abs(d.cross(o.b - e.a)) > 1e-6) return false;
    const double length = (e.b - e.a).length();
    const double from = std::min(d.dot(o.a - e.a), d.dot(o.b - e.a));
    const double to = std::max(d.dot(o.a - e.a), d.dot(o.b - e.a));
    return std::min(length, to) - std::max(0.0, from) > 1e-3;
  }

  static constexpr double margin = 1e-4;
  std::mt19937 random_;
  std::vector<P> sheet_;
  std::vector<std::vector<int>> faces_;
  std::vector<std::array<double, 6>> iso_;
  std::vector<Edge> edges_;
  std::set<std::pair<int, int>> above_;
  std::vector<std::vector<P>> folded_;
};

} // namespace uc::testing
