// What is on the paper while a programme of creases is followed, by rules that share nothing with the planner.
#pragma once

#include "programme/programme.h"

#include <QString>

#include <algorithm>
#include <cmath>
#include <map>
#include <vector>

namespace uc::testing {

inline double length_of(const std::vector<Segment>& spans) {
  double sum = 0;
  for (const Segment& s : spans) sum += s.length();
  return sum;
}

/// Whether a point lies on one of the segments, to `tolerance`.
inline bool on_any(const std::vector<Segment>& spans, const Point& p, double tolerance) {
  return std::any_of(spans.begin(), spans.end(), [&](const Segment& s) {
    const double t =
        std::clamp((p - s.from).dot(s.to - s.from) / std::max(1e-12, (s.to - s.from).squaredNorm()), 0.0, 1.0);
    return (s.at(t) - p).norm() < tolerance;
  });
}

inline Segment longest(const std::vector<Segment>& spans) {
  return *std::max_element(spans.begin(), spans.end(),
                           [](const Segment& a, const Segment& b) { return a.length() < b.length(); });
}

/// Follows a programme with what is on the paper, and says what is wrong with a move; empty when nothing is.
class CreasedPaper {
public:
  explicit CreasedPaper(const Programme& p) : p_(p) {}
  QString follow(std::size_t index) {
    const Move& m = p_.moves[index];
    const QString wrong = check(m);
    if (!m.creases().makes) return wrong;
    auto& spans = creased_[*m.creases().makes];
    if (!m.is(CreaseWay::both_ways)) spans.insert(spans.end(), m.creases().spans.begin(), m.creases().spans.end());
    return wrong;
  }

private:
  QString check(const Move& m) {
    for (const auto* ids : {&m.aligned.moving, &m.aligned.onto, &m.aligned.through}) {
      for (const ElementId id : *ids) {
        const Element* e = p_.find(id);
        if (!e) return "names nothing";
        if (e->role == Role::crease && !creased_.contains(id)) return "uses a crease that is not there yet";
        for (const ElementId line : e->made_of) {
          const Element* l = p_.find(line);
          if (l->role == Role::crease && !on_any(creased_[line], e->spans[0].from, 0.01))
            return "a mark is used where " + QString::fromStdString(l->label) + " is not creased";
        }
      }
    }
    if (m.is(CreaseWay::align)) return aligned(m);
    if (m.is(CreaseWay::through)) {
      const Segment axis = longest(creased_[m.aligned.onto[0]]);
      const Segment moved = longest(p_.find(m.aligned.moving[0])->spans);
      const Segment made = longest(m.creases().spans);
      const Isometry over = Isometry::reflection_in(Line::through(axis.from, axis.to));
      const Line line = Line::through(made.from, made.to);
      if (std::abs(line.distance(over * moved.from)) > 0.01 || std::abs(line.distance(over * moved.to)) > 0.01)
        return "a line lands beside what is creased";
    }
    if (m.is(CreaseWay::between) || m.is(CreaseWay::score)) {
      const Segment s = longest(m.creases().spans);
      for (const ElementId id : m.aligned.through) {
        if (std::abs(Line::through(s.from, s.to).distance(p_.find(id)->spans[0].from)) > 0.01)
          return "does not go through its marks";
      }
    }
    return {};
  }
  /// What is moved must land on what it is brought to, where both can be seen.
  QString aligned(const Move& m) {
    const Segment s = longest(m.creases().spans);
    const Isometry fold = Isometry::reflection_in(Line::through(s.from, s.to));
    const Element* moving = p_.find(m.aligned.moving[0]);
    const Element* onto = p_.find(m.aligned.onto[0]);
    const auto seen = [&](const Element& e) { return e.role == Role::crease ? creased_[e.id] : e.spans; };
    if (moving->role == Role::point || moving->role == Role::corner) {
      const Point landed = fold * moving->spans[0].from;
      return on_any(seen(*onto), landed, 0.01) ? QString() : "a point lands beside its target";
    }
    const Segment l = longest(moving->spans);
    const Segment target = longest(onto->spans);
    const Line wanted = Line::through(target.from, target.to);
    for (const Point& end : {l.from, l.to}) {
      if (std::abs(wanted.distance(fold * end)) > 0.01) return "a line lands beside its target";
    }
    // Creased parts of both must meet at two places apart.
    double low = 1e300;
    double high = -1e300;
    for (const Segment& a : seen(*moving)) {
      for (int k = 0; k <= 40; ++k) {
        const Point landed = fold * a.at(k / 40.0);
        if (!on_any(seen(*onto), landed, 0.6)) continue;
        low = std::min(low, wanted.direction().dot(landed));
        high = std::max(high, wanted.direction().dot(landed));
      }
    }
    return high - low > 8 ? QString() : "two lines are brought together where one of them cannot be seen";
  }

  const Programme& p_;
  std::map<ElementId, std::vector<Segment>> creased_;
};

} // namespace uc::testing
