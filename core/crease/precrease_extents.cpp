#include "crease/precrease_moves.h"

#include <algorithm>
#include <map>
#include <numeric>

namespace uc {
namespace {

using Kind = ConstructionItem::Kind;

/// The places of each crease that later folds look at.
class Uses {
public:
  Uses(const LineMaking& making, double sigma_mm)
      : c_(making.construction), errors_(making.construction, sigma_mm),
        size_(bounding_box(c_.sheet()).size().maxCoeff()) {
    for (int i = 0; i < c_.size(); ++i) {
      if (c_[i].kind == Kind::crease) note(i);
    }
  }
  [[nodiscard]] const Intervals& of(int item) { return uses_[item]; }

private:
  void point(int item) {
    const ConstructionItem& p = c_[item];
    if (p.kind != Kind::crossing) return;
    for (const int line : p.lines) place(line, p.point, errors_.of(item).norm());
  }
  /// A pinch serves when what crosses it hits it almost surely.
  void place(int line, const Point& p, double sigma) {
    if (c_[line].kind != Kind::crease) return;
    const double half = std::max(0.01 * size_, 1.0 + 3 * sigma);
    const double t = c_[line].line.direction().dot(p);
    add(line, t - half, t + half);
  }
  /// Two lines are aligned at the ends of what they share.
  void ends(int line, const Point& p, const Point& q) {
    if (c_[line].kind != Kind::crease) return;
    const Point d = c_[line].line.direction();
    const double a = std::min(d.dot(p), d.dot(q));
    const double b = std::max(d.dot(p), d.dot(q));
    const double length = std::min(10.0, (b - a) / 8);
    add(line, a, a + length);
    add(line, b - length, b);
  }
  void add(int line, double low, double high) {
    const Segment& chord = c_[line].chord;
    const Point d = c_[line].line.direction();
    const double a = std::min(d.dot(chord.from), d.dot(chord.to));
    const double b = std::max(d.dot(chord.from), d.dot(chord.to));
    if (std::min(high, b) > std::max(low, a)) uses_[line].emplace_back(std::max(low, a), std::min(high, b));
  }
  void note(int i) {
    const ConstructionItem& item = c_[i];
    const Isometry mirror = Isometry::reflection_in(item.line);
    for (const int p : item.points) {
      if (p >= 0) point(p);
    }
    if (item.landing) {
      ends(item.lines[0], mirror * item.contact.first, mirror * item.contact.second);
      ends(item.lines[1], c_[item.lines[1]].chord.from, c_[item.lines[1]].chord.to);
      return;
    }
    switch (item.op) {
    case Alignment::O3:
      ends(item.lines[0], mirror * item.contact.first, mirror * item.contact.second);
      ends(item.lines[1], item.contact.first, item.contact.second);
      break;
    case Alignment::O4: {
      const auto foot = item.line.crossing(c_[item.lines[0]].line);
      const Point along = item.contact.lever * c_[item.lines[0]].line.direction();
      if (foot) ends(item.lines[0], *foot - along, *foot + along);
      break;
    }
    case Alignment::O5:
      place(item.lines[0], mirror * c_[item.points[0]].point, errors_.of(i).row(1).norm());
      break;
    default:
      break;
    }
  }

  const Construction& c_;
  ConstructionErrors errors_;
  double size_;
  std::map<int, Intervals> uses_;
};

} // namespace

Intervals joined(Intervals intervals) {
  std::sort(intervals.begin(), intervals.end());
  Intervals out;
  for (const auto& [low, high] : intervals) {
    if (!out.empty() && low <= out.back().second + 1e-3)
      out.back().second = std::max(out.back().second, high);
    else
      out.emplace_back(low, high);
  }
  return out;
}

double length_of(const Intervals& intervals) {
  return std::accumulate(intervals.begin(), intervals.end(), 0.0,
                         [](double sum, const auto& i) { return sum + i.second - i.first; });
}

std::vector<LineExtent> line_extents(const LineMaking& making, const std::vector<CarrierLine>& wanted,
                                     CreaseSchool school, const HandProfile& hand) {
  Uses uses(making, school == CreaseSchool::scored ? score_sigma_mm : hand.sigma_mm);
  const bool whole_grid = school == CreaseSchool::everything;
  std::vector<LineExtent> out;
  for (const LineInMaking& line : making.lines) {
    LineExtent extent;
    const int last = line.items.back();
    const ConstructionItem& made = making.construction[last];
    const Point d = made.line.direction();
    const auto interval = [&](const Segment& s) {
      const double a = d.dot(s.from);
      const double b = d.dot(s.to);
      return std::pair(std::min(a, b), std::max(a, b));
    };
    if (line.carrier >= 0) {
      for (const Segment& s : wanted[static_cast<std::size_t>(line.carrier)].spans())
        extent.wanted.push_back(interval(s));
      extent.wanted = joined(std::move(extent.wanted));
    }
    for (const int item : line.items) {
      // Every item has a line of its own sense; the last one's is used for all of them.
      const double sense = making.construction[item].line.direction().dot(d) < 0 ? -1 : 1;
      Intervals places;
      for (const auto& [low, high] : uses.of(item))
        places.emplace_back(std::min(sense * low, sense * high), std::max(sense * low, sense * high));
      if (item == last) {
        extent.uses = joined(places);
        places.insert(places.end(), extent.wanted.begin(), extent.wanted.end());
        if (whole_grid && (line.carrier >= 0 || line.family >= 0)) places = {interval(made.chord)};
      }
      extent.items.push_back(joined(std::move(places)));
    }
    out.push_back(std::move(extent));
  }
  return out;
}

} // namespace uc
