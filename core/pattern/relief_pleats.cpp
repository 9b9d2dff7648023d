#include "pattern/relief_pleats.h"

#include "base/index.h"
#include "pattern/relief_outline.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <utility>

namespace uc {
namespace {

/// Two-colours things by what is said of pairs of them; what contradicts something said before is refused.
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
  /// The one it follows, and whether it is of the other colour.
  [[nodiscard]] std::pair<int, char> root(int a) const {
    char parity = 0;
    for (; up_[at(a)] >= 0; a = up_[at(a)]) parity = static_cast<char>(parity ^ odd_[at(a)]);
    return {a, parity};
  }
  [[nodiscard]] bool differ(int a, int b) const { return root(a).second != root(b).second; }

private:
  std::vector<int> up_;
  std::vector<char> odd_;
};

using Key = std::pair<long, long>;
Key key_of(const Point& p) { return {std::lround(2 * p.x()), std::lround(2 * p.y())}; }

class Relief {
public:
  Relief(std::vector<Polygon> outlines, const Box& sheet) : outlines_(std::move(outlines)), area_(sheet) {
    for (const Polygon& p : outlines_) {
      const Box own = bounding_box(p);
      area_ = {area_.low.cwiseMin(own.low), area_.high.cwiseMax(own.high)};
    }
    for (const int axis : {0, 1}) find_meets(axis);
  }

  /// Which parts of the grid's lines are pleats: level ones begin at the left edge, and turn at each slanted side.
  Status trace() {
    std::map<Key, std::array<std::pair<int, int>, 2>>
        turns; // by place: the line of either axis, and how often it has turned
    for (int l = 0; l < static_cast<int>(lines_.size()); ++l) {
      int before = 0;
      for (const Meet& m : lines_[at(l)].meets)
        if (m.slant != 0) turns[key_of(place(lines_[at(l)], m.at))].at(at(lines_[at(l)].axis)) = {l, before++};
    }
    Alternation said(lines_.size() + 1);
    for (const auto& [key, both] : turns) {
      const auto [level, turned] = both[0];
      const auto [upright, turned_up] = both[1];
      // Beside a side that rises a pleat comes from the left and goes down, beside one that falls it goes up.
      const bool differ = ((turned + turned_up) % 2 != 0) != (slant_at(level, turned) < 0);
      if (!said.say(level, upright, differ))
        return Error{fmt::format("at {},{} pleats would come to the outline from both sides; leave out a corner, or "
                                 "add one beside it",
                                 static_cast<double>(key.first) / 2, static_cast<double>(key.second) / 2)};
    }
    const int pleated = static_cast<int>(lines_.size());
    for (const int axis : {0, 1})
      for (int l = 0; l < pleated; ++l)
        if (lines_[at(l)].axis == axis) said.say(l, pleated, axis == 1);
    for (int l = 0; l < pleated; ++l) cut_in_runs(lines_[at(l)], !said.differ(l, pleated));
    cut_at_crossings();
    return Done{};
  }

  /// What is said first holds; what contradicts it does not.
  void direct() {
    Alternation said(pieces_.size());
    for (const Cross& c : crossings_) {
      said.say(c.level[0], c.level[1], false);
      said.say(c.upright[0], c.upright[1], true); // it is folded through the level one
    }
    for (const auto& [key, p] : meeting_) said.say(p[0], p[1], false);
    std::vector<std::pair<int, int>> round_corners;
    for (const Polygon& outline : outlines_) {
      int last = -1; // on the side before
      const std::size_t n = outline.size();
      for (std::size_t i = 0; i <= n; ++i) {
        const std::vector<Point> places = places_on(outline, i % n);
        if (!places.empty() && last >= 0) round_corners.emplace_back(last, meeting_.at(key_of(places.front()))[0]);
        last = places.empty() ? -1 : meeting_.at(key_of(places.back()))[0];
        if (i == n) break;
        for (std::size_t k = 1; k < places.size(); ++k)
          said.say(meeting_.at(key_of(places[k - 1]))[0], meeting_.at(key_of(places[k]))[0], true);
      }
    }
    for (const auto& [a, b] : round_corners) said.say(a, b, false);
    for (std::size_t a = 0; a < pieces_.size(); ++a) {
      const auto beside = by_line_.find({pieces_[a].axis, std::lround(2 * pieces_[a].at) + 2});
      if (beside == by_line_.end()) continue;
      for (const int b : beside->second)
        if (std::min(pieces_[a].to, pieces_[at(b)].to) > std::max(pieces_[a].from, pieces_[at(b)].from))
          said.say(static_cast<int>(a), b, true);
    }
    for (std::size_t i = 0; i < pieces_.size(); ++i)
      pieces_[i].kind = said.root(static_cast<int>(i)).second != 0 ? EdgeKind::valley : EdgeKind::mountain;
  }

  [[nodiscard]] std::vector<ReliefCrease> creases(bool grid) const {
    std::vector<ReliefCrease> out;
    for (const Piece& p : pieces_) out.push_back({segment_of(p), p.kind});
    for (const Polygon& outline : outlines_) add_outline(out, outline);
    if (!grid) return out;
    for (const Piece& p : idle_) out.push_back({segment_of(p), EdgeKind::unfolded});
    return out;
  }

private:
  /// Where a line of the grid meets a side: 1 for one that rises to the right, -1 for one that falls, 0 for one square
  /// to the line, which it goes straight through.
  struct Meet {
    double at = 0;
    int slant = 0;
  };
  struct GridLine {
    int axis = 0; // 0 level, 1 upright
    double at = 0;
    std::vector<Meet> meets;
  };
  struct Piece {
    int axis = 0;
    double at = 0;
    double from = 0;
    double to = 0;
    EdgeKind kind = EdgeKind::mountain;
  };
  struct Cross {
    std::array<int, 2> level;   // the pieces before and after
    std::array<int, 2> upright; // the same; the crossing itself is at their ends
  };

  static Point place(const GridLine& line, double along) {
    return line.axis == 0 ? Point{along, line.at} : Point{line.at, along};
  }
  static Segment segment_of(const Piece& p) {
    if (p.axis == 0) return {{p.from, p.at}, {p.to, p.at}};
    return {{p.at, p.from}, {p.at, p.to}};
  }
  [[nodiscard]] int slant_at(int line, int turn) const {
    for (const Meet& m : lines_[at(line)].meets)
      if (m.slant != 0 && turn-- == 0) return m.slant;
    return 0;
  }

  void find_meets(int axis) {
    const Eigen::Index along = axis;
    const Eigen::Index across = 1 - axis;
    for (double at = std::ceil(area_.low[across] - 0.5 + 1e-9) + 0.5; at < area_.high[across] - 1e-9; ++at) {
      GridLine line{axis, at, {}};
      for (const Polygon& p : outlines_) {
        for (std::size_t i = 0; i < p.size(); ++i) {
          const Point& a = p[i];
          const Point d = p[(i + 1) % p.size()] - a;
          if ((a[across] - at) * (a[across] + d[across] - at) >= 0) continue;
          line.meets.push_back({a[along] + (at - a[across]) * d[along] / d[across], d.x() * d.y() > 0   ? 1
                                                                                    : d.x() * d.y() < 0 ? -1
                                                                                                        : 0});
        }
      }
      std::sort(line.meets.begin(), line.meets.end(), [](const Meet& a, const Meet& b) { return a.at < b.at; });
      lines_.push_back(std::move(line));
    }
  }

  /// The runs of a line that are pleats, and those that are not, from one turn to the next.
  void cut_in_runs(const GridLine& line, bool pleated) {
    double from = area_.low[line.axis];
    const auto put = [&](double to) {
      if (to > from) (pleated ? runs_ : idle_).push_back({line.axis, line.at, from, to});
      from = to;
    };
    for (const Meet& m : line.meets) {
      if (m.slant == 0) continue;
      put(m.at);
      pleated = !pleated;
    }
    put(area_.high[line.axis]);
  }

  /// Runs become pieces between the sides they go through and the pleats they cross.
  void cut_at_crossings() {
    std::map<Key, Cross> crossed;
    for (const Piece& run : runs_) {
      std::vector<double> cuts{run.from};
      for (const Piece& other : runs_)
        if (other.axis != run.axis && other.at > run.from && other.at < run.to && run.at > other.from &&
            run.at < other.to)
          cuts.push_back(other.at);
      const std::size_t crossings = cuts.size();
      for (const GridLine& line : lines_)
        if (line.axis == run.axis && line.at == run.at)
          for (const Meet& m : line.meets)
            if (m.slant == 0 && m.at > run.from && m.at < run.to) cuts.push_back(m.at);
      std::vector<double> sides(cuts.begin() + static_cast<std::ptrdiff_t>(crossings), cuts.end());
      cuts.push_back(run.to);
      std::sort(cuts.begin(), cuts.end());
      for (std::size_t i = 0; i + 1 < cuts.size(); ++i) {
        const int number = static_cast<int>(pieces_.size());
        pieces_.push_back({run.axis, run.at, cuts[i], cuts[i + 1]});
        by_line_[{run.axis, std::lround(2 * run.at)}].push_back(number);
        const Segment s = segment_of(pieces_.back());
        for (const std::size_t end : {std::size_t{0}, std::size_t{1}}) {
          const bool outer = end == 0 ? i == 0 : i + 2 == cuts.size();
          const double where = cuts[i + end];
          const Key key = key_of(end == 0 ? s.from : s.to);
          if (outer) {
            if (where > area_.low[run.axis] && where < area_.high[run.axis]) meeting_[key].at(at(run.axis)) = number;
          } else if (std::find(sides.begin(), sides.end(), where) != sides.end()) {
            meeting_[key].at(1 - end) = number;
          } else {
            (run.axis == 0 ? crossed[key].level : crossed[key].upright).at(1 - end) = number;
          }
        }
      }
    }
    for (const auto& [key, cross] : crossed) crossings_.push_back(cross);
  }

  /// Where pleats meet a side, from its first corner on.
  [[nodiscard]] std::vector<Point> places_on(const Polygon& outline, std::size_t side) const {
    const Point& from = outline[side];
    const Point d = outline[(side + 1) % outline.size()] - from;
    const Point step = d.cwiseSign();
    const auto count = std::lround(d.cwiseAbs().maxCoeff());
    std::vector<Point> out;
    for (long k = 0; k < count; ++k) {
      const Point p = from + (static_cast<double>(k) + 0.5) * step;
      if (meeting_.contains(key_of(p))) out.push_back(p);
    }
    return out;
  }

  /// The pieces of a slanted side: each has the direction that the pleats at its ends give it, where both give one.
  void add_slanted(std::vector<ReliefCrease>& out, const Polygon& outline, std::size_t side) const {
    const std::vector<Point> places = places_on(outline, side);
    const auto given = [&](const Point& meets, const Point& piece) {
      const Piece& level = pieces_[at(meeting_.at(key_of(meets))[0])];
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

  /// Slanted sides first; a level or upright one goes on as the side before it ends, and changes direction at each
  /// pleat that goes through it.
  void add_outline(std::vector<ReliefCrease>& out, const Polygon& outline) const {
    const std::size_t n = outline.size();
    std::vector<std::optional<EdgeKind>> ends(n); // of the last piece of each side
    const auto slanted = [&](std::size_t i) { return (outline[(i + 1) % n] - outline[i]).cwiseAbs().minCoeff() > 0; };
    std::size_t first = 0;
    for (std::size_t i = 0; i < n; ++i) {
      if (!slanted(i)) continue;
      add_slanted(out, outline, i);
      ends[i] = out.back().kind;
      first = i;
    }
    for (std::size_t k = 1; k <= n; ++k) {
      const std::size_t i = (first + k) % n;
      if (slanted(i)) continue;
      const EdgeKind before = ends[(i + n - 1) % n].value_or(EdgeKind::mountain);
      EdgeKind kind = before == EdgeKind::undirected ? EdgeKind::mountain : before;
      Point from = outline[i];
      std::vector<Point> places = places_on(outline, i);
      places.push_back(outline[(i + 1) % n]);
      for (const Point& to : places) {
        out.push_back({{from, to}, kind});
        kind = turned_over(kind);
        from = to;
      }
      ends[i] = turned_over(kind);
    }
  }

  std::vector<Polygon> outlines_;
  Box area_;
  std::vector<GridLine> lines_;                              // of the grid, half-way between whole cells
  std::vector<Piece> runs_;                                  // pleats from one turn to the next
  std::vector<Piece> idle_;                                  // lines of the grid that are not folded
  std::vector<Piece> pieces_;                                // what pleats are cut into
  std::map<std::pair<int, long>, std::vector<int>> by_line_; // pieces, by axis and twice their place
  std::vector<Cross> crossings_;
  /// By place on a side: the level and the upright piece that turn there, or those before and after the side.
  std::map<Key, std::array<int, 2>> meeting_;
};

} // namespace

Result<std::vector<ReliefCrease>> relief_creases(const ReliefWish& wish, const Box& sheet) {
  auto outlines = relief_outlines(wish.outline, wish.nested, wish.step);
  if (!outlines) return Error{outlines.error()};
  Relief relief(*std::move(outlines), sheet);
  if (const auto ok = relief.trace(); !ok) return Error{ok.error()};
  relief.direct();
  return relief.creases(wish.grid);
}

} // namespace uc
