#include "fold/scene.h"

#include "base/index.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

std::vector<Line> all_creases(Alignment op, const AlignmentInputs& in) {
  const Creases creases = creases_of(op, in);
  return {creases.begin(), creases.end()};
}

/// P onto l through Q where the circle round Q only just touches l. Both solutions are one then, and taking the foot
/// of Q is exact where their formula loses half of its digits.
std::optional<Line> touching_crease(const AlignmentInputs& in) {
  const Point& p = in.points[0];
  const Point& q = in.points[1];
  const double off = in.lines[0].distance(q);
  const double radius2 = (p - q).squaredNorm();
  if (std::abs(radius2 - off * off) > 1e-11 * radius2) return std::nullopt;
  const Point foot = q - off * in.lines[0].normal;
  if ((foot - p).norm() < 1e-6 * std::sqrt(radius2)) return std::nullopt; // it lies there already
  const Point n = (foot - p).normalized();
  return Line{n, n.dot(q)};
}

} // namespace

SeenThing Scene::seen(const std::string& name, bool bent) const {
  auto thing = names_.seen(name, form_, bent);
  if (!thing) throw NotMade{thing.error(), !names_.known(name)};
  return std::move(thing).value();
}
SeenThing Scene::point(const std::string& name) const {
  SeenThing thing = seen(name);
  if (thing.is_line) throw NotMade{fmt::format("{} is a line; a point is needed here", name), true};
  return thing;
}
SeenThing Scene::line(const std::string& name, bool bent) const {
  SeenThing thing = seen(name, bent);
  if (!thing.is_line) throw NotMade{fmt::format("{} is a point; a line is needed here", name), true};
  return thing;
}

void Scene::set(AlignedFold& a, Alignment op, const std::vector<const SeenThing*>& points,
                const std::vector<const SeenThing*>& lines) const {
  a.record.op = op;
  for (std::size_t i = 0; i < points.size(); ++i) {
    a.inputs.points[i] = points[i]->at;
    a.record.things.push_back(points[i]->thing);
  }
  for (std::size_t i = 0; i < lines.size(); ++i) {
    a.inputs.lines[i] = lines[i]->line;
    a.record.things.push_back(lines[i]->thing);
  }
  const auto touching = op == Alignment::O5 ? touching_crease(a.inputs) : std::nullopt;
  for (const Line& l : touching ? std::vector<Line>{*touching} : all_creases(op, a.inputs)) {
    if (crosses_paper(l)) a.lines.push_back(l);
  }
  if (a.lines.empty()) throw NotMade{"no fold does this: the crease would miss the paper"};
}

bool Scene::crosses_paper(const Line& l) const {
  double least = 0;
  double most = 0;
  for (const Point& p : form_.form.vertices) {
    least = std::min(least, l.distance(p));
    most = std::max(most, l.distance(p));
  }
  return least < -near() && most > near();
}

AlignedFold Scene::aligned(const StepAlignment& wish) const {
  AlignedFold a;
  switch (wish.form) {
  case StepAlignment::Form::along: {
    const SeenThing old = line(wish.along);
    a.record.along = true;
    a.record.things.push_back(old.thing);
    a.lines.push_back(old.line);
    if (!crosses_paper(old.line)) throw NotMade{fmt::format("{} does not cross the paper as it lies", wish.along)};
    return a;
  }
  case StepAlignment::Form::through: {
    const SeenThing p = point(wish.through[0]);
    if (wish.square_to.empty()) {
      const SeenThing q = point(wish.through[1]);
      if ((p.at - q.at).norm() < near())
        throw NotMade{"the two points lie on each other; a fold through both can run anywhere"};
      set(a, Alignment::O1, {&p, &q}, {});
    } else {
      const SeenThing l = line(wish.square_to);
      set(a, Alignment::O4, {&p}, {&l});
    }
    return a;
  }
  case StepAlignment::Form::onto:
    break;
  }
  a.moved = seen(wish.moved);
  a.target = seen(wish.target);
  if (a.moved->is_line && !a.target->is_line)
    throw NotMade{
        fmt::format("bring the point {} onto the line {}, not the line onto the point", wish.target, wish.moved), true};
  if (!a.moved->is_line && !a.target->is_line) {
    if ((a.moved->at - a.target->at).norm() < near())
      throw NotMade{fmt::format("{} lies on {} already", wish.moved, wish.target)};
    set(a, Alignment::O2, {&*a.moved, &*a.target}, {});
  } else if (a.moved->is_line) {
    set(a, Alignment::O3, {}, {&*a.moved, &*a.target});
  } else if (!wish.second_moved.empty()) {
    const SeenThing q = point(wish.second_moved);
    a.second_target = line(wish.second_target);
    set(a, Alignment::O6, {&*a.moved, &q}, {&*a.target, &*a.second_target});
  } else if (!wish.through.empty()) {
    const SeenThing q = point(wish.through[0]);
    set(a, Alignment::O5, {&*a.moved, &q}, {&*a.target});
  } else if (!wish.square_to.empty()) {
    const SeenThing m = line(wish.square_to);
    set(a, Alignment::O7, {&*a.moved}, {&*a.target, &m});
  } else {
    throw NotMade{fmt::format("many folds bring {} onto {}; add through a point, square to a line, or a second point "
                              "and its line",
                              wish.moved, wish.target),
                  true};
  }
  return a;
}

/// How well an alignment is seen on the paper: the length over which lines meet, or how little a point has to move.
/// Nothing when what should meet would meet beside the paper.
std::optional<double> Scene::fit(const AlignedFold& a, const Line& l) const {
  if (!a.moved || !a.target->is_line) return 0.0;
  const Isometry over = Isometry::reflection_in(l);
  if (a.moved->is_line) {
    double shared = 0;
    for (const Segment& s : a.moved->pieces) {
      const Segment landed = over * s;
      for (const Segment& t : a.target->pieces) {
        const Point d = (t.to - t.from).normalized();
        const double from = std::min(d.dot(landed.from - t.from), d.dot(landed.to - t.from));
        const double to = std::max(d.dot(landed.from - t.from), d.dot(landed.to - t.from));
        shared += std::max(0.0, std::min(to, t.length()) - std::max(from, 0.0));
      }
    }
    if (shared < near()) return std::nullopt;
    return shared;
  }
  if (!lands_on(over * a.moved->at, *a.target)) return std::nullopt;
  if (a.second_target && !lands_on(over * a.inputs.points[1], *a.second_target)) return std::nullopt;
  return -(over * a.moved->at - a.moved->at).norm();
}
bool Scene::lands_on(const Point& p, const SeenThing& line) const {
  return std::any_of(line.pieces.begin(), line.pieces.end(), [&](const Segment& s) {
    const Point d = s.to - s.from;
    const double t = std::clamp(d.dot(p - s.from) / d.squaredNorm(), 0.0, 1.0);
    return (s.at(t) - p).norm() < near();
  });
}

Line Scene::chosen(const AlignedFold& a, const StepAlignment& wish) const {
  std::vector<std::pair<double, Line>> fitting;
  for (const Line& l : a.lines) {
    if (const auto how_well = fit(a, l)) fitting.emplace_back(*how_well, l);
  }
  if (fitting.empty()) throw NotMade{fmt::format("{} would not meet {} on the paper", wish.moved, wish.target)};
  if (wish.way > 0) {
    if (at(wish.way) > fitting.size())
      throw NotMade{fmt::format("way {} is not there: {} fit", wish.way, fitting.size())};
    return fitting[at(wish.way - 1)].second;
  }
  std::stable_sort(fitting.begin(), fitting.end(), [](const auto& x, const auto& y) { return x.first > y.first; });
  if (fitting.size() > 1 && fitting[0].first - fitting[1].first < near())
    throw NotMade{fmt::format("{} folds fit equally well; add way 1 to way {}", fitting.size(), fitting.size())};
  return fitting[0].second;
}

/// The line drawn through the vertices it all but meets: where an alignment only just touches, half of the digits
/// are lost.
Line Scene::settled(const Line& l) const {
  const Point d = l.direction();
  const Point* first = nullptr;
  const Point* last = nullptr;
  for (const Point& p : form_.form.vertices) {
    if (std::abs(l.distance(p)) > near()) continue;
    if (!first || d.dot(p) < d.dot(*first)) first = &p;
    if (!last || d.dot(p) > d.dot(*last)) last = &p;
  }
  if (!first) return l;
  if ((*last - *first).norm() > 1e-3 * size_) return Line::through(*first, *last);
  return {l.normal, l.normal.dot(*first)};
}

double Scene::side_of(const AlignedFold& a, const StepLine& step, const Line& l) const {
  const auto sign = [&](const std::string& name, const Point& p) {
    const double d = l.distance(p);
    if (std::abs(d) < near()) throw NotMade{fmt::format("{} lies on the crease; name a point beside it", name)};
    return d > 0 ? 1.0 : -1.0;
  };
  if (!step.moving.empty()) return sign(step.moving, point(step.moving).at);
  if (a.moved && !a.moved->is_line) return sign(step.alignment.moved, a.moved->at);
  if (a.moved) {
    double furthest = 0;
    for (const Segment& s : a.moved->pieces) {
      for (const Point& p : {s.from, s.to}) {
        if (std::abs(l.distance(p)) > std::abs(furthest)) furthest = l.distance(p);
      }
    }
    return furthest > 0 ? 1 : -1;
  }
  if (!step.flap.empty()) return sign(step.flap, point(step.flap).at);
  // What has less paper is easier to move.
  double left = 0;
  double right = 0;
  for (std::size_t f = 0; f < form_.graph.faces.size(); ++f) {
    Polygon outline;
    for (const VertexId v : form_.graph.faces[f].cycle) outline.push_back(form_.form.vertices[at(v)]);
    right += std::abs(signed_area(clip_to_side(outline, l)));
    left += std::abs(signed_area(clip_to_side(outline, {-l.normal, -l.c})));
  }
  if (std::abs(left - right) < 1e-6 * size_ * size_ && step.kind != StepVerb::crease && step.kind != StepVerb::pinch)
    throw NotMade{"say which side moves: add moving and a point, such as moving bl", true};
  return left < right ? 1 : -1;
}

Line Scene::folded_on(const AlignedFold& a, const StepAlignment& wish) const { return settled(chosen(a, wish)); }

Segment creased_extent(const PieceForm& form, const Line& l, const std::vector<std::pair<FaceId, Segment>>& pieces) {
  const Point d = l.direction();
  const Point foot = l.c * l.normal;
  double from = 1e300;
  double to = -1e300;
  for (const auto& [face, s] : pieces) {
    for (const Point& p : {s.from, s.to}) {
      const double along = d.dot(form.form.place[at(face)] * p - foot);
      from = std::min(from, along);
      to = std::max(to, along);
    }
  }
  return {foot + from * d, foot + to * d};
}

} // namespace uc
