#include "reference/sheet_index.h"

#include "align/sensitivity.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>
#include <numbers>
#include <set>
#include <tuple>
#include <unordered_map>

namespace uc {
namespace {

constexpr int most_creases = 3; // in a state that is built on
using Rows = Eigen::Matrix<double, 2, 2 * most_creases>;

/// A point or line of a state: which of the state's creases it needs, and its errors over theirs.
struct StatePoint {
  Point at;
  Rows errors = Rows::Zero();
  std::uint32_t id = no_entry;
  unsigned needs = 0;
};
struct StateLine {
  Line line;
  Rows errors = Rows::Zero();
  std::uint32_t id = no_entry;
  unsigned needs = 0;
  Segment chord;
};
struct State {
  std::vector<StatePoint> points;
  std::vector<StateLine> lines;
  unsigned all = 0; // needs of something that uses every crease of the state
};

bool inside(const Point& p, const Polygon& sheet) {
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const Point side = sheet[(i + 1) % sheet.size()] - sheet[i];
    const Point to = p - sheet[i];
    if (side.x() * to.y() - side.y() * to.x() < -1e-9) return false;
  }
  return true;
}

std::uint64_t line_key(const Line& l) {
  // The same line for both senses of its normal; nothing made differently comes this close by chance.
  double angle = std::atan2(l.normal.y(), l.normal.x());
  double c = l.c;
  if (angle < -1e-9) angle += std::numbers::pi, c = -c;
  if (angle > std::numbers::pi - 1e-9) angle -= std::numbers::pi, c = -c;
  const auto a = static_cast<std::uint64_t>(std::llround((angle + 1) * 1e9));
  const auto b = static_cast<std::uint64_t>(std::llround((c + 4) * 1e9));
  return a * 0x9E3779B97F4A7C15ull ^ (b * 0xC2B2AE3D27D4EB4Full + (a << 7));
}

double worst_variance(const IndexLine& l, const Segment& chord) {
  const Point t = quarter_turned(l.line.normal);
  return std::max(l.variance.at(t.dot(chord.from)), l.variance.at(t.dot(chord.to)));
}

/// Harder folds are taken to build on only when they are clearly more exact.
double cost(const IndexLine& l, const Segment& chord) {
  static constexpr double extra[] = {0, 0, 0, 0, 0.3, 0.8, 3, 0.8};
  return worst_variance(l, chord) + extra[l.op] + 1.5 * (1 - std::min(1.0, chord.length()));
}

} // namespace

class IndexBuilder {
public:
  IndexBuilder(const Polygon& outline, const IndexLimits& limits, Progress* progress)
      : limits_(limits), progress_(progress) {
    index_.outline_ = outline;
    index_.lines_.reserve(limits.all);
    primary_.reserve(limits.all);
    known_.reserve(limits.all);
  }

  Result<SheetIndex> build() {
    const Polygon& sheet = index_.outline_;
    for (std::size_t i = 0; i < sheet.size(); ++i) {
      IndexLine edge;
      edge.line = Line::through(sheet[i], sheet[(i + 1) % sheet.size()]);
      add(edge);
      index_.points_.push_back({sheet[i], {no_entry, no_entry}});
    }
    std::vector<std::uint32_t> good[most_creases + 1]; // by number of creases: the lines that are built on
    const int most[] = {0, limits_.first, limits_.second, limits_.third};
    std::uint32_t begin = static_cast<std::uint32_t>(sheet.size());
    for (const IndexLine& l : made_from({}, Folds::all)) add(l);
    for (int level = 1; level <= most_creases; ++level) {
      good[level] = best(begin, most[level]);
      if (level < 3)
        index_.has_all_marks_ =
            (level == 1 || index_.has_all_marks_) && good[level].size() == index_.lines_.size() - begin;
      begin = static_cast<std::uint32_t>(index_.lines_.size());
      const std::vector<Creased> states = states_of(good, level);
      add_points(states);
      const bool last = level == most_creases;
      // The fold of two points onto two lines is the hardest to do: on the last level it fills what room is left.
      const bool whole = last ? grow(states, Folds::easy, 0.1, 0.7) && grow(states, Folds::hard, 0.7, 0.95)
                              : grow(states, Folds::all, 0, 0.1);
      if (!whole) return Error{"The search was stopped; start it again to get routes."};
    }
    weigh_points();
    index_.finish();
    return std::move(index_);
  }

private:
  enum class Folds { all, easy, hard };

  /// Creases of a state, ascending, so that each comes after what it is made from.
  using Creased = std::vector<std::uint32_t>;

  [[nodiscard]] Creased with_needs(std::uint32_t line) const {
    Creased all;
    for (const std::uint32_t n : index_.lines_[line].needs) {
      if (n != no_entry) all.push_back(n);
    }
    all.push_back(line);
    return all;
  }

  static Creased together(const Creased& a, const Creased& b) {
    Creased out;
    std::set_union(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(out));
    return out;
  }

  /// All sets of `level` creases that can stand on one sheet and are closed under what they need, the cheapest first.
  [[nodiscard]] std::vector<Creased> states_of(const std::vector<std::uint32_t>* good, int level) const {
    const auto wanted = static_cast<std::size_t>(level);
    std::set<Creased> found;
    const auto take = [&](Creased state) {
      if (state.size() == wanted) found.insert(std::move(state));
    };
    for (const std::uint32_t l : good[level]) take(with_needs(l));
    for (int lower = 1; lower < level; ++lower) {
      for (const std::uint32_t a : good[lower]) {
        const Creased of_a = with_needs(a);
        for (const std::uint32_t b : good[1]) {
          const Creased two = together(of_a, {b});
          take(two);
          if (level != 3 || lower != 1) continue;
          for (const std::uint32_t c : good[1]) take(together(two, {c}));
        }
      }
    }
    if (level == 3) {
      // Two lines of two creases each that share one.
      std::map<std::uint32_t, std::vector<std::uint32_t>> by_need;
      for (const std::uint32_t l : good[2]) by_need[index_.lines_[l].needs[0]].push_back(l);
      for (const auto& [need, lines] : by_need) {
        for (std::size_t i = 0; i < lines.size(); ++i) {
          for (std::size_t k = i + 1; k < lines.size(); ++k) take({need, lines[i], lines[k]});
        }
      }
    }
    std::vector<std::pair<double, Creased>> costs;
    for (const Creased& state : found) {
      double sum = 0;
      for (const std::uint32_t l : state) sum += cost_of(l);
      costs.emplace_back(sum, state);
    }
    std::sort(costs.begin(), costs.end());
    std::vector<Creased> out;
    out.reserve(costs.size());
    for (auto& [sum, state] : costs) out.push_back(std::move(state));
    return out;
  }

  [[nodiscard]] double cost_of(std::uint32_t l) const {
    const IndexLine& line = index_.lines_[l];
    return cost(line, chord(line.line, index_.outline_).value_or(Segment{}));
  }

  /// The cheapest lines from `begin` on, by cost, at most `most`.
  std::vector<std::uint32_t> best(std::uint32_t begin, int most) const {
    std::vector<std::pair<double, std::uint32_t>> all;
    for (auto l = begin; l < index_.lines_.size(); ++l) all.emplace_back(cost_of(l), l);
    std::sort(all.begin(), all.end());
    if (all.size() > static_cast<std::size_t>(most)) all.resize(static_cast<std::size_t>(most));
    std::vector<std::uint32_t> ids;
    ids.reserve(all.size());
    for (const auto& [c, l] : all) ids.push_back(l);
    std::sort(ids.begin(), ids.end());
    return ids;
  }

  /// Makes lines from many states at once and takes them in, in the order of the states.
  bool grow(const std::vector<Creased>& states, Folds folds, double from, double to) {
    constexpr std::size_t batch = 128;
    for (std::size_t begin = 0; begin < states.size() && index_.lines_.size() < limits_.all; begin += batch) {
      const std::size_t count = std::min(batch, states.size() - begin);
      std::vector<std::vector<IndexLine>> made(count);
      parallel_for(
          count, [&](std::size_t i) { made[i] = made_from(states[begin + i], folds); }, progress_);
      if (progress_ && progress_->cancelled()) return false;
      for (const auto& some : made) {
        for (const IndexLine& l : some) {
          if (index_.lines_.size() < limits_.all) add(l);
        }
      }
      if (progress_) {
        const double share = std::max(static_cast<double>(begin + count) / static_cast<double>(states.size()),
                                      static_cast<double>(index_.lines_.size()) / static_cast<double>(limits_.all));
        progress_->set(from + (to - from) * std::min(1.0, share));
      }
    }
    return true;
  }

  /// Keeps the line, or the better way to make one that is there. Lines that others are built on are kept once for each
  /// set of creases they need: what crosses them may share one with this way and none with that.
  void add(const IndexLine& l) {
    const auto next = static_cast<std::uint32_t>(index_.lines_.size());
    const std::uint64_t key = line_key(l.line);
    const auto [first, fresh] = known_.try_emplace(key, next);
    if (!fresh && (index_.lines_[first->second].creases != l.creases || index_.lines_[first->second].op == 0)) return;
    auto at = first;
    bool new_way = fresh;
    if (l.creases > 1 && l.creases <= most_creases)
      std::tie(at, new_way) = known_ways_.try_emplace(way_key(key, l), next);
    if (new_way) {
      index_.lines_.push_back(l);
      index_.lines_.back().twin = !fresh;
      primary_.push_back(first->second);
      return;
    }
    IndexLine& have = index_.lines_[at->second];
    // Others may be built on the one that is there, with its errors.
    if (at->second < frozen_) return;
    const auto seen = chord(l.line, index_.outline_);
    if (!seen || worst_variance(l, *seen) >= 0.98 * worst_variance(have, *seen)) return;
    const bool twin = have.twin;
    have = l;
    have.twin = twin;
  }

  static std::uint64_t way_key(std::uint64_t line, const IndexLine& l) {
    for (const std::uint32_t n : l.needs) line = (line ^ n) * 0x9E3779B97F4A7C15ull + 1;
    return line;
  }

  std::uint32_t point_id(std::uint32_t a, std::uint32_t b) const {
    if (a > b) std::swap(a, b);
    const auto at = crossing_ids_.find((static_cast<std::uint64_t>(a) << 32) | b);
    return at == crossing_ids_.end() ? no_entry : at->second;
  }
  void add_crossing(std::uint32_t a, std::uint32_t b) {
    const auto at = index_.lines_[a].line.crossing(index_.lines_[b].line);
    if (!at || !inside(*at, index_.outline_)) return;
    for (std::uint32_t corner = 0; corner < index_.outline_.size(); ++corner) {
      if ((index_.points_[corner].at - *at).norm() < 1e-9) return;
    }
    if (a > b) std::swap(a, b);
    const auto key = (static_cast<std::uint64_t>(a) << 32) | b;
    if (crossing_ids_.try_emplace(key, static_cast<std::uint32_t>(index_.points_.size())).second)
      index_.points_.push_back({*at, {a, b}});
  }
  /// Marks are given their numbers before states are worked on in parallel.
  void add_points(const std::vector<Creased>& states) {
    frozen_ = static_cast<std::uint32_t>(index_.lines_.size());
    const auto edges = static_cast<std::uint32_t>(index_.outline_.size());
    for (const Creased& state : states) {
      for (std::size_t i = 0; i < state.size(); ++i) {
        for (std::uint32_t e = 0; e < edges; ++e) add_crossing(e, state[i]);
        for (std::size_t k = 0; k < i; ++k) add_crossing(state[k], state[i]);
      }
    }
  }

  /// The error of each mark, from those of the two lines that cross there.
  void weigh_points() {
    parallel_for(index_.points_.size(), [&](std::size_t i) {
      IndexPoint& p = index_.points_[i];
      if (p.lines[0] == no_entry) return;
      Creased creases;
      for (const std::uint32_t l : p.lines) {
        if (index_.lines_[l].op != 0) creases = together(creases, with_needs(l));
      }
      p.creases = static_cast<std::uint16_t>(creases.size());
      const State s = state_of(creases);
      std::array<const StateLine*, 2> lines{};
      for (const StateLine& l : s.lines) {
        for (std::size_t k = 0; k < 2; ++k) {
          if (l.id == p.lines[k]) lines[k] = &l;
        }
      }
      const auto d = crossing_sensitivity(lines[0]->line, lines[1]->line, p.at);
      if (!d) return;
      const Rows rows = d->leftCols<2>() * lines[0]->errors + d->rightCols<2>() * lines[1]->errors;
      p.variance = static_cast<float>(rows.squaredNorm());
    });
    std::map<std::array<std::uint32_t, 3>, std::uint32_t> best; // of the marks of two places of lines
    for (std::uint32_t i = 0; i < index_.points_.size(); ++i) {
      IndexPoint& p = index_.points_[i];
      if (p.lines[0] == no_entry) continue;
      const auto [a, b] = std::minmax(primary_[p.lines[0]], primary_[p.lines[1]]);
      const auto [at, fresh] = best.try_emplace({a, b, p.creases}, i);
      if (fresh) continue;
      IndexPoint& other = index_.points_[at->second];
      const bool better = p.variance < other.variance;
      (better ? other : p).twin = true;
      if (better) at->second = i;
    }
  }

  State state_of(const Creased& creases) const {
    State s;
    const auto edges = static_cast<std::uint32_t>(index_.outline_.size());
    for (std::uint32_t i = 0; i < edges; ++i) {
      StatePoint corner;
      corner.at = index_.outline_[i];
      corner.id = i;
      s.points.push_back(corner);
      StateLine edge;
      edge.line = index_.lines_[i].line;
      edge.id = i;
      edge.chord = {index_.outline_[i], index_.outline_[(i + 1) % edges]};
      s.lines.push_back(edge);
    }
    for (std::size_t k = 0; k < creases.size(); ++k) {
      const IndexLine& made = index_.lines_[creases[k]];
      StateLine line;
      line.line = made.line;
      line.id = creases[k];
      line.needs = 1u << k;
      for (std::size_t other = 0; other < k; ++other) {
        if (std::find(made.needs.begin(), made.needs.end(), creases[other]) != made.needs.end())
          line.needs |= 1u << other;
      }
      line.chord = chord(made.line, index_.outline_).value_or(Segment{});
      if (const auto rows = errors_of(s, made, k)) line.errors = *rows;
      const std::size_t before = s.lines.size();
      s.lines.push_back(line);
      s.all |= 1u << k;
      for (std::size_t other = 0; other < before; ++other) {
        const std::uint32_t id = point_id(s.lines[other].id, line.id);
        if (id == no_entry) continue;
        StatePoint p;
        p.id = id;
        p.at = index_.points_[id].at;
        p.needs = line.needs | s.lines[other].needs;
        const auto d = crossing_sensitivity(s.lines[other].line, line.line, p.at);
        if (!d) continue;
        const bool known = std::any_of(s.points.begin(), s.points.end(),
                                       [&](const StatePoint& have) { return (have.at - p.at).squaredNorm() < 1e-18; });
        if (known) continue;
        p.errors = d->leftCols<2>() * s.lines[other].errors + d->rightCols<2>() * line.errors;
        s.points.push_back(p);
      }
    }
    return s;
  }

  /// The errors of an index line over those of a state that holds all it needs; its own are columns 2k and 2k+1.
  std::optional<Rows> errors_of(const State& s, const IndexLine& made, std::size_t k) const {
    AlignmentInputs in;
    std::array<const Rows*, 4> given{};
    for (std::size_t i = 0; i < 2; ++i) {
      if (made.points[i] != no_entry) {
        for (const StatePoint& p : s.points) {
          // The same mark may stand here as the crossing of other lines.
          if ((p.at - index_.points_[made.points[i]].at).squaredNorm() < 1e-18)
            in.points[i] = p.at, given[i] = &p.errors;
        }
      }
      if (made.lines[i] != no_entry) {
        for (const StateLine& l : s.lines) {
          if (l.id == made.lines[i]) in.lines[i] = l.line, given[2 + i] = &l.errors;
        }
      }
    }
    const auto op = static_cast<Alignment>(made.op);
    const auto seen = contact(op, in, made.line, index_.outline_);
    if (!seen) return std::nullopt;
    const auto d = sensitivity(op, in, made.line, *seen);
    if (!d) return std::nullopt;
    Rows rows = Rows::Zero();
    for (Eigen::Index i = 0; i < 4; ++i) {
      if (given[static_cast<std::size_t>(i)])
        rows += d->inputs.middleCols<2>(2 * i) * *given[static_cast<std::size_t>(i)];
    }
    rows.middleCols<2>(2 * static_cast<Eigen::Index>(k)) += d->own;
    return rows;
  }

  std::vector<IndexLine> made_from(const Creased& creases, Folds folds) const;

  IndexLimits limits_;
  Progress* progress_;
  SheetIndex index_;
  std::unordered_map<std::uint64_t, std::uint32_t> known_;
  std::unordered_map<std::uint64_t, std::uint32_t> known_ways_; // of lines that are built on, by needs too
  std::vector<std::uint32_t> primary_;                          // per line: the first with this place
  std::unordered_map<std::uint64_t, std::uint32_t> crossing_ids_;
  std::uint32_t frozen_ = 0;
};

std::vector<IndexLine> IndexBuilder::made_from(const Creased& creases, Folds folds) const {
  const State s = state_of(creases);
  const Polygon& sheet = index_.outline_;
  std::vector<IndexLine> out;
  std::unordered_map<std::uint64_t, std::size_t> here;
  const auto attempt = [&](Alignment op, const StatePoint* p, const StatePoint* q, const StateLine* l,
                           const StateLine* m) {
    unsigned needs = 0;
    AlignmentInputs in;
    if (p) needs |= p->needs, in.points[0] = p->at;
    if (q) needs |= q->needs, in.points[1] = q->at;
    if (l) needs |= l->needs, in.lines[0] = l->line;
    if (m) needs |= m->needs, in.lines[1] = m->line;
    if (needs != s.all) return; // made with fewer creases elsewhere
    for (const Line& crease : creases_of(op, in)) {
      const auto seen = contact(op, in, crease, sheet);
      if (!seen) continue;
      const auto span = chord(crease, sheet);
      if (!span || span->length() < limits_.least_chord) continue;
      const auto d = sensitivity(op, in, crease, *seen);
      if (!d) continue;
      Rows rows = Rows::Zero();
      if (p) rows += d->inputs.middleCols<2>(0) * p->errors;
      if (q) rows += d->inputs.middleCols<2>(2) * q->errors;
      if (l) rows += d->inputs.middleCols<2>(4) * l->errors;
      if (m) rows += d->inputs.middleCols<2>(6) * m->errors;
      const Eigen::Matrix2d covariance = rows * rows.transpose() + d->own * d->own.transpose();
      IndexLine made;
      made.line = crease;
      made.variance = {static_cast<float>(covariance(0, 0)), static_cast<float>(covariance(0, 1)),
                       static_cast<float>(covariance(1, 1))};
      made.op = static_cast<std::uint8_t>(op);
      made.creases = static_cast<std::uint8_t>(creases.size() + 1);
      const double worst = worst_variance(made, *span);
      if (!(worst <= limits_.worst_variance)) continue;
      made.points = {p ? p->id : no_entry, q ? q->id : no_entry};
      made.lines = {l ? l->id : no_entry, m ? m->id : no_entry};
      for (std::size_t i = 0; i < creases.size(); ++i) made.needs[i] = creases[i];
      const auto [at, fresh] = here.try_emplace(line_key(crease), out.size());
      if (fresh)
        out.push_back(made);
      else if (worst < 0.98 * worst_variance(out[at->second], *span))
        out[at->second] = made;
    }
  };
  const auto& points = s.points;
  const auto& lines = s.lines;
  const auto off = [](const StateLine& l, const StatePoint& p) { return std::abs(l.line.distance(p.at)) > 1e-7; };
  const auto two_to_two = [&] {
    for (const StatePoint& p : points) {
      for (const StateLine& l : lines) {
        if (!off(l, p)) continue;
        for (const StatePoint& q : points) {
          if (&q <= &p) continue;
          for (const StateLine& m : lines) {
            if (&m != &l && off(m, q)) attempt(Alignment::O6, &p, &q, &l, &m);
          }
        }
      }
    }
  };
  if (folds == Folds::hard) {
    two_to_two();
    return out;
  }
  for (std::size_t i = 0; i < points.size(); ++i) {
    for (std::size_t k = i + 1; k < points.size(); ++k) {
      attempt(Alignment::O1, &points[i], &points[k], nullptr, nullptr);
      attempt(Alignment::O2, &points[i], &points[k], nullptr, nullptr);
    }
  }
  for (std::size_t i = 0; i < lines.size(); ++i) {
    for (std::size_t k = i + 1; k < lines.size(); ++k) attempt(Alignment::O3, nullptr, nullptr, &lines[i], &lines[k]);
  }
  for (const StatePoint& p : points) {
    for (const StateLine& l : lines) {
      attempt(Alignment::O4, &p, nullptr, &l, nullptr);
      if (!off(l, p)) continue;
      for (const StatePoint& q : points) {
        if (&q != &p) attempt(Alignment::O5, &p, &q, &l, nullptr);
      }
      for (const StateLine& m : lines) {
        if (&m != &l) attempt(Alignment::O7, &p, nullptr, &l, &m);
      }
    }
  }
  if (folds == Folds::all) two_to_two();
  return out;
}

Result<SheetIndex> SheetIndex::build(const Polygon& sheet, const IndexLimits& limits, Progress* progress) {
  if (sheet.size() < 3) return Error{"This sheet has fewer than three corners; give its outline."};
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const Point a = sheet[(i + 1) % sheet.size()] - sheet[i];
    const Point b = sheet[(i + 2) % sheet.size()] - sheet[(i + 1) % sheet.size()];
    if (a.x() * b.y() - a.y() * b.x() <= 0)
      return Error{"References are sought on convex sheets only; cut the sheet to a convex shape first."};
  }
  const Point size = bounding_box(sheet).size();
  if (size.maxCoeff() > 40 * size.minCoeff())
    return Error{"This sheet is more than 40 times as long as wide; divide it first and search on one part."};
  return IndexBuilder(normalised(sheet), limits, progress).build();
}

} // namespace uc
