#include "programme/presence.h"

#include "base/index.h"

#include <algorithm>
#include <map>
#include <set>

namespace uc {
namespace {

double distance_to(const Segment& s, const Point& p) {
  const Point along = s.to - s.from;
  const double square = along.squaredNorm();
  const double t = square > 0 ? std::clamp((p - s.from).dot(along) / square, 0.0, 1.0) : 0;
  return (s.from + t * along - p).norm();
}

class Watcher {
public:
  Watcher(const Programme& programme, double tolerance) : programme_(programme), tolerance_(tolerance) {
    for (const Element& e : programme.elements) {
      elements_.try_emplace(e.id, &e);
      if (e.existing) there_.insert(e.id);
    }
  }

  std::vector<Absence> run() {
    for (move_ = 0; move_ < programme_.moves.size(); ++move_) {
      const Move& move = programme_.moves[move_];
      const MakeCreases& made = move.creases();
      const bool marks = made.way == CreaseWay::mark && move.is<MakeCreases>();
      if (!marks) require_all(move.aligned.moving);
      require_all(move.aligned.onto);
      require_all(move.aligned.through);
      for (const ElementId end : made.ends)
        if (end) require(end); // where a crease ends at nothing, nothing is named
      if (made.makes && made.way == CreaseWay::both_ways) require(*made.makes);
      if (const auto* collapse = std::get_if<Collapse>(&move.effect)) require_creased(*collapse);
      if (made.makes) there_.insert(*made.makes);
      if (marks) there_.insert(move.aligned.moving.begin(), move.aligned.moving.end());
    }
    return std::move(out_);
  }

private:
  void require_all(const std::vector<ElementId>& ids) {
    for (const ElementId id : ids) require(id);
  }
  void require(ElementId id) {
    const auto it = elements_.find(id);
    if (it == elements_.end() || !is_there(*it->second)) out_.push_back({move_, id, {}});
  }

  [[nodiscard]] bool is_there(const Element& e) const {
    switch (e.role) {
    case Role::raw_edge:
    case Role::corner:
      return on_outline(e);
    case Role::crease:
      return there_.contains(e.id);
    case Role::point:
      break;
    }
    if (there_.contains(e.id)) return true;
    return e.made_of.size() == 2 && !e.spans.empty() && reaches(e.made_of[0], e.spans.front().from) &&
           reaches(e.made_of[1], e.spans.front().from);
  }

  /// What cuts have left of an edge will do.
  [[nodiscard]] bool on_outline(const Element& e) const {
    if (e.spans.empty()) return false;
    const Polygon outline = outline_before(programme_, move_);
    for (int k = 0; k <= 8; ++k) {
      const Point p = e.spans.front().from + k / 8.0 * (e.spans.front().to - e.spans.front().from);
      for (std::size_t i = 0; i < outline.size(); ++i)
        if (distance_to({outline[i], outline[(i + 1) % outline.size()]}, p) < tolerance_) return true;
    }
    return false;
  }

  /// Whether a line is there and creased, or at least pinched, at a place.
  [[nodiscard]] bool reaches(ElementId line, const Point& p) const {
    const auto it = elements_.find(line);
    if (it == elements_.end()) return false;
    if (it->second->role == Role::raw_edge) return on_outline(*it->second);
    const SheetState state = state_after(programme_, static_cast<int>(move_));
    for (const SheetState::Crease& crease : state.creases) {
      if (crease.element != line) continue;
      const auto spans = crease.all();
      if (std::any_of(spans.begin(), spans.end(), [&](const Segment& s) { return distance_to(s, p) < tolerance_; }))
        return true;
    }
    return false;
  }

  /// Each driven crease lies on creases that have been made, from end to end.
  void require_creased(const Collapse& collapse) {
    if (!programme_.space || programme_.space->on_sheet.empty()) return;
    std::map<CreaseId, Segment> places;
    for (const SpaceStates::Face& face : programme_.space->faces)
      for (std::size_t i = 0; i < face.edges.size(); ++i)
        places[face.edges[i]] = {programme_.space->on_sheet[at(face.cycle[i])],
                                 programme_.space->on_sheet[at(face.cycle[(i + 1) % face.cycle.size()])]};
    std::vector<Segment> made;
    for (const SheetState::Crease& crease : state_after(programme_, static_cast<int>(move_)).creases) {
      const auto spans = crease.all();
      made.insert(made.end(), spans.begin(), spans.end());
    }
    Absence missing{move_, std::nullopt, {}};
    for (const CreaseId crease : collapse.creases) {
      const auto place = places.find(crease);
      if (place == places.end() || !covered(place->second, made)) missing.creases.push_back(crease);
    }
    if (!missing.creases.empty()) out_.push_back(std::move(missing));
  }

  [[nodiscard]] bool covered(const Segment& wanted, const std::vector<Segment>& made) const {
    const double length = wanted.length();
    if (length < tolerance_) return true;
    const Point along = (wanted.to - wanted.from) / length;
    std::vector<std::pair<double, double>> parts;
    const Line line = Line::through(wanted.from, wanted.to);
    for (const Segment& s : made) {
      // Clipped to the wanted stretch first: a long crease may leave its line far away from it.
      double from = (s.from - wanted.from).dot(along);
      double to = (s.to - wanted.from).dot(along);
      if (std::abs(to - from) < tolerance_ / 2) continue;
      const auto off = [&](double place) {
        return std::abs(line.distance(s.from + (place - from) / (to - from) * (s.to - s.from)));
      };
      const double low = std::max(0.0, std::min(from, to));
      const double high = std::min(length, std::max(from, to));
      if (low < high && std::max(off(low), off(high)) < tolerance_) parts.emplace_back(low, high);
    }
    std::sort(parts.begin(), parts.end());
    double reached = tolerance_;
    for (const auto& [low, high] : parts)
      if (low <= reached) reached = std::max(reached, high + tolerance_);
    return reached >= length;
  }

  const Programme& programme_;
  double tolerance_;
  std::map<ElementId, const Element*> elements_;
  std::set<ElementId> there_;
  std::size_t move_ = 0;
  std::vector<Absence> out_;
};

} // namespace

std::vector<Absence> absences(const Programme& programme, double tolerance_mm) {
  if (programme.folding || programme.units) return {};
  return Watcher(programme, tolerance_mm).run();
}

} // namespace uc
