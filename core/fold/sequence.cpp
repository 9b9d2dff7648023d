#include "fold/sequence.h"

#include "base/index.h"
#include "fold/names.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uc {
namespace {

/// A move that cannot be made.
struct Refused {
  std::string reason;
  bool unknown_name = false;
};

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

class Folder {
public:
  explicit Folder(StepsFile file) : names_(out_.made) {
    out_.made.file = std::move(file);
    const Polygon& sheet = out_.made.file.sheet.outline();
    form_ = std::make_shared<const PieceForm>(bare_form(sheet));
    out_.made.states.push_back({});
    out_.made.states.back().form = form_;
    size_ = bounding_box(sheet).size().norm();
  }

  FoldedSequence take() {
    for (std::size_t i = 0; i < out_.made.file.lines.size(); ++i) {
      const StepLine& step = out_.made.file.lines[i];
      try {
        make(step, static_cast<int>(i));
      } catch (const Refused& why) {
        out_.refused = {step.number, why.reason, why.unknown_name};
        auto& lines = out_.made.lines; // of a fold that was not made
        while (!lines.empty() && lines.back().fold >= static_cast<int>(out_.made.folds.size())) lines.pop_back();
        break;
      }
    }
    return std::move(out_);
  }

private:
  void make(const StepLine& step, int index) {
    switch (step.kind) {
    case StepVerb::valley:
    case StepVerb::mountain:
    case StepVerb::crease:
    case StepVerb::pinch:
      return fold(step, index);
    case StepVerb::cross:
      return cross(step);
    case StepVerb::tuck:
      return tuck(step, index);
    case StepVerb::unfold:
      return unfold(step, index);
    case StepVerb::over:
      return handle(step, index, true, 0);
    case StepVerb::turn:
      return handle(step, index, false, step.degrees);
    case StepVerb::say: {
      std::string& remark = out_.made.states.back().remark;
      remark += (remark.empty() ? "" : " ") + step.remark;
      return;
    }
    }
  }

  StepState& add_state(const StepLine& step, int index) {
    StepState next = out_.made.states.back();
    next.line = step.number;
    next.step = index;
    next.form = form_;
    next.fold = -1;
    next.layers = 0;
    next.moved = false;
    next.remark.clear();
    out_.made.states.push_back(std::move(next));
    return out_.made.states.back();
  }

  void handle(const StepLine& step, int index, bool over, double degrees) {
    StepState& state = add_state(step, index);
    state.underside_up = state.underside_up != over;
    // Seen from behind, the same turn of the hand goes the other way round.
    state.turned_deg = std::remainder(state.turned_deg + (state.underside_up ? -degrees : degrees), 360.0);
  }

  [[nodiscard]] SeenThing seen(const std::string& name, bool bent = false) const {
    auto thing = names_.seen(name, *form_, bent);
    if (!thing) throw Refused{thing.error(), !names_.known(name)};
    return std::move(thing).value();
  }
  [[nodiscard]] SeenThing point(const std::string& name) const {
    SeenThing thing = seen(name);
    if (thing.is_line) throw Refused{fmt::format("{} is a line; a point is needed here", name), true};
    return thing;
  }
  [[nodiscard]] SeenThing line(const std::string& name, bool bent = false) const {
    SeenThing thing = seen(name, bent);
    if (!thing.is_line) throw Refused{fmt::format("{} is a point; a line is needed here", name), true};
    return thing;
  }

  struct Aligned {
    FoldRecord record;
    AlignmentInputs inputs;
    std::optional<SeenThing> moved, target, second_target;
    std::vector<Line> lines; // that fit, as the paper lies
  };

  void set(Aligned& a, Alignment op, const std::vector<const SeenThing*>& points,
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
      if (crosses(l)) a.lines.push_back(l);
    }
    if (a.lines.empty()) throw Refused{"no fold does this: the crease would miss the paper"};
  }

  [[nodiscard]] bool crosses(const Line& l) const {
    double least = 0;
    double most = 0;
    for (const Point& p : form_->form.vertices) {
      least = std::min(least, l.distance(p));
      most = std::max(most, l.distance(p));
    }
    return least < -near() && most > near();
  }
  [[nodiscard]] double near() const { return 1e-6 * size_; }

  Aligned aligned(const StepAlignment& wish) const {
    Aligned a;
    switch (wish.form) {
    case StepAlignment::Form::along: {
      const SeenThing old = line(wish.along);
      a.record.along = true;
      a.record.things.push_back(old.thing);
      a.lines.push_back(old.line);
      if (!crosses(old.line)) throw Refused{fmt::format("{} does not cross the paper as it lies", wish.along)};
      return a;
    }
    case StepAlignment::Form::through: {
      const SeenThing p = point(wish.through[0]);
      if (wish.square_to.empty()) {
        const SeenThing q = point(wish.through[1]);
        if ((p.at - q.at).norm() < near())
          throw Refused{"the two points lie on each other; a fold through both can run anywhere"};
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
      throw Refused{
          fmt::format("bring the point {} onto the line {}, not the line onto the point", wish.target, wish.moved),
          true};
    if (!a.moved->is_line && !a.target->is_line) {
      if ((a.moved->at - a.target->at).norm() < near())
        throw Refused{fmt::format("{} lies on {} already", wish.moved, wish.target)};
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
      throw Refused{fmt::format("many folds bring {} onto {}; add through a point, square to a line, or a second point "
                                "and its line",
                                wish.moved, wish.target),
                    true};
    }
    return a;
  }

  /// How well an alignment is seen on the paper: the length over which lines meet, or how little a point has to move.
  /// Nothing when what should meet would meet beside the paper.
  [[nodiscard]] std::optional<double> fit(const Aligned& a, const Line& l) const {
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
  [[nodiscard]] bool lands_on(const Point& p, const SeenThing& line) const {
    return std::any_of(line.pieces.begin(), line.pieces.end(), [&](const Segment& s) {
      const Point d = s.to - s.from;
      const double t = std::clamp(d.dot(p - s.from) / d.squaredNorm(), 0.0, 1.0);
      return (s.at(t) - p).norm() < near();
    });
  }

  [[nodiscard]] Line chosen(const Aligned& a, const StepAlignment& wish) const {
    std::vector<std::pair<double, Line>> fitting;
    for (const Line& l : a.lines) {
      if (const auto how_well = fit(a, l)) fitting.emplace_back(*how_well, l);
    }
    if (fitting.empty()) throw Refused{fmt::format("{} would not meet {} on the paper", wish.moved, wish.target)};
    if (wish.way > 0) {
      if (at(wish.way) > fitting.size())
        throw Refused{fmt::format("way {} is not there: {} fit", wish.way, fitting.size())};
      return fitting[at(wish.way - 1)].second;
    }
    std::stable_sort(fitting.begin(), fitting.end(), [](const auto& x, const auto& y) { return x.first > y.first; });
    if (fitting.size() > 1 && fitting[0].first - fitting[1].first < near())
      throw Refused{fmt::format("{} folds fit equally well; add way 1 to way {}", fitting.size(), fitting.size())};
    return fitting[0].second;
  }

  /// The line drawn through the vertices it all but meets: where an alignment only just touches, half of the digits
  /// are lost.
  [[nodiscard]] Line settled(const Line& l) const {
    const Point d = l.direction();
    const Point* first = nullptr;
    const Point* last = nullptr;
    for (const Point& p : form_->form.vertices) {
      if (std::abs(l.distance(p)) > near()) continue;
      if (!first || d.dot(p) < d.dot(*first)) first = &p;
      if (!last || d.dot(p) > d.dot(*last)) last = &p;
    }
    if (!first) return l;
    if ((*last - *first).norm() > 1e-3 * size_) return Line::through(*first, *last);
    return {l.normal, l.normal.dot(*first)};
  }

  [[nodiscard]] double side_of(const Aligned& a, const StepLine& step, const Line& l) const {
    const auto sign = [&](const std::string& name, const Point& p) {
      const double d = l.distance(p);
      if (std::abs(d) < near()) throw Refused{fmt::format("{} lies on the crease; name a point beside it", name)};
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
    for (std::size_t f = 0; f < form_->graph.faces.size(); ++f) {
      Polygon outline;
      for (const VertexId v : form_->graph.faces[f].cycle) outline.push_back(form_->form.vertices[at(v)]);
      right += std::abs(signed_area(clip_to_side(outline, l)));
      left += std::abs(signed_area(clip_to_side(outline, {-l.normal, -l.c})));
    }
    if (std::abs(left - right) < 1e-6 * size_ * size_ && step.kind != StepVerb::crease && step.kind != StepVerb::pinch)
      throw Refused{"say which side moves: add moving and a point, such as moving bl", true};
    return left < right ? 1 : -1;
  }

  void fold(const StepLine& step, int index) {
    Aligned a = aligned(step.alignment);
    const Line l = settled(chosen(a, step.alignment));
    SimpleFold fold;
    fold.line = l;
    fold.side = side_of(a, step, l);
    const bool valley = step.kind != StepVerb::mountain;
    fold.on_top = valley != out_.made.states.back().underside_up;
    if (step.layers > 0) {
      fold.layers = {FoldLayers::Kind::top, step.layers, Point::Zero()};
    } else if (!step.flap.empty()) {
      fold.layers = {FoldLayers::Kind::flap, 0, point(step.flap).on_sheet};
    }
    const auto faces = moving_faces(*form_, fold);
    if (!faces) throw Refused{faces.error()};

    const auto pieces = creased_pieces(*form_, l, *faces);
    if (pieces.empty()) throw Refused{"the crease would miss the paper that should move"};
    const int record = static_cast<int>(out_.made.folds.size());
    const int crease = a.record.along ? names_.crease_named(step.alignment.along).value_or(record) : record;
    const std::size_t lines_before = out_.made.lines.size();
    std::vector<NewCrease> creases;
    for (const auto& [face, segment] : pieces) {
      creases.push_back({segment, static_cast<int>(out_.made.lines.size())});
      out_.made.lines.push_back({record, crease, folds_to(*form_, face)});
    }
    if (form_->graph.faces.size() + pieces.size() > most_faces)
      throw Refused{fmt::format("the paper would lie in more than {} faces", most_faces)};
    std::vector<FaceId> parent;
    auto divided = with_creases(*form_, creases, &parent);
    if (!divided) throw Refused{divided.error()};
    PieceForm creased = std::move(divided).value();
    std::vector<char> moving;
    moving.reserve(parent.size());
    for (const FaceId p : parent)
      moving.push_back(static_cast<char>(std::binary_search(faces->begin(), faces->end(), p)));
    auto folded = folded_over(creased, fold, moving);
    if (!folded) throw Refused{folded.error()};

    a.record.layers = layers_creased(*form_, fold, *faces);
    const Isometry back = form_->form.place[0].inverse();
    a.record.line = back * l;
    a.record.aligned = back * extent(l, pieces);
    const bool new_crease = !a.record.along;
    a.record.name = new_crease ? names_.name_crease(step.name, crease) : step.alignment.along;
    if (a.record.name.empty()) throw Refused{fmt::format("{} is a name already; choose another", step.name), true};
    if (!new_crease && !step.name.empty() && names_.name_crease(step.name, crease).empty())
      throw Refused{fmt::format("{} is a name already; choose another", step.name), true};

    if (step.kind == StepVerb::pinch) {
      PieceForm pinched = *form_;
      pinch(pinched, step, l, pieces, lines_before);
      form_ = std::make_shared<const PieceForm>(std::move(pinched));
    } else {
      const bool stays = step.kind != StepVerb::crease;
      form_ = std::make_shared<const PieceForm>(stays ? std::move(folded).value() : std::move(creased));
    }
    StepState& state = add_state(step, index);
    state.fold = record;
    state.layers = a.record.layers;
    state.moved = step.kind == StepVerb::valley || step.kind == StepVerb::mountain;
    out_.made.folds.push_back(std::move(a.record));
  }

  /// The part of a line that is creased, as the paper lies.
  [[nodiscard]] Segment extent(const Line& l, const std::vector<std::pair<FaceId, Segment>>& pieces) const {
    const Point d = l.direction();
    const Point foot = l.c * l.normal;
    double from = 1e300;
    double to = -1e300;
    for (const auto& [face, s] : pieces) {
      for (const Point& p : {s.from, s.to}) {
        const double along = d.dot(form_->form.place[at(face)] * p - foot);
        from = std::min(from, along);
        to = std::max(to, along);
      }
    }
    return {foot + from * d, foot + to * d};
  }

  /// Short creases where the line meets what it is pinched at, or at both ends.
  void pinch(PieceForm& form, const StepLine& step, const Line& l,
             const std::vector<std::pair<FaceId, Segment>>& pieces, std::size_t first_line) {
    const Segment whole = extent(l, pieces);
    const double length = std::min(pinch_mm, whole.length() / 3);
    std::vector<Point> places{whole.from, whole.to};
    if (!step.at.empty()) {
      const SeenThing where = line(step.at);
      const auto meeting = l.crossing(where.line);
      if (!meeting || !lands_on(*meeting, where)) throw Refused{fmt::format("the crease does not meet {}", step.at)};
      places = {*meeting};
    }
    bool any = false;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      const auto& [face, segment] = pieces[i];
      for (const Point& place : places) {
        const Point on_sheet = form.form.place[at(face)].inverse() * place;
        const Point d = (segment.to - segment.from) / segment.length();
        const double middle = d.dot(on_sheet - segment.from);
        const double from = std::max(0.0, middle - length);
        const double to = std::min(segment.length(), middle + length);
        if (to - from < near()) continue;
        const Segment mark{segment.from + from * d, segment.from + to * d};
        form.marks.push_back(mark);
        names_.add_pinch(static_cast<int>(first_line + i), mark);
        any = true;
      }
    }
    if (!any) throw Refused{"there is no paper to pinch at this place"};
  }

  void cross(const StepLine& step) {
    const SeenThing a = line(step.names[0], true);
    const SeenThing b = line(step.names[1], true);
    const auto meeting = names_.crossing(a, b, *form_, out_.made.states.back().underside_up);
    if (!meeting) throw Refused{fmt::format("{} and {} {}", step.names[0], step.names[1], meeting.error())};
    if (!names_.name_point(step.name, *meeting))
      throw Refused{fmt::format("{} is a name already; choose another", step.name), true};
  }

  void unfold(const StepLine& step, int index) {
    std::vector<CreaseId> edges;
    const auto folded_edges = [&](int crease) {
      std::size_t before = edges.size();
      for (std::size_t e = 0; e < form_->pattern.edges.size(); ++e) {
        const int line = form_->line_of[e];
        if (line < 0 || !folds(form_->pattern.edges[e].kind)) continue;
        if (crease < 0 || out_.made.lines[at(line)].crease == crease) edges.emplace_back(e);
      }
      return edges.size() > before;
    };
    for (const std::string& name : step.names) {
      const auto crease = names_.crease_named(name);
      if (!crease)
        throw Refused{names_.known(name) ? fmt::format("{} is not a crease", name) : names_.unknown(name), true};
      if (!folded_edges(*crease)) throw Refused{fmt::format("{} is not folded now", name)};
    }
    if (step.names.empty() && !folded_edges(-1)) throw Refused{"nothing is folded now"};
    auto open = opened(*form_, edges);
    if (!open) throw Refused{open.error()};
    form_ = std::make_shared<const PieceForm>(std::move(open).value());
    add_state(step, index).moved = true;
  }

  /// The faces that the crease joins to the larger part of the paper.
  [[nodiscard]] std::vector<char> flap_of(const std::string& name) const {
    const auto crease = names_.crease_named(name);
    if (!crease)
      throw Refused{names_.known(name) ? fmt::format("{} is not a crease", name) : names_.unknown(name), true};
    const auto& graph = form_->graph;
    std::vector<int> part(graph.faces.size());
    std::iota(part.begin(), part.end(), 0);
    const auto root = [&](int f) {
      while (part[at(f)] != f) f = part[at(f)] = part[at(part[at(f)])];
      return f;
    };
    bool folded = false;
    for (std::size_t e = 0; e < form_->pattern.edges.size(); ++e) {
      const auto [f, g] = graph.sides[e];
      if (f < 0 || g < 0 || !joins(form_->pattern.edges[e].kind)) continue;
      const int line = form_->line_of[e];
      if (line >= 0 && out_.made.lines[at(line)].crease == *crease)
        folded |= folds(form_->pattern.edges[e].kind);
      else
        part[at(root(f))] = root(g);
    }
    if (!folded) throw Refused{fmt::format("{} is not folded now", name)};
    std::vector<double> area(part.size(), 0);
    for (std::size_t f = 0; f < part.size(); ++f)
      area[at(root(static_cast<int>(f)))] += std::abs(signed_area(outline_of(form_->pattern, graph.faces[f])));
    const auto rest = static_cast<int>(std::max_element(area.begin(), area.end()) - area.begin());
    std::vector<char> flap(part.size());
    for (std::size_t f = 0; f < part.size(); ++f) flap[f] = root(static_cast<int>(f)) != rest;
    return flap;
  }

  void tuck(const StepLine& step, int index) {
    const std::vector<char> flap = flap_of(step.names[0]);
    std::vector<char> under = flap_of(step.names[1]);
    for (std::size_t f = 0; f < under.size(); ++f) under[f] = under[f] && !flap[f];
    auto form = tucked(*form_, flap, under, out_.made.states.back().underside_up);
    if (!form) throw Refused{form.error()};
    form_ = std::make_shared<const PieceForm>(std::move(form).value());
    add_state(step, index);
  }

  static constexpr double pinch_mm = 10;
  static constexpr std::size_t most_faces = 512; // a second, and thicker than any hand can fold

  FoldedSequence out_;
  StepNames names_;
  std::shared_ptr<const PieceForm> form_;
  double size_ = 0;
};

} // namespace

std::string StepRefusal::sentence() const { return fmt::format("line {}: {}.", line, reason); }

FoldedSequence fold_sequence(StepsFile file) { return Folder(std::move(file)).take(); }

} // namespace uc
