#include "crease/precrease_moves.h"

#include "base/dependencies.h"
#include "crease/precrease_elements.h"
#include "programme/holding.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>
#include <tuple>

namespace uc {
namespace {

using Kind = ConstructionItem::Kind;

// Assumed times beside those of the hand profile, in seconds.
constexpr double further_piece_seconds = 2; // to stop and start a crease once more
constexpr double mark_seconds = 5;          // a mark along a ruler
constexpr double forming_seconds = 40;      // to form a twist and open it again

/// What of `a` is not in `b`, both joined; slivers are left out.
Intervals less(const Intervals& a, Intervals b) {
  b = joined(std::move(b));
  Intervals out;
  for (auto [low, high] : a) {
    for (const auto& [from, to] : b) {
      if (to <= low || from >= high) continue;
      if (from - low > 1e-3) out.emplace_back(low, from);
      low = std::min(to, high);
    }
    if (high - low > 1e-3) out.emplace_back(low, high);
  }
  return out;
}

class Teller {
public:
  Teller(const LineMaking& making, const std::vector<CarrierLine>& wanted, const std::vector<LineExtent>& extents,
         const AsYouGo& turns, const PrecreaseSpec& spec, const HandProfile& hand)
      : m_(making), c_(making.construction), wanted_(wanted), extents_(extents), turns_(turns), spec_(spec),
        hand_(hand), scored_(spec.school == CreaseSchool::scored),
        errors_(making.construction, scored_ ? score_sigma_mm : hand.sigma_mm), names_(making, extents, errors_),
        holding_(hand) {}

  Programme told() {
    out_.sheet = c_.sheet();
    measure_marks();
    if (scored_)
      score();
    else if (spec_.school == CreaseSchool::as_you_go)
      fold_as_you_go();
    else
      fold();
    out_.elements = names_.take();
    return std::move(out_);
  }

private:
  static std::size_t index(int i) { return static_cast<std::size_t>(i); }
  [[nodiscard]] const LineInMaking& line(int i) const { return m_.lines[index(i)]; }
  /// One move for all ruler marks along an edge.
  void measure_marks() {
    for (int e = 0; e < c_.corners(); ++e) {
      std::vector<std::pair<double, int>> along;
      for (int i = 0; i < c_.size(); ++i) {
        if (c_[i].kind != Kind::mark || c_[i].lines[0] != c_.edge(e) || by_eye(i)) continue;
        along.emplace_back((c_[i].point - c_[c_.corner(e)].point).norm(), i);
      }
      if (along.empty()) continue;
      std::sort(along.begin(), along.end());
      Move mark;
      MakeCreases marks;
      marks.way = CreaseWay::mark;
      mark.effect = marks;
      mark.aligned.onto = {PrecreaseElements::sheet_id(c_.edge(e))};
      mark.aligned.through = {PrecreaseElements::sheet_id(c_.corner(e))};
      for (const auto& [mm, item] : along) mark.aligned.moving.push_back(names_.named_mark(item));
      mark.sigma_mm = c_[along.front().second].sigma_mm;
      mark.hand_sigma_mm = mark.sigma_mm;
      mark.seconds = mark_seconds * static_cast<double>(along.size());
      out_.moves.push_back(std::move(mark));
    }
  }
  [[nodiscard]] bool by_eye(int mark) const {
    for (const LineInMaking& made : m_.lines) {
      if (!made.guessed) continue;
      const auto& points = c_[made.items.front()].points;
      if (points[0] == mark || points[1] == mark) return true;
    }
    return false;
  }

  [[nodiscard]] const CarrierLine* carrier(int l) const {
    return line(l).carrier < 0 ? nullptr : &wanted_[index(line(l).carrier)];
  }
  [[nodiscard]] bool mountains_only(int l) const {
    const CarrierLine* w = carrier(l);
    return w &&
           std::all_of(w->pieces.begin(), w->pieces.end(), [](const auto& p) { return p.kind == EdgeKind::mountain; });
  }

  /// The creases each crease needs, and the later makings of a line that must wait for those who use the earlier one.
  void find_order() {
    needs_ = Dependencies(c_.items().size());
    std::vector<std::vector<int>> users(c_.items().size());
    const auto link = [&](int from, int to) { needs_.require(index(from), index(to)); };
    for (int i = 0; i < c_.size(); ++i) {
      if (c_[i].kind != Kind::crease) continue;
      std::set<int> needs;
      const auto need_line = [&](int l) {
        if (l >= 0 && c_[l].kind == Kind::crease) needs.insert(l);
      };
      for (const int l : c_[i].lines) need_line(l);
      for (const int p : c_[i].points) {
        if (p >= 0 && c_[p].kind == Kind::crossing) need_line(c_[p].lines[0]), need_line(c_[p].lines[1]);
      }
      for (const int l : needs) link(l, i), users[index(l)].push_back(i);
    }
    for (const LineInMaking& made : m_.lines) {
      for (std::size_t k = 1; k < made.items.size(); ++k) {
        const int before = made.items[k - 1];
        link(before, made.items[k]);
        for (const int user : users[index(before)]) {
          if (user != made.items[k]) link(user, made.items[k]);
        }
      }
    }
  }

  /// Creases that can be folded from the underside: mountains only, with nothing but such creases resting on them.
  void choose_sides() {
    below_.assign(c_.items().size(), 0);
    if (spec_.both_ways) return;
    for (int i = c_.size() - 1; i >= 0; --i) {
      if (c_[i].kind != Kind::crease) continue;
      const int l = names_.line_of(i);
      below_[index(i)] = m_.lines[index(l)].items.size() == 1 && mountains_only(l) &&
                         std::all_of(needs_.after(index(i)).begin(), needs_.after(index(i)).end(),
                                     [&](std::size_t next) { return below_[next]; });
    }
  }

  /// 0 for whole lines and what they need, 1 for lines creased in part, 2 for what serves nothing whole.
  void rank() {
    rank_.assign(c_.items().size(), 2);
    fiftieths_.assign(c_.items().size(), 0);
    for (int i = c_.size() - 1; i >= 0; --i) {
      if (c_[i].kind != Kind::crease) continue;
      const int l = names_.line_of(i);
      int own = 2;
      if (i == line(l).items.back() && line(l).carrier >= 0) own = extent_of(i) == Extent::full ? 0 : 1;
      for (const std::size_t next : needs_.after(index(i))) own = std::min(own, rank_[next]);
      rank_[index(i)] = own;
      const Segment& chord = c_[i].chord;
      const auto ends = errors_.distances(i, c_[i].line, {chord.from, chord.to});
      fiftieths_[index(i)] = std::lround(50 * ends.rowwise().norm().maxCoeff() / hand_.sigma_mm);
    }
  }

  [[nodiscard]] Extent extent_of(int item) const {
    if (length_of(creased_by(item)) > 0.999 * c_[item].chord.length()) return Extent::full;
    const LineInMaking& l = line(names_.line_of(item));
    const bool serves_only = turn_ >= 0 && wanted_now(names_.line_of(item)).empty();
    return item == l.items.back() && l.carrier >= 0 && !serves_only ? Extent::between : Extent::pinch;
  }

  void fold() {
    find_order();
    choose_sides();
    rank();
    for (const bool underside : {false, true})
      fold_ready(
          [&](std::size_t i) {
            return c_[static_cast<int>(i)].kind == Kind::crease && below_[i] == static_cast<char>(underside);
          },
          underside);
    work_again();
  }

  template <typename Counts> void fold_ready(Counts counts, bool underside) {
    needs_.run(
        counts,
        [&](const std::vector<std::size_t>& ready) {
          return std::min_element(ready.begin(), ready.end(),
                                  [&](std::size_t a, std::size_t b) {
                                    return order_key(static_cast<int>(a)) < order_key(static_cast<int>(b));
                                  }) -
                 ready.begin();
        },
        [&](std::size_t item) {
          if (underside && !underside_) turn_over();
          hold(static_cast<int>(item));
          fold_one(static_cast<int>(item), underside);
        });
  }

  /// Twist after twist: what it needs is creased, its mountains are worked from the underside, and it is formed.
  void fold_as_you_go() {
    find_order();
    below_.assign(c_.items().size(), 0);
    rank();
    find_turns();
    creased_.resize(m_.lines.size());
    for (turn_ = 0; turn_ < static_cast<int>(turns_.twists.size()); ++turn_) {
      const std::vector<int> before = done_;
      fold_ready([&](std::size_t i) { return c_[static_cast<int>(i)].kind == Kind::crease && first_turn_[i] == turn_; },
                 false);
      for (const int l : std::set<int>(before.begin(), before.end())) crease_on(l);
      work_again();
      if (underside_) turn_over();
      form(turns_.twists[index(turn_)]);
    }
  }

  /// The first twist that needs a crease, for itself or for another that rests on it.
  void find_turns() {
    const int none = static_cast<int>(turns_.twists.size()) - 1;
    first_turn_.assign(c_.items().size(), none);
    for (int i = c_.size() - 1; i >= 0; --i) {
      if (c_[i].kind != Kind::crease) continue;
      const int l = names_.line_of(i);
      int& first = first_turn_[index(i)];
      if (i == line(l).items.back())
        for (const TwistShare& s : turns_.shares[index(l)]) first = std::min(first, s.twist);
      for (const std::size_t next : needs_.after(index(i))) first = std::min(first, first_turn_[next]);
    }
  }

  /// What the present twist wants of a line; all that there is when the twists are not told apart.
  [[nodiscard]] Intervals wanted_now(int l) const {
    Intervals out;
    for (const TwistShare& s : turns_.shares[index(l)]) {
      if (s.twist == turn_) out.emplace_back(s.low, s.high);
    }
    return joined(std::move(out));
  }

  /// What is creased when an item is made.
  [[nodiscard]] Intervals creased_by(int item) const {
    const int l = names_.line_of(item);
    if (turn_ < 0 || item != line(l).items.back()) return names_.extent(item);
    Intervals out = wanted_now(l);
    const Intervals& uses = extents_[index(l)].uses;
    out.insert(out.end(), uses.begin(), uses.end());
    return joined(std::move(out));
  }

  /// A line that is there is creased further where the present twist wants it.
  void crease_on(int l) {
    const int item = line(l).items.back();
    Intervals more = less(wanted_now(l), creased_[index(l)]);
    if (more.empty()) return;
    Move move;
    move.aligned.onto = {names_.line_id(l)};
    MakeCreases crease;
    crease.way = CreaseWay::crease_on;
    crease.fold = Fold::valley;
    crease.spans = names_.segments(item, more);
    crease.extent = Extent::between;
    creased_[index(l)].insert(creased_[index(l)].end(), more.begin(), more.end());
    move.hand_sigma_mm = hand_.sigma_mm;
    finish(std::move(move), std::move(crease), item);
  }

  void form(const Twist& twist) {
    Move move;
    Work work{WorkWay::form, 0};
    work.place_mm = {twist.centre.x(), twist.centre.y()};
    move.effect = work;
    move.seconds = forming_seconds;
    out_.moves.push_back(std::move(move));
  }

  [[nodiscard]] std::tuple<int, int, int, long, int, double> order_key(int item) const {
    const int l = names_.line_of(item);
    const ConstructionItem& made = c_[item];
    const int family = line(l).family >= 0 ? line(l).family : 1000 + static_cast<int>(std::lround(direction_of(made)));
    return {rank_[index(item)], needs_turn(item) ? 1 : 0,  family, fiftieths_[index(item)],
            line(l).index,      made.line.in_one_sense().c};
  }
  static double direction_of(const ConstructionItem& item) {
    const Line l = item.line.in_one_sense();
    return std::atan2(l.normal.y(), l.normal.x()) * 180 / std::numbers::pi;
  }

  /// The way along which paper is best brought over: from the nearer edge. Empty when any way does.
  [[nodiscard]] std::optional<Point> way_for(int item) const {
    const LineInMaking& l = line(names_.line_of(item));
    if (l.family < 0 || c_[item].op == Alignment::O1) return std::nullopt;
    const auto& family = m_.families[index(l.family)];
    if (2 * l.index == family.parts && holding_.lies_along(family.normal)) return std::nullopt;
    return 2 * l.index > family.parts ? Point(-family.normal) : family.normal;
  }
  [[nodiscard]] bool needs_turn(int item) const {
    const auto way = way_for(item);
    return way && holding_.needs_turn(*way);
  }
  void hold(int item) {
    const auto way = way_for(item);
    if (!way) return;
    if (auto rotate = holding_.take(*way, underside_)) out_.moves.push_back(*std::move(rotate));
  }
  void turn_over() {
    out_.moves.push_back(Move::turning_over(hand_.turn_seconds));
    underside_ = !underside_;
  }

  void fold_one(int item, bool underside) {
    const ConstructionItem& made = c_[item];
    const int l = names_.line_of(item);
    Move move;
    Aligned& aligned = move.aligned;
    MakeCreases crease;
    const auto point = [&](std::size_t k) { return names_.named_mark(made.points[k]); };
    const auto other = [&](std::size_t k) { return names_.id_of_line_item(made.lines[k]); };
    if (line(l).guessed && names_.version_of(item) == 0) {
      crease.way = CreaseWay::guess;
    } else if (made.landing) {
      crease.way = CreaseWay::through;
      aligned.moving = {other(0)};
      aligned.onto = {other(1)};
    } else if (made.op == Alignment::O1) {
      crease.way = CreaseWay::between;
      aligned.through = {point(0), point(1)};
    } else if (made.op == Alignment::O2) {
      aligned.moving = {point(0)};
      aligned.onto = {point(1)};
    } else if (made.op == Alignment::O3) {
      // The smaller part of the sheet is the one that moves.
      const double low = support(c_.sheet(), made.line.normal).first;
      const double high = support(c_.sheet(), made.line.normal).second;
      const bool low_moves = made.line.c - low < high - made.line.c + 1e-9;
      const Point seen = Isometry::reflection_in(made.line) * made.contact.first / 2 +
                         Isometry::reflection_in(made.line) * made.contact.second / 2;
      const bool first_is_low = made.line.distance(seen) < 0;
      const std::size_t moving = first_is_low == low_moves ? 0 : 1;
      aligned.moving = {other(moving)};
      aligned.onto = {other(1 - moving)};
    } else if (made.op == Alignment::O4) {
      aligned.moving = {other(0)};
      aligned.onto = {other(0)};
      aligned.through = {point(0)};
    } else {
      aligned.moving = {point(0)};
      aligned.onto = {other(0)};
      aligned.through = {point(1)};
    }
    if (line(l).family < 0) aligned.others = c_.others(made);
    crease.fold = underside ? Fold::mountain : Fold::valley;
    crease.replaces = names_.version_of(item) > 0;
    crease.spans = names_.segments(item, creased_by(item));
    crease.extent = extent_of(item);
    move.hand_sigma_mm = crease.way == CreaseWay::guess ? hand_.guess_sigma_mm : hand_.sigma_mm;
    if (turn_ >= 0 && item == line(l).items.back()) creased_[index(l)] = creased_by(item);
    finish(std::move(move), std::move(crease), item);
  }

  void finish(Move move, MakeCreases crease, int item) {
    const int l = names_.line_of(item);
    crease.makes = names_.line_id(l);
    const ConstructionItem& made = c_[item];
    const Segment reach =
        crease.spans.empty() ? made.chord : Segment{crease.spans.front().from, crease.spans.back().to};
    move.sigma_mm = errors_.distances(item, made.line, {reach.from, reach.to}).rowwise().norm().maxCoeff();
    const double whole = crease.extent == Extent::pinch || scored_ || crease.way == CreaseWay::both_ways
                             ? hand_.pinch_seconds
                             : hand_.fold_seconds;
    move.seconds = whole + further_piece_seconds * std::max(0.0, static_cast<double>(crease.spans.size()) - 1);
    if (crease.extent == Extent::between) state_ends(crease);
    done_.push_back(l);
    move.effect = std::move(crease);
    out_.moves.push_back(std::move(move));
  }

  /// Names what a partial crease runs from and to: a raw edge, or a line that is there by then.
  void state_ends(MakeCreases& crease) const {
    const auto at = [&](const Point& p) -> ElementId {
      for (int e = 0; e < c_.corners(); ++e) {
        if (std::abs(c_[c_.edge(e)].line.distance(p)) < 1e-3) return PrecreaseElements::sheet_id(c_.edge(e));
      }
      ElementId best;
      for (const int l : done_) {
        if (names_.line_id(l) == *crease.makes) continue;
        if (std::abs(c_[line(l).items.back()].line.distance(p)) > 1e-3) continue;
        if (!best || line(l).family >= 0) best = names_.line_id(l);
        if (line(l).family >= 0) break;
      }
      return best;
    };
    for (std::size_t i = 0; i < std::min<std::size_t>(2, crease.spans.size()); ++i) {
      crease.ends.push_back(at(crease.spans[i].from));
      crease.ends.push_back(at(crease.spans[i].to));
    }
  }

  [[nodiscard]] std::vector<Segment> to_work_again(int l) const {
    if (turn_ < 0) return carrier(l)->spans(spec_.both_ways ? std::nullopt : std::optional(EdgeKind::mountain));
    Intervals out;
    for (const TwistShare& s : turns_.shares[index(l)]) {
      if (s.twist == turn_ && (spec_.both_ways || s.kind == EdgeKind::mountain)) out.emplace_back(s.low, s.high);
    }
    return names_.segments(line(l).items.back(), joined(std::move(out)));
  }

  /// From the underside: what should be a mountain and was folded as a valley, or everything.
  void work_again() {
    std::vector<std::pair<int, std::vector<Segment>>> again;
    for (int l = 0; l < static_cast<int>(m_.lines.size()); ++l) {
      const CarrierLine* w = carrier(l);
      if (!w || below_[index(line(l).items.back())]) continue;
      auto pieces = to_work_again(l);
      if (!pieces.empty()) again.emplace_back(l, std::move(pieces));
    }
    if (again.empty()) return;
    if (!underside_) turn_over();
    std::stable_sort(again.begin(), again.end(), [&](const auto& a, const auto& b) {
      const auto key = [&](int l) {
        const ConstructionItem& made = c_[line(l).items.back()];
        const int family =
            line(l).family >= 0 ? line(l).family : 1000 + static_cast<int>(std::lround(direction_of(made)));
        return std::pair(family, made.line.in_one_sense().c);
      };
      return key(a.first) < key(b.first);
    });
    for (auto& [l, pieces] : again) {
      Move move;
      move.aligned.onto = {names_.line_id(l)};
      MakeCreases crease;
      crease.way = CreaseWay::both_ways;
      crease.fold = Fold::mountain;
      crease.settles = !spec_.both_ways;
      const int item = line(l).items.back();
      double length = 0;
      for (const Segment& s : pieces) length += s.length();
      const bool all = turn_ < 0 && length > 0.999 * length_of(names_.extent(item));
      crease.spans = std::move(pieces);
      crease.extent = all ? Extent::full : Extent::between;
      finish(std::move(move), std::move(crease), item);
    }
  }

  /// The groove of a score lies on the outside of its fold: mountains from the face, valleys from the underside.
  void score() {
    if (spec_.both_ways) {
      for (int l = 0; l < static_cast<int>(m_.lines.size()); ++l) score_one(l, carrier(l)->spans(), Fold::undirected);
      return;
    }
    constexpr std::pair<EdgeKind, Fold> turns[] = {{EdgeKind::mountain, Fold::mountain},
                                                   {EdgeKind::undirected, Fold::undirected},
                                                   {EdgeKind::valley, Fold::valley}};
    for (const auto& [kind, fold] : turns) {
      for (int l = 0; l < static_cast<int>(m_.lines.size()); ++l) score_one(l, carrier(l)->spans(kind), fold);
    }
  }

  void score_one(int l, std::vector<Segment> pieces, Fold fold) {
    if (pieces.empty()) return;
    if (fold == Fold::valley && !underside_) turn_over();
    const int item = line(l).items.back();
    Move move;
    MakeCreases groove;
    groove.way = CreaseWay::score;
    move.aligned.through = {names_.named_mark(c_[item].points[0]), names_.named_mark(c_[item].points[1])};
    groove.fold = fold;
    move.hand_sigma_mm = score_sigma_mm;
    double length = 0;
    for (const Segment& s : pieces) length += s.length();
    const bool whole = length > 0.999 * c_[item].chord.length();
    groove.spans = std::move(pieces);
    groove.extent = whole ? Extent::full : Extent::between;
    finish(std::move(move), std::move(groove), item);
  }

  const LineMaking& m_;
  const Construction& c_;
  const std::vector<CarrierLine>& wanted_;
  const std::vector<LineExtent>& extents_;
  const AsYouGo& turns_;
  const PrecreaseSpec& spec_;
  const HandProfile& hand_;
  bool scored_;
  ConstructionErrors errors_;
  PrecreaseElements names_;
  Dependencies needs_{0};
  std::vector<char> below_;
  std::vector<int> rank_;
  std::vector<long> fiftieths_; // of the hand's error: how exact each crease is over the whole sheet
  std::vector<int> done_;
  int turn_ = -1; // the twist that is made; -1: all are creased at once
  std::vector<int> first_turn_;
  std::vector<Intervals> creased_; // per line, so far; kept when creasing as one goes
  Programme out_;
  bool underside_ = false;
  Holding holding_;
};

} // namespace

Programme precrease_programme(const LineMaking& making, const std::vector<CarrierLine>& wanted,
                              const std::vector<LineExtent>& extents, const AsYouGo& turns, const PrecreaseSpec& spec,
                              const HandProfile& hand) {
  return Teller(making, wanted, extents, turns, spec, hand).told();
}

} // namespace uc
