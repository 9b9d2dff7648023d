#include "programme/text.h"

#include "programme/crease_choice.h"
#include "programme/folding.h"
#include "programme/naming.h"
#include "programme/space_figure.h"
#include "programme/told.h"
#include "programme/unit_figure.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

/// Whether a move before this one refers to the element.
bool mentioned(const Told& t, ElementId id) {
  const auto it = t.index.mentioned.find(id);
  return it != t.index.mentioned.end() && it->second < t.here;
}

/// An element as this move names it. A mark says at its first use where it is.
std::string named(const Told& t, ElementId id) {
  const Element* e = t.find(id);
  if (!e) return "?";
  if (e->role == Role::crease && e->label.empty() && only_pinched(t, id)) {
    return pinch_name(*e, t.style, t.state());
  }
  if (e->role == Role::point && e->made_of.size() == 2 && !mentioned(t, id)) {
    const Element* first = t.find(e->made_of[0]);
    const Element* second = t.find(e->made_of[1]);
    if (first && first->role == Role::raw_edge) std::swap(first, second);
    if (first && second) {
      t.tell(*e);
      return say(t.style, "mark {label}, where {first} crosses {second},",
                 {{"label", name_in_text(t.style, e->label)}, {"first", t.name(*first)}, {"second", t.name(*second)}});
    }
  }
  return t.name(*e);
}

std::string names(const Told& t, const std::vector<ElementId>& ids) {
  return ids.empty() ? "?" : named(t, ids.front());
}

/// "mark A, where ..., ." reads badly: the comma that closes the aside goes where the sentence ends.
std::string tidied(std::string sentence) {
  for (const char* end : {",.", ", ."}) {
    if (const auto at = sentence.rfind(end); at != std::string::npos)
      sentence.replace(at, std::string(end).size(), ".");
  }
  return sentence;
}

/// "Mark along the bottom edge, measured from the lower left corner: A at 12 mm, B at 24 mm."
std::string ruler_sentence(const Told& t) {
  const Element* edge = t.move().aligned.onto.empty() ? nullptr : t.find(t.move().aligned.onto.front());
  const Element* corner = t.move().aligned.through.empty() ? nullptr : t.find(t.move().aligned.through.front());
  if (!edge || !corner || corner->spans.empty()) return say(t.style, "Mark it with a ruler.");
  std::string list;
  for (const ElementId id : t.move().aligned.moving) {
    const Element* mark = t.find(id);
    if (!mark || mark->spans.empty()) continue;
    t.tell(*mark);
    const double mm = (mark->spans.front().from - corner->spans.front().from).norm();
    list += (list.empty() ? "" : ", ") + say(t.style, "{label} at {distance}",
                                             {{"label", name_in_text(t.style, mark->label)},
                                              {"distance", format_length(Millimetres{mm}, t.style.unit)}});
  }
  return say(t.style, "Mark along {edge} with a ruler, from {corner}: {list}.",
             {{"edge", t.name(*edge)}, {"corner", t.name(*corner)}, {"list", list}});
}

/// How the crease of a move runs as the folder sees it, where the alignment alone leaves a choice.
std::string choice_sentence(const Told& t) {
  const auto& others = t.move().aligned.others;
  if (others.empty() || t.made_by().spans.empty() || t.made_by().spans.front().length() < 1e-9) return {};
  const CreaseChoice choice = crease_choice(t.made_by().spans.front(), others, t.state());
  static constexpr const char* phrases[] = {"The crease runs level.", "The crease runs upright.",
                                            "The crease rises to the right.", "The crease falls to the right."};
  static constexpr const char* stands[] = {"",
                                           "Of the creases that fit, take the steepest.",
                                           "Of the creases that fit, take the flattest.",
                                           "Of the creases that fit, take the one farthest to the left.",
                                           "Of the creases that fit, take the one farthest to the right.",
                                           "Of the creases that fit, take the highest.",
                                           "Of the creases that fit, take the lowest.",
                                           "Take the one drawn."};
  std::string out = say(t.style, phrases[static_cast<int>(choice.course)]);
  if (choice.stand != Stand::alone) out += " " + say(t.style, stands[static_cast<int>(choice.stand)]);
  return out + " ";
}

/// "Bring P to l and at the same time Q to m, so that the crease goes through R."
std::string alignment_sentence(const Told& t) {
  std::vector<std::string> pairs;
  for (std::size_t i = 0; i < std::min(t.move().aligned.moving.size(), t.move().aligned.onto.size()); ++i) {
    const std::string moving = named(t, t.move().aligned.moving[i]);
    const bool itself = t.move().aligned.moving[i] == t.move().aligned.onto[i];
    pairs.push_back(itself ? say(t.style, "{moving} onto itself", {{"moving", moving}})
                           : say(t.style, "{moving} to {target}",
                                 {{"moving", moving}, {"target", named(t, t.move().aligned.onto[i])}}));
  }
  if (pairs.empty()) return {};
  if (!t.move().aligned.through.empty()) {
    return say(t.style, "Bring {pair} so that the crease goes through {point}.",
               {{"pair", pairs[0]}, {"point", named(t, t.move().aligned.through[0])}});
  }
  if (pairs.size() == 1) return say(t.style, "Bring {pair}.", {{"pair", pairs[0]}});
  return say(t.style, "Bring {pair} and at the same time {other}.", {{"pair", pairs[0]}, {"other", pairs[1]}});
}

/// A crease that stops short says from where to where, as far as the places have names.
std::string partial_sentence(const Told& t) {
  std::vector<const Element*> known;
  for (const ElementId id : t.made_by().ends) {
    const Element* e = t.find(id);
    if (!e) break;
    known.push_back(e);
  }
  // Only the ends that are told are named.
  const bool all = known.size() == 4 && t.made_by().spans.size() == 2;
  std::vector<std::string> ends;
  for (std::size_t i = 0; i < known.size() && known.size() >= 2 && (all || i < 2); ++i)
    ends.push_back(t.name(*known[i]));
  const std::string pieces = std::to_string(t.made_by().spans.size());
  if (ends.size() >= 2 && t.made_by().spans.size() == 1)
    return say(t.style, "Crease from {from} to {to} only.", {{"from", ends[0]}, {"to", ends[1]}});
  if (ends.size() == 4 && t.made_by().spans.size() == 2)
    return say(t.style, "Crease from {from} to {to} and from {again} to {end} only.",
               {{"from", ends[0]}, {"to", ends[1]}, {"again", ends[2]}, {"end", ends[3]}});
  if (ends.size() >= 2)
    return say(t.style, "Crease only the {pieces} pieces drawn, the first from {from} to {to}.",
               {{"pieces", pieces}, {"from", ends[0]}, {"to", ends[1]}});
  if (t.made_by().spans.size() > 1) return say(t.style, "Crease only the {pieces} pieces drawn.", {{"pieces", pieces}});
  return say(t.style, "Crease only where drawn.");
}

/// Whether every span touches a raw edge.
bool ends_at_edges(const Told& t) {
  const Polygon outline = outline_before(t.programme, t.here);
  const auto at_edge = [&](const Point& point) {
    for (std::size_t i = 0; i < outline.size(); ++i) {
      if (std::abs(Line::through(outline[i], outline[(i + 1) % outline.size()]).distance(point)) < 1e-3) return true;
    }
    return false;
  };
  return std::all_of(t.made_by().spans.begin(), t.made_by().spans.end(),
                     [&](const Segment& s) { return at_edge(s.from) || at_edge(s.to); });
}

/// How much of its line a crease leaves out at both ends, where that is the same.
std::optional<double> left_at_ends(const Told& t) {
  const auto& spans = t.made_by().spans;
  if (spans.size() != 1 || spans[0].length() < 1e-9) return std::nullopt;
  const auto whole = clip(Line::through(spans[0].from, spans[0].to), outline_before(t.programme, t.here), 1e-7);
  if (whole.size() != 1) return std::nullopt;
  const double before = (spans[0].from - whole[0].from).norm();
  const double after = (whole[0].to - spans[0].to).norm();
  return std::abs(before - after) < 1e-6 ? std::optional(before) : std::nullopt;
}

std::string extent_sentence(const Told& t) {
  const Element* made = t.made();
  switch (t.made_by().extent) {
  case Extent::pinch:
    if (const auto guide = guide_of(t.move()); guide && !ends_at_edges(t))
      return say(t.style, "Pinch only where it crosses {guide}.", {{"guide", named(t, *guide)}});
    if ((made && !made->label.empty()) || !ends_at_edges(t)) return say(t.style, "Pinch where drawn.");
    return say(t.style, "Pinch at the raw edges only.");
  case Extent::to_diagonals:
    return say(t.style, "Crease from diagonal to diagonal only.");
  case Extent::inset:
    if (const auto free = left_at_ends(t))
      return say(t.style, "Crease, but leave the last {distance} at both ends free.",
                 {{"distance", format_length(Millimetres{*free}, t.style.unit)}});
    return say(t.style, "Crease only where drawn.");
  case Extent::partial:
    return say(t.style, "Crease only where the drawing shows it; keep the marked areas clean.");
  case Extent::between:
    return partial_sentence(t);
  case Extent::full:
    break;
  }
  return say(t.style, "Crease from edge to edge.");
}

/// Whether the paper is folded and lies open afterwards; the way `through` says so itself, in between.
bool opens_again(const Move& move, const Element* made) {
  const auto* crease = std::get_if<MakeCreases>(&move.effect);
  if (!crease) return false;
  switch (crease->way) {
  case CreaseWay::guess:
    return crease->extent != Extent::pinch && !(made && made->by_direction);
  case CreaseWay::through:
  case CreaseWay::score:
  case CreaseWay::mark:
    return false;
  case CreaseWay::align:
  case CreaseWay::between:
  case CreaseWay::crease_on:
  case CreaseWay::both_ways:
    break;
  }
  return true;
}

/// "Mark 3/8 with a ruler or from the printed template, 90 mm from the left edge."
std::string mark_sentence(const Told& t, const std::string& at) {
  if (!t.move().aligned.moving.empty()) return ruler_sentence(t);
  const Element* made = t.made();
  const Element* edge = nullptr;
  for (const Element& e : t.programme.elements) {
    if (made && e.family == made->family && e.label.empty() && e.index == 0 && e.role != Role::crease) edge = &e;
  }
  if (!edge || edge->spans.empty() || t.made_by().spans.empty()) return say(t.style, "Mark it with a ruler.");
  const Segment low = edge->spans.front();
  const Point from = t.made_by().spans.front().from;
  const double mm =
      low.length() < 1e-9 ? (from - low.from).norm() : std::abs(Line::through(low.from, low.to).distance(from));
  return say(t.style, "Mark {fraction} with a ruler or from the printed template, {distance} from {edge}.",
             {{"fraction", at}, {"distance", format_length(Millimetres{mm}, t.style.unit)}, {"edge", t.name(*edge)}});
}

/// A crease inside the paper comes to lie under the flap; only what ends the flap is seen where it lands.
std::string landing_sentence(const Told& t) {
  const Aligned& aligned = t.move().aligned;
  const Element* lands = aligned.moving.empty() ? nullptr : t.find(aligned.moving.front());
  const std::string axis = names(t, aligned.onto);
  const std::string moving = names(t, aligned.moving);
  if (lands && lands->role == Role::crease)
    return say(t.style, "Fold on {axis} and press {moving} through both layers, so that it marks the layer below.",
               {{"axis", axis}, {"moving", moving}}) +
           " " + say(t.style, "Unfold and crease along that mark.");
  const std::string mark =
      say(t.style, "Fold on {axis} and mark where {moving} lands.", {{"axis", axis}, {"moving", moving}});
  if (const auto guide = guide_of(t.move()))
    return mark + " " +
           say(t.style, "Unfold and crease through the mark while {guide} lies on itself.",
               {{"guide", named(t, *guide)}});
  return mark + " " + say(t.style, "Unfold and crease through the mark.");
}

std::string crease_sentence(const Told& t) {
  const Aligned& aligned = t.move().aligned;
  const Element* made = t.made();
  const std::string at = made && made->role == Role::crease && made->label.empty() ? fraction_name(*made) : "";
  switch (t.made_by().way) {
  case CreaseWay::align:
    return tidied(alignment_sentence(t)) + " " + choice_sentence(t) + extent_sentence(t);
  case CreaseWay::through:
    return landing_sentence(t) + " " + extent_sentence(t);
  case CreaseWay::between:
    if (aligned.through.size() < 2) return say(t.style, "Crease through the two points.");
    return tidied(say(t.style, "Crease through {first} and {second}.",
                      {{"first", named(t, aligned.through[0])}, {"second", named(t, aligned.through[1])}})) +
           " " + extent_sentence(t);
  case CreaseWay::guess:
    if (const auto guide = guide_of(t.move())) {
      const std::string line = named(t, *guide);
      if (t.made_by().extent == Extent::pinch)
        return say(t.style, "Pinch lightly by eye across {guide}, at {fraction}.", {{"guide", line}, {"fraction", at}});
      return say(t.style, "Fold by eye at {fraction} while {guide} lies on itself.",
                 {{"fraction", at}, {"guide", line}}) +
             " " + extent_sentence(t);
    }
    if (made && made->by_direction)
      return say(t.style, "Pinch lightly by eye for {crease}.", {{"crease", t.name(*made)}});
    if (t.made_by().extent == Extent::pinch)
      return say(t.style, "Pinch lightly by eye at {fraction}.", {{"fraction", at}});
    return say(t.style, "Fold by eye at {fraction}.", {{"fraction", at}}) + " " + extent_sentence(t);
  case CreaseWay::mark:
    return mark_sentence(t, at);
  case CreaseWay::score:
    if (aligned.through.size() < 2) return say(t.style, "Score the line with a ruler and a blunt point.");
    return say(t.style, "Lay the ruler on {first} and {second}. Score along it with a blunt point.",
               {{"first", named(t, aligned.through[0])}, {"second", named(t, aligned.through[1])}}) +
           " " + extent_sentence(t);
  case CreaseWay::crease_on:
    return say(t.style, "Fold on {crease} again.", {{"crease", names(t, aligned.onto)}}) + " " + partial_sentence(t);
  case CreaseWay::both_ways:
    if (made && (made->by_direction || !made->label.empty())) {
      const std::string crease = t.name(*made);
      if (t.made_by().extent == Extent::full)
        return say(t.style, "Fold {crease} the other way along its whole length.", {{"crease", crease}});
      return say(t.style, "Fold {crease} the other way.", {{"crease", crease}}) + " " + partial_sentence(t);
    }
    return say(t.style, "Fold the crease at {fraction} the other way too.", {{"fraction", at}});
  }
  return {};
}

/// "This is crease 3.", where a later move calls it so.
std::string naming_sentence(const Told& t) {
  const Element* made = t.made();
  if (!made || made->role != Role::crease || made->label.empty()) return {};
  if (t.move().is(CreaseWay::both_ways) || t.move().is(CreaseWay::crease_on)) return {};
  const auto last = t.index.last_mentioned.find(made->id);
  if (last == t.index.last_mentioned.end() || last->second <= t.here) return {};
  return " " + say(t.style, "This is {crease}.", {{"crease", t.name(*made)}});
}

std::string handle_sentence(const Told& t, const Handle& how) {
  if (how.way == HandleWay::turn_over) return say(t.style, "Turn the sheet over, left to right.");
  const double turn = std::abs(how.degrees);
  if (std::abs(turn - 180) < 1e-9) return say(t.style, "Rotate the sheet by a half turn.");
  const std::string degrees = format_number(turn, 1);
  return how.degrees > 0 ? say(t.style, "Rotate the sheet {degrees}° to the left.", {{"degrees", degrees}})
                         : say(t.style, "Rotate the sheet {degrees}° to the right.", {{"degrees", degrees}});
}

std::string clip_sentence(const Told& t, const Work& work) {
  const bool on = work.way == WorkWay::clip;
  if (!work.place_mm) return say(t.style, on ? "Hold it with clips." : "Take the clips off.");
  const auto length = [&](double mm) { return format_length(Millimetres{mm}, t.style.unit); };
  return say(t.style,
             on ? "Put a clip on what lies {left} from the left and {bottom} from the bottom of the flat sheet."
                : "Take the clip off what lies {left} from the left and {bottom} from the bottom of the flat sheet.",
             {{"left", length((*work.place_mm)[0])}, {"bottom", length((*work.place_mm)[1])}});
}

std::string push_sentence(const Told& t, const Work& work) {
  const auto length = [&](double mm) { return format_length(Millimetres{mm}, t.style.unit); };
  const auto place = work.place_mm.value_or(std::array<double, 2>{});
  return say(t.style,
             "Hold the middle and the corner across, and push the corner over to the other side that lay {left} from "
             "the left and {bottom} from the bottom of the flat sheet. Then let go.",
             {{"left", length(place[0])}, {"bottom", length(place[1])}});
}

std::string form_sentence(const Told& t, const Work& work) {
  if (!work.place_mm) return say(t.style, "Form what is creased so far, press it flat and open it again.");
  // Counted on the sheet as it lies.
  const Isometry view = view_of(t.state(), bounding_box(t.programme.sheet).centre());
  Polygon lying;
  for (const Point& p : t.programme.sheet) lying.push_back(view * p);
  const Point place = view * Point((*work.place_mm)[0], (*work.place_mm)[1]) - bounding_box(lying).low;
  const auto length = [&](double mm) { return format_length(Millimetres{mm}, t.style.unit); };
  return say(
      t.style,
      "Form the twist {left} from the left and {bottom} from the bottom: pinch its pleats, turn its middle until "
      "all lies flat and press. Open it again as far as the next creases need.",
      {{"left", length(place.x())}, {"bottom", length(place.y())}});
}

std::string work_sentence(const Told& t, const Work& work) {
  switch (work.way) {
  case WorkWay::wait:
    return say(t.style, "Wait {minutes} minutes.", {{"minutes", format_number(work.minutes, 1)}});
  case WorkWay::damp:
    return say(t.style, "Damp the paper lightly.");
  case WorkWay::clip:
  case WorkWay::unclip:
    return clip_sentence(t, work);
  case WorkWay::form:
    return form_sentence(t, work);
  case WorkWay::push:
    return push_sentence(t, work);
  case WorkWay::let_go:
    return say(t.style, "Let go of it: it springs back a little and sags until it rests as drawn.");
  case WorkWay::glue:
    return say(t.style, "Glue the tab.");
  case WorkWay::curl:
    return say(t.style, "Curl the edge.");
  case WorkWay::check:
    break;
  }
  const Element* wanted = t.move().aligned.moving.empty() ? nullptr : t.find(t.move().aligned.moving.front());
  if (!wanted) return say(t.style, "Check the work so far.");
  return tidied(say(t.style, "The reference is {wanted}.", {{"wanted", named(t, wanted->id)}}));
}

/// "Lay the ruler on mark A and mark B and cut along it, then on mark C and mark D. Keep the piece drawn."
std::string cut_sentence(const Told& t, const Cut& cut) {
  const auto& ends = t.move().aligned.through;
  if (ends.size() < 2) return say(t.style, keeps_outline(cut) ? "Cut along the outline." : "Cut along the lines.");
  std::string out = say(t.style, "Lay the ruler on {first} and {second} and cut along it",
                        {{"first", named(t, ends[0])}, {"second", named(t, ends[1])}});
  for (std::size_t i = 3; i < ends.size(); i += 2)
    out += say(t.style, ", then on {first} and {second}",
               {{"first", named(t, ends[i - 1])}, {"second", named(t, ends[i])}});
  return out + ". " + say(t.style, "Keep the piece drawn.");
}

std::string instruction(const Told& t) {
  return by_effect(
      t.move(), [&](const MakeCreases&) { return crease_sentence(t) + naming_sentence(t); },
      [&](const Refold& e) {
        return say(t.style, e.way == RefoldWay::fold   ? "Fold the paper and leave it folded."
                            : e.way == RefoldWay::tuck ? "Tuck the flap in."
                                                       : "Unfold.");
      },
      [&](const Collapse& e) { return collapse_text(t.programme, e, t.style); },
      [&](const FoldUnit& e) { return fold_unit_text(t.programme, e, t.style); },
      [&](const Join& e) { return join_text(t.programme, e, t.style); },
      [&](const Handle& how) { return handle_sentence(t, how); }, [&](const Cut& e) { return cut_sentence(t, e); },
      [&](const Work& work) { return work_sentence(t, work); });
}

} // namespace

ProgrammeTeller::ProgrammeTeller(const Programme& programme, TextStyle style)
    : programme_(programme), style_(std::move(style)) {
  for (std::size_t i = 0; i < programme.elements.size(); ++i) index_.elements.try_emplace(programme.elements[i].id, i);
  SheetState state;
  index_.lies.reserve(programme.moves.size());
  for (std::size_t i = 0; i < programme.moves.size(); ++i) {
    const Move& m = programme.moves[i];
    index_.lies.emplace_back(state.underside_up, state.turned_deg);
    if (const auto* how = std::get_if<Handle>(&m.effect)) handle(state, *how);
    if (const auto& made = m.creases().makes) index_.makings[*made].push_back(i);
    for (const auto* ids : {&m.aligned.moving, &m.aligned.onto, &m.aligned.through}) {
      for (const ElementId id : *ids) {
        const bool first = index_.mentioned.try_emplace(id, i).second;
        index_.last_mentioned[id] = i;
        const auto at = index_.elements.find(id);
        if (!first || at == index_.elements.end()) continue;
        for (const ElementId of : programme.elements[at->second].made_of) index_.last_mentioned[of] = i;
      }
    }
    for (const ElementId id : m.creases().ends) index_.last_mentioned[id] = i;
  }
}

std::string ProgrammeTeller::text(std::size_t move) const {
  if (programme_.folding) return programme_.folding->text(move, style_);
  const Told t{programme_, index_, style_, move};
  std::string text = instruction(t);
  if (opens_again(t.move(), t.made())) text += " " + say(style_, "Unfold.");
  if (t.made_by().replaces) text += " " + say(style_, "It replaces the earlier mark.");
  return text;
}

std::vector<ElementId> ProgrammeTeller::named(std::size_t move) const {
  std::vector<ElementId> out;
  if (!programme_.folding) (void)instruction({programme_, index_, style_, move, &out});
  return out;
}

std::string ProgrammeTeller::check(std::size_t move) const {
  if (programme_.folding) return programme_.folding->check(move, style_);
  return check_of({programme_, index_, style_, move});
}

std::string ProgrammeTeller::short_text(std::size_t move) const {
  if (programme_.folding) return programme_.folding->short_text(move, style_);
  const Told t{programme_, index_, style_, move};
  if (t.move().is(HandleWay::turn_over)) return say(style_, "turn over");
  if (t.move().is(HandleWay::rotate)) return say(style_, "rotate");
  if (t.move().is<Cut>()) return say(style_, "cut");
  if (const auto* c = std::get_if<Collapse>(&t.move().effect); c && c->stages > 1)
    return say(style_, "close {stage}/{stages}",
               {{"stage", std::to_string(c->stage)}, {"stages", std::to_string(c->stages)}});
  if (const auto* fold = std::get_if<FoldUnit>(&t.move().effect))
    return say(style_, "fold {number}", {{"number", std::to_string(fold->unit + 1)}});
  if (const auto* join = std::get_if<Join>(&t.move().effect))
    return say(style_, "join {number}", {{"number", std::to_string(join->unit + 1)}});
  if (const Element* made = t.made()) {
    if (!made->label.empty()) return element_name(*made, style_);
    const std::string at = fraction_name(*made);
    return t.move().is(CreaseWay::guess) ? say(style_, "guess {fraction}", {{"fraction", at}}) : at;
  }
  if (t.move().is(WorkWay::check) && !t.move().aligned.moving.empty()) {
    if (const Element* wanted = t.find(t.move().aligned.moving.front())) return element_name(*wanted, style_);
  }
  return style_.translate(kind_name(t.move()).c_str());
}

std::string move_text(const Programme& programme, std::size_t move, const TextStyle& style) {
  return ProgrammeTeller(programme, style).text(move);
}

std::string caution_text(Caution caution, const TextStyle& style) {
  switch (caution) {
  case Caution::blade:
    return say(
        style,
        "Cut on a mat along a metal ruler, away from your fingers; follow the maker's instructions for the blade.");
  case Caution::glue:
    return say(style, "Air the room; follow the maker's instructions for the glue.");
  case Caution::damp:
    return say(style, "Test a scrap first; damp paper tears and may stain.");
  case Caution::heat:
    return say(style, "Keep paper away from heat; follow the maker's instructions.");
  case Caution::small_parts:
    return say(style, "Keep small parts away from small children.");
  case Caution::none:
    break;
  }
  return {};
}

} // namespace uc
