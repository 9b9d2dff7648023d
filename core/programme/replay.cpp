#include "programme/replay.h"

#include "align/alignment.h"
#include "programme/crease_choice.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace uc {
namespace {

constexpr double seen_mm = 0.5; // two lines are seen to meet over at least this much

/// A line or a point as it is on the paper now.
struct Thing {
  bool is_point = false;
  Point at = Point::Zero();
  Line line;
  std::vector<Segment> spans;
};

/// Through the two points of the spans that are farthest apart.
std::optional<Line> line_along(const std::vector<Segment>& spans) {
  const Segment* longest = nullptr;
  for (const Segment& s : spans)
    if (!longest || s.length() > longest->length()) longest = &s;
  if (!longest || longest->length() < 1e-9) return std::nullopt;
  const Point along = longest->to - longest->from;
  Segment whole = *longest;
  for (const Segment& s : spans)
    for (const Point& p : {s.from, s.to}) {
      if ((p - whole.from).dot(along) < 0) whole.from = p;
      if ((p - whole.to).dot(along) > 0) whole.to = p;
    }
  return Line::through(whole.from, whole.to);
}

double overlap(const Segment& s, const std::vector<Segment>& others, const Line& line, double tolerance) {
  if (std::abs(line.distance(s.from)) > tolerance || std::abs(line.distance(s.to)) > tolerance) return 0;
  const Point along = line.direction();
  const auto ends = [&](const Segment& x) { return std::minmax({along.dot(x.from), along.dot(x.to)}); };
  double most = 0;
  for (const Segment& o : others)
    most = std::max(most, std::min(ends(s).second, ends(o).second) - std::max(ends(s).first, ends(o).first));
  return most;
}

class Follower {
public:
  Follower(const Programme& programme, double tolerance) : programme_(programme), tolerance_(tolerance) {
    for (const Element& e : programme.elements) {
      elements_.try_emplace(e.id, &e);
      if (e.existing && e.role == Role::crease) made_[e.id] = e.spans;
    }
  }

  std::vector<Doubtful> run() {
    for (move_ = 0; move_ < programme_.moves.size(); ++move_) {
      const Move& move = programme_.moves[move_];
      if (const auto* how = std::get_if<Handle>(&move.effect)) handle(lies_, *how);
      if (move.is<Cut>() || outline_.empty()) outline_ = outline_before(programme_, move_ + (move.is<Cut>() ? 1 : 0));
      if (move.is<MakeCreases>()) look_at(move);
      const MakeCreases& made = move.creases();
      if (!made.makes || made.way == CreaseWay::both_ways) continue;
      auto& spans = made_[*made.makes];
      if (made.replaces) spans.clear();
      spans.insert(spans.end(), made.spans.begin(), made.spans.end());
    }
    return std::move(out_);
  }

private:
  [[nodiscard]] std::optional<Thing> thing(ElementId id) const {
    const auto it = elements_.find(id);
    if (it == elements_.end() || it->second->spans.empty()) return std::nullopt;
    const Element& e = *it->second;
    Thing t{e.role == Role::point || e.role == Role::corner, e.spans.front().from, {}, e.spans};
    if (t.is_point) return t;
    const auto made = made_.find(id);
    if (e.role == Role::crease && made != made_.end()) t.spans = made->second;
    if (e.spans.front().length() < 1e-9 && t.spans.front().length() < 1e-9) { // a side that is one corner
      t.is_point = true;
      return t;
    }
    const auto line = line_along(t.spans);
    if (!line) return std::nullopt;
    t.line = *line;
    if (e.role == Role::raw_edge) t.spans = sides_on(*line);
    return t;
  }
  /// What cuts have left of an edge.
  [[nodiscard]] std::vector<Segment> sides_on(const Line& line) const {
    std::vector<Segment> out;
    for (std::size_t i = 0; i < outline_.size(); ++i) {
      const Segment side{outline_[i], outline_[(i + 1) % outline_.size()]};
      if (std::max(std::abs(line.distance(side.from)), std::abs(line.distance(side.to))) < tolerance_)
        out.push_back(side);
    }
    return out;
  }
  [[nodiscard]] std::vector<Thing> things(const std::vector<ElementId>& ids) const {
    std::vector<Thing> out;
    for (const ElementId id : ids)
      if (auto t = thing(id)) out.push_back(std::move(*t));
    return out;
  }

  /// Every crease that does what the sentence says of the first things it brings together; nothing when it would not
  /// fix one.
  [[nodiscard]] static std::optional<Creases> candidates(const std::vector<Thing>& moving,
                                                         const std::vector<Thing>& onto,
                                                         const std::vector<Thing>& through,
                                                         const std::vector<bool>& itself) {
    AlignmentInputs in;
    if (moving.empty()) {
      if (through.size() < 2) return std::nullopt;
      in.points = {through[0].at, through[1].at};
      return creases_of(Alignment::O1, in);
    }
    const Thing& m = moving.front();
    const Thing& o = onto.front();
    if (m.is_point && o.is_point) {
      in.points = {m.at, o.at};
      return creases_of(Alignment::O2, in);
    }
    if (!m.is_point && !o.is_point && !itself.front()) {
      in.lines = {m.line, o.line};
      return creases_of(Alignment::O3, in);
    }
    if (!through.empty() && through.front().is_point) {
      const bool square = !m.is_point;
      in.points = {square ? through.front().at : m.at, through.front().at};
      in.lines = {o.line, o.line};
      return creases_of(square ? Alignment::O4 : Alignment::O5, in);
    }
    if (moving.size() < 2) return std::nullopt;
    const Thing& m2 = moving[1];
    const Thing& o2 = onto[1];
    const bool first = m.is_point; // else the first is the line that comes onto itself
    const Thing& point = first ? m : m2;
    if (!point.is_point) return std::nullopt;
    if (itself[first ? 1 : 0]) {
      in.points = {point.at, point.at};
      in.lines = {(first ? o : o2).line, (first ? o2 : o).line};
      return creases_of(Alignment::O7, in);
    }
    if (!m2.is_point) { // a point to a line and a line to a line
      in.lines = {m2.line, o2.line};
      return creases_of(Alignment::O3, in);
    }
    if (o2.is_point) {
      in.points = {m2.at, o2.at};
      return creases_of(Alignment::O2, in);
    }
    in.points = {m.at, m2.at};
    in.lines = {o.line, o2.line};
    return creases_of(Alignment::O6, in);
  }

  /// Whether, folded so, one thing is seen to lie on the other.
  [[nodiscard]] bool meets(const Line& crease, const Thing& m, const Thing& o) const {
    if (m.is_point) {
      const Point lands = crease.mirrored(m.at);
      if (o.is_point) return (lands - o.at).norm() < tolerance_;
      return std::any_of(o.spans.begin(), o.spans.end(), [&](const Segment& s) {
        const double t = std::clamp((lands - s.from).dot(s.to - s.from) / (s.to - s.from).squaredNorm(), 0.0, 1.0);
        return (s.at(t) - lands).norm() < tolerance_;
      });
    }
    if (o.is_point) return std::abs(m.line.mirrored_in(crease).distance(o.at)) < tolerance_;
    return std::any_of(m.spans.begin(), m.spans.end(), [&](const Segment& s) {
      return overlap({crease.mirrored(s.from), crease.mirrored(s.to)}, o.spans, o.line, tolerance_) >= seen_mm;
    });
  }

  [[nodiscard]] bool does_all(const Line& crease, const std::vector<Thing>& moving, const std::vector<Thing>& onto,
                              const std::vector<Thing>& through) const {
    for (std::size_t i = 0; i < std::min(moving.size(), onto.size()); ++i)
      if (!meets(crease, moving[i], onto[i])) return false;
    return std::all_of(through.begin(), through.end(),
                       [&](const Thing& t) { return !t.is_point || std::abs(crease.distance(t.at)) < tolerance_; });
  }

  /// How far two creases are apart where they run over the paper.
  [[nodiscard]] double apart(const Line& a, const Line& b) const {
    double most = 0;
    for (const Segment& s : clip(a, outline_, 1e-6))
      most = std::max({most, std::abs(b.distance(s.from)), std::abs(b.distance(s.to))});
    return most;
  }

  [[nodiscard]] bool agrees(const Line& crease, const Segment& meant, const MakeCreases& made,
                            const Aligned& aligned) const {
    const auto whole = clip(crease, outline_, 1e-6);
    if (whole.empty() || whole.front().length() < seen_mm) return false;
    if (!aligned.others.empty() &&
        !could_be_meant(crease_choice(meant, aligned.others, lies_), meant, whole.front(), lies_))
      return false;
    // Where the sentence says between which points it runs.
    for (const ElementId end : made.ends) {
      const auto t = end ? thing(end) : std::nullopt;
      if (t && t->is_point && std::abs(crease.distance(t->at)) > tolerance_) return false;
    }
    return true;
  }

  void look_at(const Move& move) {
    const MakeCreases& made = move.creases();
    const bool aligns = made.way == CreaseWay::align || made.way == CreaseWay::between || made.way == CreaseWay::score;
    const auto meant = line_along(made.spans);
    if (!aligns || !meant) return;
    const auto moving = things(move.aligned.moving);
    const auto onto = things(move.aligned.onto);
    const auto through = things(move.aligned.through);
    if (moving.size() != onto.size() || moving.size() != move.aligned.moving.size() ||
        (moving.empty() && through.size() < 2))
      return; // no sentence about what comes together
    std::vector<bool> itself;
    for (std::size_t i = 0; i < moving.size(); ++i) itself.push_back(move.aligned.moving[i] == move.aligned.onto[i]);
    const auto all = candidates(moving, onto, through, itself);
    if (!all) {
      out_.push_back({move_, Doubt::any_crease, {}});
      return;
    }
    const auto longest = std::max_element(made.spans.begin(), made.spans.end(),
                                          [](const auto& a, const auto& b) { return a.length() < b.length(); });
    Doubtful others{move_, Doubt::other_creases, {}};
    bool found = false;
    for (const Line& crease : *all) {
      if (!does_all(crease, moving, onto, through)) continue;
      if (apart(*meant, crease) < tolerance_)
        found = true;
      else if (agrees(crease, *longest, made, move.aligned))
        others.others.push_back(crease);
    }
    if (!found)
      out_.push_back({move_, Doubt::no_such_crease, {}});
    else if (!others.others.empty())
      out_.push_back(std::move(others));
  }

  const Programme& programme_;
  double tolerance_;
  std::unordered_map<ElementId, const Element*> elements_;
  std::unordered_map<ElementId, std::vector<Segment>> made_;
  Polygon outline_;
  SheetState lies_;
  std::size_t move_ = 0;
  std::vector<Doubtful> out_;
};

} // namespace

std::vector<Doubtful> doubtful_folds(const Programme& programme, double tolerance_mm) {
  if (programme.folding || programme.units) return {};
  return Follower(programme, tolerance_mm).run();
}

} // namespace uc
