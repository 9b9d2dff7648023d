#include "pattern/design.h"

#include "base/index.h"
#include "pattern/family.h"
#include "pattern/hand_words.h"
#include "pattern/relief_pleats.h"

#include <Eigen/LU>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>
#include <tuple>

namespace uc {
namespace {

struct Crease {
  Segment segment;
  EdgeKind kind = EdgeKind::undirected;
  int rule = 0;
};

EdgeKind swapped_if(EdgeKind k, bool swap) { return swap ? turned_over(k) : k; }

class Drawing {
public:
  Drawing(const PatternDesign& design, const Polygon& sheet)
      : frame_(grid_frame(design.grid, design.count, sheet)), sheet_(sheet),
        cell_(bounding_box(sheet).size().x() / design.count), square_(design.grid == PatternGrid::square) {}

  std::vector<Crease> creases;

  /// A sentence when the rule draws nothing.
  std::string draw(const PatternRule& r, int number) {
    number_ = number;
    const std::size_t before = creases.size();
    using Kind = PatternRule::Kind;
    const EdgeKind kind = r.edge.value_or(EdgeKind::undirected);
    std::string wrong;
    switch (r.kind) {
    case Kind::crease:
      add({frame_.at(r.points[0]), frame_.at(r.points[1])}, kind);
      break;
    case Kind::run:
      run(r, kind);
      break;
    case Kind::line: {
      const Point p = frame_.at(r.points[0]);
      const Point far = reach() * (frame_.step * r.points[1]).normalized();
      add({p - far, p + far}, kind);
      break;
    }
    case Kind::ray:
      ray(r, kind);
      break;
    case Kind::mirror:
    case Kind::turn:
    case Kind::copy:
      wrong = copies(r);
      break;
    case Kind::tile:
      wrong = tile(r);
      break;
    case Kind::reflect:
      wrong = reflect(r);
      break;
    case Kind::relief:
      wrong = relief(r);
      break;
    case Kind::direct:
    case Kind::remove:
      return {}; // done on the finished graph
    }
    if (!wrong.empty()) return wrong;
    if (creases.size() > most_drawn_creases) {
      creases.resize(before);
      return fmt::format("this would draw more than {} creases; repeat it less often", most_drawn_creases);
    }
    bool seen = false;
    for (std::size_t i = before; i < creases.size() && !seen; ++i)
      on_sheet(creases[i].segment, [&](const Segment&) { seen = true; });
    return !seen && r.kind != Kind::reflect ? "nothing of this lies on the sheet; check its grid points"
                                            : std::string();
  }

  /// What of a crease lies on the sheet.
  template <class Use> void on_sheet(const Segment& s, Use&& use) const {
    const Point d = (s.to - s.from).normalized();
    for (const Segment& in : clip(Line::through(s.from, s.to), sheet_)) {
      const double a = std::max(0.0, std::min(d.dot(in.from - s.from), d.dot(in.to - s.from)));
      const double b = std::min(s.length(), std::max(d.dot(in.from - s.from), d.dot(in.to - s.from)));
      if (b - a < 1e-6 * cell_) continue;
      // Ends that lie on the sheet keep their coordinates exactly.
      use(Segment{a == 0 ? s.from : s.from + a * d, b == s.length() ? s.to : s.from + b * d});
    }
  }

  [[nodiscard]] const GridFrame& frame() const { return frame_; }
  [[nodiscard]] double cell() const { return cell_; }

private:
  /// Farther than anything on the sheet.
  [[nodiscard]] double reach() const { return 3 * bounding_box(sheet_).size().norm(); }

  /// Creases are kept whole, so that copies of what lies beyond the sheet can come onto it.
  void add(const Segment& s, EdgeKind kind) {
    if (creases.size() > most_drawn_creases || s.length() < 1e-9) return;
    creases.push_back({s, kind, number_});
  }

  void run(const PatternRule& r, EdgeKind kind) {
    Point p = r.points[0];
    const std::size_t steps = r.points.size() - 1;
    for (int i = 0; i < r.repeat; ++i) {
      const Point q = p + r.points[1 + at(i) % steps];
      add({frame_.at(p), frame_.at(q)}, swapped_if(kind, r.alternating && i % 2 == 1));
      p = q;
    }
  }

  void ray(const PatternRule& r, EdgeKind kind) {
    const Point from = frame_.at(r.points[0]);
    const Point d = (frame_.step * r.points[1]).normalized();
    const Line line = Line::through(from, from + d);
    double end = 0;
    for (const Segment& s : clip(line, sheet_)) {
      const double a = d.dot(s.from - from);
      const double b = d.dot(s.to - from);
      if (std::max(a, b) > 1e-9 && std::min(a, b) < 1e-6 * cell_) end = std::max(end, std::max(a, b));
    }
    for (const Crease& c : creases) {
      const Line other = Line::through(c.segment.from, c.segment.to);
      const auto meet = line.crossing(other);
      if (!meet) continue;
      const double along = d.dot(*meet - from);
      const Point e = c.segment.to - c.segment.from;
      const double t = e.dot(*meet - c.segment.from) / e.squaredNorm();
      if (along > 1e-6 * cell_ && t > -1e-9 && t < 1 + 1e-9) end = std::min(end, along);
    }
    add({from, from + end * d}, kind);
  }

  [[nodiscard]] std::vector<Crease> meant(const PatternRule& r) const {
    std::vector<Crease> out;
    for (const Crease& c : creases) {
      if (r.first == 0 || (c.rule >= r.first && c.rule <= r.last)) out.push_back(c);
    }
    return out;
  }

  std::string copies(const PatternRule& r) {
    if (r.first >= number_) return fmt::format("rule {} comes later; name rules before this one", r.first);
    const std::vector<Crease> all = meant(r);
    if (all.empty()) return "the rules it names draw nothing";
    using Kind = PatternRule::Kind;
    const int times = r.kind == Kind::mirror ? 1 : r.kind == Kind::turn ? r.repeat - 1 : r.repeat;
    for (int i = 1; i <= times; ++i) {
      Isometry move;
      if (r.kind == Kind::mirror)
        move = Isometry::reflection_in(Line::through(frame_.at(r.points[0]), frame_.at(r.points[1])));
      else if (r.kind == Kind::turn)
        move = Isometry::rotation_about(frame_.at(r.points[0]), i * 2 * std::numbers::pi / r.repeat);
      else
        move.shift = i * (frame_.step * r.points[0]);
      for (const Crease& c : all) {
        add({move * c.segment.from, move * c.segment.to}, swapped_if(c.kind, r.alternating && i % 2 == 1));
      }
      if (creases.size() > most_drawn_creases) break;
    }
    return {};
  }

  /// Copies by all sums of the two steps that bring something onto the sheet.
  std::string tile(const PatternRule& r) {
    if (r.first >= number_) return fmt::format("rule {} comes later; name rules before this one", r.first);
    const std::vector<Crease> all = meant(r);
    if (all.empty()) return "the rules it names draw nothing";
    std::vector<Point> ends;
    for (const Crease& c : all) ends.insert(ends.end(), {c.segment.from, c.segment.to});
    const Box own = bounding_box(ends);
    const Box sheet = bounding_box(sheet_);
    Eigen::Matrix2d steps;
    steps.col(0) = frame_.step * r.points[0];
    steps.col(1) = frame_.step * r.points[1];
    // Shifts that bring the box of the creases onto the box of the sheet, in steps.
    const Eigen::Matrix2d in_steps = steps.inverse();
    std::vector<Point> corners;
    for (const double x : {sheet.low.x() - own.high.x(), sheet.high.x() - own.low.x()}) {
      for (const double y : {sheet.low.y() - own.high.y(), sheet.high.y() - own.low.y()})
        corners.push_back(in_steps * Point{x, y});
    }
    const Box range = bounding_box(corners);
    if ((range.size().array() > 4.0 * most_grid_count).any()) return "its steps are too short for this sheet";
    for (int j = static_cast<int>(std::ceil(range.low.y())); j <= std::floor(range.high.y()); ++j) {
      for (int i = static_cast<int>(std::ceil(range.low.x())); i <= std::floor(range.high.x()); ++i) {
        const Point shift = steps * Point{i, j};
        const bool meets = ((own.low + shift).array() <= sheet.high.array() + 1e-9).all() &&
                           ((own.high + shift).array() >= sheet.low.array() - 1e-9).all();
        if ((i == 0 && j == 0) || !meets) continue;
        for (const Crease& c : all)
          add({c.segment.from + shift, c.segment.to + shift}, swapped_if(c.kind, r.alternating && (i + j) % 2 != 0));
        if (creases.size() > most_drawn_creases) return {};
      }
    }
    return {};
  }

  /// The pieces of a run that go straight on in one kind, as one crease.
  static std::vector<Crease> straight(const std::vector<Crease>& pieces) {
    std::vector<Crease> out;
    for (const Crease& c : pieces) {
      if (!out.empty()) {
        Crease& last = out.back();
        const Point d = (last.segment.to - last.segment.from).normalized();
        const bool goes_on = c.rule == last.rule && c.kind == last.kind &&
                             (c.segment.from - last.segment.to).norm() < 1e-9 &&
                             ((c.segment.to - c.segment.from).normalized() - d).norm() < 1e-9;
        if (goes_on) {
          last.segment.to = c.segment.to;
          continue;
        }
      }
      out.push_back(c);
    }
    return out;
  }

  std::string relief(const PatternRule& r) {
    if (!square_) return "a relief needs the square grid";
    const Box box = bounding_box(sheet_);
    const auto made = relief_creases({r.points, r.repeat, r.apart, r.grid}, {Point::Zero(), box.size() / cell_});
    if (!made) return made.error();
    for (const ReliefCrease& c : *made) add({frame_.at(c.segment.from), frame_.at(c.segment.to)}, c.kind);
    return {};
  }

  /// A side of an outline, which changes direction at the places where creases meet it.
  void add_side(const Segment& side, std::vector<double> places, bool directed) {
    std::sort(places.begin(), places.end());
    places.push_back(1);
    double from = 0;
    EdgeKind kind = directed ? EdgeKind::mountain : EdgeKind::undirected;
    for (const double to : places) {
      if (to - from < 1e-9) continue;
      add({side.at(from), side.at(to)}, kind);
      from = to;
      kind = turned_over(kind);
    }
  }

  /// Each crease that meets the outline goes on beyond as its mirror image in the side it meets, so that the vertex
  /// there can fold (Kawasaki), until it leaves the sheet or has met 64 sides. The outline becomes creases without
  /// direction, or with one that changes at each crease it meets (Maekawa).
  std::string reflect(const PatternRule& r) {
    if (r.first >= number_) return fmt::format("rule {} comes later; name rules before this one", r.first);
    std::vector<Segment> sides;
    for (std::size_t i = 0; i < r.points.size(); ++i)
      sides.push_back({frame_.at(r.points[i]), frame_.at(r.points[(i + 1) % r.points.size()])});
    std::vector<Crease> stay;
    std::vector<Crease> traced;
    for (const Crease& c : creases)
      (r.first == 0 || (c.rule >= r.first && c.rule <= r.last) ? traced : stay).push_back(c);
    creases = std::move(stay);
    std::vector<std::vector<double>> met(sides.size()); // per side: where, from 0 to 1
    for (const Crease& c : straight(traced)) {
      Point p = c.segment.from;
      Point d = (c.segment.to - c.segment.from).normalized();
      double left = c.segment.length();
      for (int n = 0; n < 64 && left > 1e-9; ++n) {
        double nearest = left;
        std::size_t hit = sides.size();
        double where = 0;
        for (std::size_t i = 0; i < sides.size(); ++i) {
          const auto meets = ray_hit(p, d, sides[i]);
          if (!meets || meets->at < -1e-9 || meets->at > 1 + 1e-9) continue;
          if (meets->along > 1e-7 * cell_ && meets->along < nearest - 1e-9) {
            nearest = meets->along;
            where = meets->at;
            hit = i;
          }
        }
        const int own = number_;
        number_ = c.rule;
        add({p, p + nearest * d}, c.kind);
        number_ = own;
        if (hit == sides.size()) break;
        met[hit].push_back(where);
        p += nearest * d;
        const Point side = (sides[hit].to - sides[hit].from).normalized();
        // Both arms make the same angle with the same half of the side.
        d = d - 2 * side.dot(d) * side;
        left = reach();
      }
    }
    bool any = false;
    for (std::size_t i = 0; i < sides.size(); ++i) {
      any = any || !met[i].empty();
      add_side(sides[i], r.alternating ? met[i] : std::vector<double>{}, r.alternating);
    }
    return any ? std::string() : "no crease meets this outline; draw the pleats first";
  }

  GridFrame frame_;
  Polygon sheet_;
  double cell_;
  bool square_;
  int number_ = 0;
};

/// The crease whose middle part lies nearest to a place, within a cell.
int nearest_crease(const CreasePattern& p, const std::vector<char>& gone, const Point& where, double reach) {
  int best = -1;
  double least = reach;
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    if (p.edges[e].kind == EdgeKind::raw || gone[e]) continue;
    const Segment s = p.segment(CreaseId(e));
    const Point d = s.to - s.from;
    const double t = std::clamp(d.dot(where - s.from) / d.squaredNorm(), 0.0, 1.0);
    const double off = (s.at(t) - where).norm();
    if (off < least) {
      least = off;
      best = static_cast<int>(e);
    }
  }
  return best;
}

/// A number for each rule that outlives changes of the others.
std::vector<std::uint64_t> rule_keys(const std::vector<std::string>& rules) {
  std::map<std::string, int> seen;
  std::vector<std::uint64_t> keys;
  for (const std::string& text : rules) {
    std::uint64_t h = 1469598103934665603ULL; // FNV-1a
    for (const char c : text + "#" + std::to_string(seen[text]++)) {
      h ^= static_cast<unsigned char>(c);
      h *= 1099511628211ULL;
    }
    keys.push_back(h == 0 ? 1 : h);
  }
  return keys;
}

using Place = std::pair<long long, long long>;
Place place_key(const Point& ij) { return {std::llround(ij.x() * 1e4), std::llround(ij.y() * 1e4)}; }

} // namespace

PatternChange change_between(const DrawnPattern& before, const DrawnPattern& after) {
  std::map<EdgeId, EdgeKind> old;
  for (std::size_t e = 0; e < before.ids.size(); ++e) old[before.ids[e]] = before.healed.pattern.edges[e].kind;
  PatternChange out;
  for (std::size_t e = 0; e < after.ids.size(); ++e) {
    const auto was = old.find(after.ids[e]);
    if (was == old.end()) {
      ++out.added;
      continue;
    }
    out.turned += was->second != after.healed.pattern.edges[e].kind;
    old.erase(was);
  }
  out.gone = static_cast<int>(old.size());
  return out;
}

std::vector<FoundDirection> found_directions(const PatternDesign& design, const Polygon& sheet,
                                             const CreasePattern& drawn, const CreasePattern& directed) {
  const GridFrame frame = grid_frame(design.grid, design.count, sheet);
  std::vector<FoundDirection> out;
  for (std::size_t e = 0; e < drawn.edges.size() && e < directed.edges.size(); ++e) {
    if (drawn.edges[e].kind != EdgeKind::undirected || directed.edges[e].kind == EdgeKind::undirected) continue;
    out.push_back({frame.index(drawn.segment(CreaseId(e)).middle()), directed.edges[e].kind});
  }
  return out;
}

DrawnPattern drawn_pattern(const PatternDesign& wanted, const Polygon& sheet) {
  const auto made = resolved(wanted, sheet);
  DrawnPattern out;
  if (!made) {
    out.wrong.push_back({0, made.error()});
    return out;
  }
  out.design = made->design;
  out.figures = made->figures;
  out.held = made->held;
  out.usual_part = made->usual_part;
  const PatternFamily* family = wanted.family ? find_pattern_family(wanted.family->name) : nullptr;
  if (family) out.hands = hand_words(made->hands.empty() ? family->name : made->hands);
  const PatternDesign& design = out.design;
  Drawing drawing(design, sheet);
  std::vector<std::pair<int, PatternRule>> edits;
  for (std::size_t i = 0; i < design.rules.size(); ++i) {
    const int number = static_cast<int>(i) + 1;
    const auto rule = parse_rule(design.rules[i]);
    if (!rule) {
      out.wrong.push_back({number, rule.error()});
      continue;
    }
    if (rule->kind == PatternRule::Kind::direct || rule->kind == PatternRule::Kind::remove) {
      edits.emplace_back(number, *rule);
      continue;
    }
    const std::string wrong = drawing.draw(*rule, number);
    if (!wrong.empty()) out.wrong.push_back({number, wrong + "."});
  }

  CreasePattern rough;
  std::vector<int> rule_of_rough;
  std::vector<EdgeId> id_of_rough;
  const std::vector<std::uint64_t> keys = rule_keys(design.rules);
  std::map<std::uint64_t, int> drawn_by;
  const auto put = [&](const Segment& s, EdgeKind kind, int rule) {
    const int v = static_cast<int>(rough.vertices.size());
    rough.vertices.push_back(s.from);
    rough.vertices.push_back(s.to);
    rough.edges.push_back({v, v + 1, kind});
    rule_of_rough.push_back(rule);
    const std::uint64_t key = rule == 0 ? 0 : keys[at(rule) - 1];
    id_of_rough.push_back({key, drawn_by[key]++, 0});
  };
  if (design.base) {
    for (std::size_t e = 0; e < design.base->edges.size(); ++e)
      put(design.base->segment(CreaseId(e)), design.base->edges[e].kind, 0);
  } else {
    for (std::size_t i = 0; i < sheet.size(); ++i) put({sheet[i], sheet[(i + 1) % sheet.size()]}, EdgeKind::raw, 0);
  }
  // Copies of a line by tiling come to lie on each other by the thousand; one of each is enough.
  std::set<std::tuple<Place, Place, EdgeKind>> there;
  const auto place = [&](const Point& p) -> Place {
    return {std::llround(p.x() / drawing.cell() * 1e6), std::llround(p.y() / drawing.cell() * 1e6)};
  };
  for (const Crease& c : drawing.creases) {
    drawing.on_sheet(c.segment, [&](const Segment& s) {
      const Place from = place(s.from);
      const Place to = place(s.to);
      if (there.emplace(std::min(from, to), std::max(from, to), c.kind).second) put(s, c.kind, c.rule);
    });
  }
  HealOptions options;
  options.split_crossings = true;
  options.limits.most_crossings = most_crossings;
  std::vector<CreaseId> source;
  out.healed = healed(rough, options, &source);
  if (out.healed.too_many > 0) {
    const int last = design.rules.empty() ? 0 : static_cast<int>(design.rules.size());
    out.wrong.push_back({last, fmt::format("the lines cross in more than {} places; draw fewer, or on a smaller grid.",
                                           most_crossings)});
    return out;
  }
  // Pieces of one crease are numbered along it.
  std::map<std::pair<std::uint64_t, int>, std::vector<std::pair<double, std::size_t>>> pieces;
  for (std::size_t e = 0; e < source.size(); ++e) {
    const Segment whole = rough.segment(source[e]);
    const Point middle = out.healed.pattern.segment(CreaseId(e)).middle();
    EdgeId id = id_of_rough[at(source[e])];
    pieces[{id.rule, id.crease}].emplace_back((whole.to - whole.from).dot(middle - whole.from), e);
    out.ids.push_back(id);
  }
  for (auto& [crease, along] : pieces) {
    std::sort(along.begin(), along.end());
    for (std::size_t i = 0; i < along.size(); ++i) out.ids[along[i].second].piece = static_cast<int>(i);
  }
  if (design.base && design.base_full_deg.size() == design.base->edges.size())
    for (const CreaseId r : source) // what the base draws comes first
      out.full_deg.push_back(at(r) < design.base_full_deg.size() ? design.base_full_deg[at(r)] : 180);
  if (design.base && design.base_goals.size() == design.base->edges.size())
    for (const CreaseId r : source)
      out.goals.push_back(at(r) < design.base_goals.size() ? design.base_goals[at(r)] : CreaseGoals{});
  out.lies_flat = !family || family->flat_foldable;
  for (std::size_t e = 0; e < out.full_deg.size(); ++e)
    out.lies_flat = out.lies_flat && (out.full_deg[e] == 180 || !folds(out.healed.pattern.edges[e].kind));
  out.rule_of.reserve(source.size());
  for (const CreaseId r : source) out.rule_of.push_back(rule_of_rough[at(r)]);
  out.healed.repair = {}; // rules overlap on purpose

  CreasePattern& p = out.healed.pattern;
  std::vector<char> gone(p.edges.size(), 0);
  if (!design.directions.empty()) {
    std::map<std::pair<long long, long long>, EdgeKind> found;
    for (const FoundDirection& d : design.directions) found[place_key(d.at)] = d.kind;
    for (std::size_t e = 0; e < p.edges.size(); ++e) {
      if (p.edges[e].kind != EdgeKind::undirected) continue;
      const auto at_key = found.find(place_key(drawing.frame().index(p.segment(CreaseId(e)).middle())));
      if (at_key != found.end()) p.edges[e].kind = at_key->second;
    }
  }
  for (const auto& [number, rule] : edits) {
    const int e = nearest_crease(p, gone, drawing.frame().at(rule.points[0]), 0.75 * drawing.cell());
    if (e < 0) {
      out.wrong.push_back({number, "no crease lies there; check its grid point."});
      continue;
    }
    if (rule.kind == PatternRule::Kind::direct)
      p.edges[at(e)].kind = *rule.edge;
    else
      gone[at(e)] = 1;
  }
  std::vector<PatternEdge> kept;
  std::vector<int> rules;
  std::vector<EdgeId> ids;
  std::vector<double> full;
  std::vector<CreaseGoals> goals;
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    if (gone[e]) continue;
    if (!out.goals.empty()) goals.push_back(std::move(out.goals[e]));
    if (made->goals_of)
      goals.push_back(folds(p.edges[e].kind) ? made->goals_of(p.segment(CreaseId(e))) : CreaseGoals{});
    kept.push_back(p.edges[e]);
    rules.push_back(out.rule_of[e]);
    ids.push_back(out.ids[e]);
    if (!out.full_deg.empty()) full.push_back(out.full_deg[e]);
  }
  p.edges = std::move(kept);
  out.rule_of = std::move(rules);
  out.ids = std::move(ids);
  out.full_deg = std::move(full);
  out.goals = std::move(goals);
  std::sort(out.wrong.begin(), out.wrong.end(), [](const auto& a, const auto& b) { return a.rule < b.rule; });
  return out;
}

} // namespace uc
