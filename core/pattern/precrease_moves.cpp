#include "pattern/precrease_moves.h"

#include "base/dependencies.h"
#include "divide/division.h"
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

std::vector<Segment> segments(const Line& line, const Intervals& intervals) {
  std::vector<Segment> out;
  const Point base = line.normal * line.c;
  for (const auto& [low, high] : intervals)
    out.push_back({base + low * line.direction(), base + high * line.direction()});
  return out;
}

class Teller {
public:
  Teller(const LineMaking& making, const std::vector<CarrierLine>& wanted, const std::vector<LineExtent>& extents,
         const PrecreaseSpec& spec, const HandProfile& hand)
      : m_(making), c_(making.construction), wanted_(wanted), extents_(extents), spec_(spec), hand_(hand),
        scored_(spec.school == CreaseSchool::scored),
        errors_(making.construction, scored_ ? score_sigma_mm : hand.sigma_mm), holding_(hand) {
    line_of_.assign(c_.items().size(), -1);
    version_.assign(c_.items().size(), 0);
    for (std::size_t i = 0; i < m_.lines.size(); ++i) {
      for (std::size_t k = 0; k < m_.lines[i].items.size(); ++k) {
        line_of_[index(m_.lines[i].items[k])] = static_cast<int>(i);
        version_[index(m_.lines[i].items[k])] = static_cast<int>(k);
      }
    }
  }

  Programme told() {
    out_.sheet = c_.sheet();
    name_sheet();
    name_lines();
    measure_marks();
    if (scored_)
      score();
    else
      fold();
    return std::move(out_);
  }

private:
  static std::size_t index(int i) { return static_cast<std::size_t>(i); }
  [[nodiscard]] const LineInMaking& line(int i) const { return m_.lines[index(i)]; }
  [[nodiscard]] static ElementId sheet_id(int item) { return {ElementSource::pattern, 0, item}; }
  /// Lines of a division have the ids of a division's lines, so that they are measured and judged like those.
  [[nodiscard]] ElementId line_id(int i) const {
    const LineInMaking& l = line(i);
    return l.family >= 0 ? line_element_id(index(l.family), l.index) : ElementId{ElementSource::pattern, 1, i};
  }
  [[nodiscard]] static ElementId mark_id(int item) { return {ElementSource::pattern, 2, item}; }
  [[nodiscard]] ElementId id_of_line_item(int item) const {
    return c_[item].kind == Kind::edge ? sheet_id(item) : line_id(line_of_[index(item)]);
  }

  void name_sheet() {
    static constexpr const char* edges[] = {"bottom", "right", "top", "left"};
    static constexpr const char* corners[] = {"lower-left", "lower-right", "upper-right", "upper-left"};
    const bool box = edge_id(c_.sheet(), 0) == "bottom";
    for (int i = 0; i < 2 * c_.corners(); ++i) {
      Element e;
      const bool corner = i < c_.corners();
      const int at = corner ? i : i - c_.corners();
      e.id = sheet_id(i);
      e.role = corner ? Role::corner : Role::raw_edge;
      if (box)
        e.place = corner ? corners[at] : edges[at];
      else
        e.label = std::to_string(at + 1);
      e.spans = {corner ? Segment{c_[i].point, c_[i].point} : c_[i].chord};
      e.sigma_mm = 0;
      out_.elements.push_back(std::move(e));
    }
  }

  void name_lines() {
    int number = 0;
    for (std::size_t i = 0; i < m_.lines.size(); ++i) {
      const LineInMaking& made = m_.lines[i];
      Element e;
      e.id = line_id(static_cast<int>(i));
      e.role = Role::crease;
      if (made.family >= 0) {
        const GraduatedFamily& f = m_.families[index(made.family)];
        e.family = f.name;
        e.index = made.index;
        e.parts = f.parts;
        e.by_direction = true;
      } else {
        e.label = std::to_string(++number);
      }
      e.spans = spans(made.items.back());
      e.sigma_mm = m_.sigma_mm[i];
      out_.elements.push_back(std::move(e));
    }
  }

  [[nodiscard]] std::vector<Segment> spans(int item) const {
    const LineExtent& extent = extents_[index(line_of_[index(item)])];
    // Extents lie along the line's last item.
    return segments(c_[m_.lines[index(line_of_[index(item)])].items.back()].line,
                    extent.items[index(version_[index(item)])]);
  }

  /// A mark the moves name: given a letter when it is first needed.
  ElementId named_mark(int item) {
    if (item < c_.corners()) return sheet_id(item);
    const ElementId id = mark_id(item);
    if (marks_.insert(item).second) {
      Element e;
      e.id = id;
      e.role = Role::point;
      const int count = static_cast<int>(marks_.size()) - 1;
      e.label =
          std::string(1, static_cast<char>('A' + count % 26)) + (count < 26 ? "" : std::to_string(count / 26 + 1));
      e.spans = {{c_[item].point, c_[item].point}};
      e.sigma_mm = errors_.sigma_of_point(item);
      if (c_[item].kind == Kind::crossing)
        e.made_of = {id_of_line_item(c_[item].lines[0]), id_of_line_item(c_[item].lines[1])};
      out_.elements.push_back(std::move(e));
    }
    return id;
  }

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
      mark.aligned.onto = {sheet_id(c_.edge(e))};
      mark.aligned.through = {sheet_id(c_.corner(e))};
      for (const auto& [mm, item] : along) mark.aligned.moving.push_back(named_mark(item));
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
      const int l = line_of_[index(i)];
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
      const int l = line_of_[index(i)];
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
    const Intervals& made = extents_[index(line_of_[index(item)])].items[index(version_[index(item)])];
    double length = 0;
    for (const auto& [low, high] : made) length += high - low;
    if (length > 0.999 * c_[item].chord.length()) return Extent::full;
    const LineInMaking& l = line(line_of_[index(item)]);
    return item == l.items.back() && l.carrier >= 0 ? Extent::between : Extent::pinch;
  }

  void fold() {
    find_order();
    choose_sides();
    rank();
    for (const bool underside : {false, true}) {
      const auto on_this_side = [&](std::size_t i) {
        return c_[static_cast<int>(i)].kind == Kind::crease && below_[i] == static_cast<char>(underside);
      };
      needs_.run(
          on_this_side,
          [&](const std::vector<std::size_t>& ready) {
            return std::min_element(ready.begin(), ready.end(),
                                    [&](std::size_t a, std::size_t b) {
                                      return order_key(static_cast<int>(a)) < order_key(static_cast<int>(b));
                                    }) -
                   ready.begin();
          },
          [&](std::size_t item) {
            if (underside) turn_over();
            hold(static_cast<int>(item));
            fold_one(static_cast<int>(item), underside);
          });
    }
    work_again();
  }

  [[nodiscard]] std::tuple<int, int, int, long, int, double> order_key(int item) const {
    const int l = line_of_[index(item)];
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
    const LineInMaking& l = line(line_of_[index(item)]);
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
    if (underside_) return;
    out_.moves.push_back(Move::turning_over(hand_.turn_seconds));
    underside_ = true;
  }

  void fold_one(int item, bool underside) {
    const ConstructionItem& made = c_[item];
    const int l = line_of_[index(item)];
    Move move;
    Aligned& aligned = move.aligned;
    MakeCreases crease;
    const auto point = [&](std::size_t k) { return named_mark(made.points[k]); };
    const auto other = [&](std::size_t k) { return id_of_line_item(made.lines[k]); };
    if (line(l).guessed && version_[index(item)] == 0) {
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
    aligned.choice = line(l).family < 0 && c_.choices(made) > 1;
    crease.fold = underside ? Fold::mountain : Fold::valley;
    crease.replaces = version_[index(item)] > 0;
    crease.spans = spans(item);
    crease.extent = extent_of(item);
    move.hand_sigma_mm = crease.way == CreaseWay::guess ? hand_.guess_sigma_mm : hand_.sigma_mm;
    finish(std::move(move), std::move(crease), item);
  }

  void finish(Move move, MakeCreases crease, int item) {
    const int l = line_of_[index(item)];
    crease.makes = line_id(l);
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
        if (std::abs(c_[c_.edge(e)].line.distance(p)) < 1e-3) return sheet_id(c_.edge(e));
      }
      ElementId best;
      for (const int l : done_) {
        if (line_id(l) == *crease.makes) continue;
        if (std::abs(c_[line(l).items.back()].line.distance(p)) > 1e-3) continue;
        if (!best || line(l).family >= 0) best = line_id(l);
        if (line(l).family >= 0) break;
      }
      return best;
    };
    for (std::size_t i = 0; i < std::min<std::size_t>(2, crease.spans.size()); ++i) {
      crease.ends.push_back(at(crease.spans[i].from));
      crease.ends.push_back(at(crease.spans[i].to));
    }
  }

  /// From the underside: what should be a mountain and was folded as a valley, or everything.
  void work_again() {
    std::vector<std::pair<int, std::vector<Segment>>> again;
    for (int l = 0; l < static_cast<int>(m_.lines.size()); ++l) {
      const CarrierLine* w = carrier(l);
      if (!w || below_[index(line(l).items.back())]) continue;
      auto pieces = w->spans(spec_.both_ways ? std::nullopt : std::optional(EdgeKind::mountain));
      if (!pieces.empty()) again.emplace_back(l, std::move(pieces));
    }
    if (again.empty()) return;
    turn_over();
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
      move.aligned.onto = {line_id(l)};
      MakeCreases crease;
      crease.way = CreaseWay::both_ways;
      crease.fold = Fold::mountain;
      crease.settles = !spec_.both_ways;
      const int item = line(l).items.back();
      double length = 0;
      for (const Segment& s : pieces) length += s.length();
      double made = 0;
      for (const Segment& s : spans(item)) made += s.length();
      const bool all = length > 0.999 * made;
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
    if (fold == Fold::valley) turn_over();
    const int item = line(l).items.back();
    Move move;
    MakeCreases groove;
    groove.way = CreaseWay::score;
    move.aligned.through = {named_mark(c_[item].points[0]), named_mark(c_[item].points[1])};
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
  const PrecreaseSpec& spec_;
  const HandProfile& hand_;
  bool scored_;
  ConstructionErrors errors_;
  std::vector<int> line_of_; // per item: its line, and which making of it
  std::vector<int> version_;
  Dependencies needs_{0};
  std::vector<char> below_;
  std::vector<int> rank_;
  std::vector<long> fiftieths_; // of the hand's error: how exact each crease is over the whole sheet
  std::set<int> marks_;
  std::vector<int> done_;
  Programme out_;
  bool underside_ = false;
  Holding holding_;
};

} // namespace

Programme precrease_programme(const LineMaking& making, const std::vector<CarrierLine>& wanted,
                              const std::vector<LineExtent>& extents, const PrecreaseSpec& spec,
                              const HandProfile& hand) {
  return Teller(making, wanted, extents, spec, hand).told();
}

} // namespace uc
