#include "fold/sequence.h"

#include "base/index.h"
#include "fold/folds/named_fold.h"
#include "fold/repeating.h"
#include "form/cutting.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace uc {
namespace {

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
    const std::vector<StepLine> lines =
        out_.made.file.lines; // of their own: a repeat that fails puts the sequence back
    for (const StepLine& step : lines) {
      try {
        make(step);
      } catch (const NotMade& why) {
        out_.refused = {step.number, why.reason, why.unknown_name};
        auto& made = out_.made.lines; // of a fold that was not made
        while (!made.empty() && made.back().fold >= static_cast<int>(out_.made.folds.size())) made.pop_back();
        break;
      }
    }
    return std::move(out_);
  }

private:
  void make(const StepLine& step) {
    if (step.kind == StepVerb::repeat) return repeat(step);
    if (step.kind == StepVerb::pleat || step.kind == StepVerb::crimp) return to_and_fro(step);
    const int index = static_cast<int>(out_.made.steps.size());
    out_.made.steps.push_back(step);
    switch (step.kind) {
    case StepVerb::valley:
    case StepVerb::mountain:
    case StepVerb::crease:
    case StepVerb::pinch:
      return fold(step, index);
    case StepVerb::reverse:
    case StepVerb::sink:
    case StepVerb::squash:
    case StepVerb::petal:
    case StepVerb::rabbit:
    case StepVerb::collapse:
      return named(step, index);
    case StepVerb::cut:
      return cut(step, index);
    case StepVerb::repeat:
    case StepVerb::pleat:
    case StepVerb::crimp:
      return;
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
    next.folds = 0;
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

  [[nodiscard]] Scene scene() const { return {names_, *form_, size_, out_.made.states.back().underside_up}; }

  /// The form with more creases; `parent` gets for each face the one it was a part of.
  PieceForm creased_form(const std::vector<NewCrease>& creases, std::vector<FaceId>& parent) const {
    if (form_->graph.faces.size() + creases.size() > most_faces)
      throw NotMade{fmt::format("the paper would lie in more than {} faces", most_faces)};
    auto divided = with_creases(*form_, creases, &parent);
    if (!divided) throw NotMade{divided.error()};
    return std::move(divided).value();
  }

  void named(const StepLine& step, int index) {
    const Scene paper = scene();
    auto& lines = out_.made.lines;
    NamedFolding folding = fold_maker(step.kind)(paper, step, static_cast<int>(lines.size()));
    const int first = static_cast<int>(out_.made.folds.size());
    const FoldPaths paths(*form_);
    std::vector<NewCrease> creases;
    for (std::size_t k = 0; k < folding.lines.size(); ++k) {
      const FoldLine& line = folding.lines[k];
      const int record = first + static_cast<int>(k);
      for (const auto& [face, segment] : line.pieces) {
        creases.push_back({segment, static_cast<int>(lines.size())});
        lines.push_back({record, line.crease < 0 ? record : line.crease, paths.to(face)});
      }
    }
    std::vector<FaceId> parent;
    const PieceForm creased = creased_form(creases, parent);
    auto folded = refolded(creased, folding.then(creased, parent));
    if (!folded) throw NotMade{folded.error()};

    const Isometry back = form_->form.place[0].inverse();
    std::vector<FoldRecord> records;
    for (std::size_t k = 0; k < folding.lines.size(); ++k) {
      FoldLine& line = folding.lines[k];
      FoldRecord record = std::move(line.record);
      record.aligned = back * creased_extent(*form_, record.line, line.pieces);
      record.line = back * record.line;
      record.layers = layers_of(line.pieces);
      const std::string wanted = k == 0 ? step.name : std::string();
      if (line.crease < 0 || !wanted.empty())
        record.name = names_.name_crease(wanted, line.crease < 0 ? first + static_cast<int>(k) : line.crease);
      else
        record.name = names_.name_of_crease(line.crease);
      if (record.name.empty()) throw NotMade{fmt::format("{} is a name already; choose another", step.name), true};
      records.push_back(std::move(record));
    }
    form_ = std::make_shared<const PieceForm>(std::move(folded).value());
    StepState& state = add_state(step, index);
    state.moved = true;
    state.fold = records.empty() ? -1 : first;
    state.folds = static_cast<int>(records.size());
    for (FoldRecord& record : records) {
      state.layers = std::max(state.layers, record.layers);
      out_.made.folds.push_back(std::move(record));
    }
  }

  void cut(const StepLine& step, int index) {
    const Scene paper = scene();
    AlignedFold a = paper.aligned(step.alignment);
    const Line l = paper.folded_on(a, step.alignment);
    const SeenThing keep = paper.point(step.flap);
    if (std::abs(l.distance(keep.at)) < paper.near())
      throw NotMade{fmt::format("{} lies on the cut; name a point beside it", step.flap)};
    std::vector<FaceId> all;
    for (std::size_t f = 0; f < form_->graph.faces.size(); ++f) all.emplace_back(f);
    const auto pieces = creased_pieces(*form_, l, all);
    const int record = static_cast<int>(out_.made.folds.size());
    const FoldPaths paths(*form_);
    std::vector<NewCrease> creases;
    for (const auto& [face, segment] : pieces) {
      creases.push_back({segment, static_cast<int>(out_.made.lines.size())});
      out_.made.lines.push_back({record, record, paths.to(face)});
    }
    std::vector<FaceId> parent;
    auto made = cut_through(creased_form(creases, parent), l, l.distance(keep.at) > 0 ? 1 : -1, keep.on_sheet);
    if (!made) throw NotMade{made.error()};
    const Isometry back = form_->form.place[0].inverse();
    a.record.layers = layers_of(pieces);
    a.record.line = back * l;
    a.record.aligned = back * creased_extent(*form_, l, pieces);
    a.record.name = names_.name_crease(step.name, record);
    if (a.record.name.empty()) throw NotMade{fmt::format("{} is a name already; choose another", step.name), true};
    form_ = std::make_shared<const PieceForm>(std::move(made).value().kept);
    StepState& state = add_state(step, index);
    state.fold = record;
    state.folds = 1;
    state.layers = a.record.layers;
    out_.made.folds.push_back(std::move(a.record));
  }

  /// Two folds on old creases that are told and counted as one move.
  void to_and_fro(const StepLine& step) {
    const std::size_t states = out_.made.states.size();
    const std::size_t steps = out_.made.steps.size();
    Before then = before();
    try {
      fold_to_and_fro(step);
    } catch (const NotMade&) {
      back_to(std::move(then));
      throw;
    }
    StepState both = out_.made.states.back();
    const StepState& one = out_.made.states[states];
    both.step = static_cast<int>(steps);
    both.folds += one.folds;
    both.fold = one.fold;
    both.layers = std::max(both.layers, one.layers);
    out_.made.states.resize(states);
    out_.made.states.push_back(std::move(both));
    out_.made.steps.resize(steps);
    out_.made.steps.push_back(step);
  }

  void fold_to_and_fro(const StepLine& step) {
    for (const bool first : {true, false}) {
      StepLine fold;
      fold.number = step.number;
      fold.alignment.form = StepAlignment::Form::along;
      fold.alignment.along = step.names[first ? 0 : 1];
      if (step.kind == StepVerb::crimp) {
        fold.kind = StepVerb::reverse;
        fold.flap = step.flap;
        fold.outside = step.outside;
      } else {
        fold.kind = StepVerb::valley;
        (first ? fold.moving : fold.flap) = step.moving;
      }
      make(fold);
    }
  }

  /// Everything that moves change, to go back to when they cannot be made.
  struct Before {
    FoldSequence made;
    std::shared_ptr<const PieceForm> form;
    StepNames::Kept names;
  };
  [[nodiscard]] Before before() const { return {out_.made, form_, names_.kept()}; }
  void back_to(Before then) {
    out_.made = std::move(then.made);
    form_ = std::move(then.form);
    names_.restore(std::move(then.names));
  }

  void repeat(const StepLine& step) {
    std::vector<StepLine> moves;
    for (const StepLine& line : out_.made.file.lines) {
      if (line.number < step.repeat.first || line.number > step.repeat.last) continue;
      if (line.kind == StepVerb::repeat) throw NotMade{"a repeat cannot be repeated; name the moves themselves", true};
      moves.push_back(line);
    }
    if (moves.empty()) throw NotMade{"there are no moves on these lines", true};
    const std::string first = first_name(moves);
    const auto from = sheet_point(out_.made, first);
    std::vector<std::string> places = step.repeat.places;
    if (places.empty()) places.emplace_back();
    for (const std::string& place : places) {
      std::optional<Point> to;
      if (!place.empty()) {
        to = sheet_point(out_.made, place);
        if (!to)
          throw NotMade{names_.known(place) ? fmt::format("{} is a crease; name a corner, an edge or a point", place)
                                            : names_.unknown(place),
                        true};
        if (!from)
          throw NotMade{"what is repeated begins with a crease; name where it goes by mirrored or behind", true};
      }
      repeat_once(step, moves, from, to, place);
    }
  }

  void repeat_once(const StepLine& step, const std::vector<StepLine>& moves, const std::optional<Point>& from,
                   const std::optional<Point>& to, const std::string& place) {
    const bool behind = step.repeat.way == CarryWay::behind;
    std::optional<NotMade> why;
    auto ways = symmetries_of(out_.made.file.sheet.outline());
    if (behind) std::rotate(ways.begin(), ways.begin() + 1, ways.end()); // the same names again come last
    for (const Isometry& by : ways) {
      const bool mirror = by.linear.determinant() < 0;
      if (step.repeat.way == CarryWay::mirrored && !mirror) continue;
      if (to && (by * *from - *to).norm() > 1e-6 * size_) continue;
      Before then = before();
      try {
        if (behind) turn_over(step);
        carry(moves, by, step.number);
        if (behind) turn_over(step);
        return;
      } catch (const NotMade& reason) {
        back_to(std::move(then));
        if (!why) why = reason;
      }
    }
    if (why) throw NotMade{fmt::format("it cannot be repeated there: {}", why->reason), why->unknown_name};
    throw NotMade{place.empty() ? std::string("the sheet has no such symmetry")
                                : fmt::format("no turn or mirror of the sheet brings it to {}", place)};
  }

  void turn_over(const StepLine& step) {
    StepLine over;
    over.number = step.number;
    over.kind = StepVerb::over;
    make(over);
  }

  void carry(const std::vector<StepLine>& moves, const Isometry& by, int number) {
    std::map<std::string, std::string> made;
    for (const StepLine& move : moves) {
      auto carried = CarriedNames(out_.made, *form_, by, made).carried(move);
      if (!carried) throw NotMade{carried.error()};
      StepLine line = std::move(carried).value();
      line.number = number;
      line.name.clear();
      if (move.kind == StepVerb::cross) line.name = names_.free_name(move.name);
      const std::size_t folds = out_.made.folds.size();
      make(line);
      if (!move.name.empty() && move.kind == StepVerb::cross) made[move.name] = line.name;
      if (!move.name.empty() && out_.made.folds.size() > folds) made[move.name] = out_.made.folds[folds].name;
    }
  }

  /// The most of these pieces that lie on each other.
  [[nodiscard]] int layers_of(const std::vector<std::pair<FaceId, Segment>>& pieces) const {
    const auto lies = [&](const auto& piece) { return form_->form.place[at(piece.first)] * piece.second; };
    int most = 1;
    for (const auto& one : pieces) {
      const Point middle = lies(one).middle();
      most = std::max(most, static_cast<int>(std::count_if(pieces.begin(), pieces.end(), [&](const auto& other) {
                        const Segment s = lies(other);
                        return (s.from - middle).norm() + (s.to - middle).norm() < s.length() + 1e-6;
                      })));
    }
    return most;
  }

  void fold(const StepLine& step, int index) {
    const Scene paper = scene();
    AlignedFold a = paper.aligned(step.alignment);
    const Line l = paper.folded_on(a, step.alignment);
    SimpleFold fold;
    fold.line = l;
    fold.side = paper.side_of(a, step, l);
    const bool valley = step.kind != StepVerb::mountain;
    fold.on_top = valley != out_.made.states.back().underside_up;
    if (step.layers > 0) {
      fold.layers = {FoldLayers::Kind::top, step.layers, Point::Zero()};
    } else if (!step.flap.empty()) {
      fold.layers = {FoldLayers::Kind::flap, 0, paper.point(step.flap).on_sheet};
    }
    const auto faces = moving_faces(*form_, fold);
    if (!faces) throw NotMade{faces.error()};

    const auto pieces = creased_pieces(*form_, l, *faces);
    if (pieces.empty()) throw NotMade{"the crease would miss the paper that should move"};
    const int record = static_cast<int>(out_.made.folds.size());
    const int crease = a.record.along ? names_.crease_named(step.alignment.along).value_or(record) : record;
    const std::size_t lines_before = out_.made.lines.size();
    const FoldPaths paths(*form_);
    std::vector<NewCrease> creases;
    for (const auto& [face, segment] : pieces) {
      creases.push_back({segment, static_cast<int>(out_.made.lines.size())});
      out_.made.lines.push_back({record, crease, paths.to(face)});
    }
    std::vector<FaceId> parent;
    PieceForm creased = creased_form(creases, parent);
    std::vector<char> moving;
    moving.reserve(parent.size());
    for (const FaceId p : parent)
      moving.push_back(static_cast<char>(std::binary_search(faces->begin(), faces->end(), p)));
    auto folded = folded_over(creased, fold, moving);
    if (!folded) throw NotMade{folded.error()};

    a.record.layers = layers_creased(*form_, fold, *faces);
    const Isometry back = form_->form.place[0].inverse();
    a.record.line = back * l;
    a.record.aligned = back * creased_extent(*form_, l, pieces);
    const bool new_crease = !a.record.along;
    a.record.name = new_crease ? names_.name_crease(step.name, crease) : step.alignment.along;
    if (a.record.name.empty()) throw NotMade{fmt::format("{} is a name already; choose another", step.name), true};
    if (!new_crease && !step.name.empty() && names_.name_crease(step.name, crease).empty())
      throw NotMade{fmt::format("{} is a name already; choose another", step.name), true};

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
    state.folds = 1;
    state.layers = a.record.layers;
    state.moved = step.kind == StepVerb::valley || step.kind == StepVerb::mountain;
    out_.made.folds.push_back(std::move(a.record));
  }

  /// Short creases where the line meets what it is pinched at, or at both ends.
  void pinch(PieceForm& form, const StepLine& step, const Line& l,
             const std::vector<std::pair<FaceId, Segment>>& pieces, std::size_t first_line) {
    const Segment whole = creased_extent(*form_, l, pieces);
    const Scene paper = scene();
    const double length = std::min(pinch_mm, whole.length() / 3);
    std::vector<Point> places{whole.from, whole.to};
    if (!step.at.empty()) {
      const SeenThing where = paper.line(step.at);
      const auto meeting = l.crossing(where.line);
      if (!meeting || !paper.lands_on(*meeting, where))
        throw NotMade{fmt::format("the crease does not meet {}", step.at)};
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
        if (to - from < paper.near()) continue;
        const Segment mark{segment.from + from * d, segment.from + to * d};
        form.marks.push_back(mark);
        names_.add_pinch(static_cast<int>(first_line + i), mark);
        any = true;
      }
    }
    if (!any) throw NotMade{"there is no paper to pinch at this place"};
  }

  void cross(const StepLine& step) {
    const Scene paper = scene();
    const SeenThing a = paper.line(step.names[0], true);
    const SeenThing b = paper.line(step.names[1], true);
    const auto meeting = names_.crossing(a, b, *form_, out_.made.states.back().underside_up);
    if (!meeting) throw NotMade{fmt::format("{} and {} {}", step.names[0], step.names[1], meeting.error())};
    if (!names_.name_point(step.name, *meeting))
      throw NotMade{fmt::format("{} is a name already; choose another", step.name), true};
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
        throw NotMade{names_.known(name) ? fmt::format("{} is not a crease", name) : names_.unknown(name), true};
      if (!folded_edges(*crease)) throw NotMade{fmt::format("{} is not folded now", name)};
    }
    if (step.names.empty() && !folded_edges(-1)) throw NotMade{"nothing is folded now"};
    auto open = opened(*form_, edges);
    if (!open) throw NotMade{open.error()};
    form_ = std::make_shared<const PieceForm>(std::move(open).value());
    add_state(step, index).moved = true;
  }

  /// The faces that the crease joins to the larger part of the paper.
  [[nodiscard]] std::vector<char> flap_of(const std::string& name) const {
    const auto crease = names_.crease_named(name);
    if (!crease)
      throw NotMade{names_.known(name) ? fmt::format("{} is not a crease", name) : names_.unknown(name), true};
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
    if (!folded) throw NotMade{fmt::format("{} is not folded now", name)};
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
    if (!form) throw NotMade{form.error()};
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

Isometry seen_by_folder(const StepState& state) {
  Isometry view = Isometry::rotation_about(Point::Zero(), state.turned_deg * std::numbers::pi / 180);
  if (state.underside_up) view = Isometry::reflection_in(Line::with_normal({1, 0}, 0)) * view;
  return view;
}

std::string StepRefusal::sentence() const { return fmt::format("line {}: {}.", line, reason); }

FoldedSequence fold_sequence(StepsFile file) { return Folder(std::move(file)).take(); }

} // namespace uc
