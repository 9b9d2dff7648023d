#include "programme/text.h"

#include "programme/folding.h"

#include <fmt/args.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <numeric>
#include <optional>
#include <span>
#include <tuple>

namespace uc {

std::string say(const TextStyle& style, const char* phrase,
                std::initializer_list<std::pair<const char*, std::string>> values) {
  fmt::dynamic_format_arg_store<fmt::format_context> store;
  for (const auto& [name, value] : values) store.push_back(fmt::arg(name, value));
  return fmt::vformat(style.translate(phrase), store);
}

namespace {

std::string fraction(int index, int parts) {
  const int divisor = std::gcd(index, parts);
  return fmt::format("{}/{}", index / divisor, parts / divisor);
}

/// The name of a place of the bare sheet as it is seen when the sheet lies otherwise.
std::string seen_place(const std::string& place, const SheetState& state) {
  static constexpr std::array names = {"right", "upper-right", "top",    "upper-left",
                                       "left",  "lower-left",  "bottom", "lower-right"};
  const auto it = std::find(names.begin(), names.end(), place);
  if (it == names.end()) return place;
  const double angle = static_cast<double>(it - names.begin()) * std::numbers::pi / 4;
  const Point seen = view_of(state, Point::Zero()) * Point{std::cos(angle), std::sin(angle)};
  const long eighths = std::lround(std::atan2(seen.y(), seen.x()) / (std::numbers::pi / 4));
  return names.at(static_cast<std::size_t>((eighths + 8) % 8));
}

const char* place_phrase(Role role, const std::string& place) {
  static constexpr std::pair<const char*, const char*> edges[] = {{"left", "the left edge"},
                                                                  {"right", "the right edge"},
                                                                  {"bottom", "the bottom edge"},
                                                                  {"top", "the top edge"},
                                                                  {"lower-left", "the lower left edge"},
                                                                  {"lower-right", "the lower right edge"},
                                                                  {"upper-left", "the upper left edge"},
                                                                  {"upper-right", "the upper right edge"}};
  static constexpr std::pair<const char*, const char*> corners[] = {{"left", "the left corner"},
                                                                    {"right", "the right corner"},
                                                                    {"bottom", "the bottom corner"},
                                                                    {"top", "the top corner"},
                                                                    {"lower-left", "the lower left corner"},
                                                                    {"lower-right", "the lower right corner"},
                                                                    {"upper-left", "the upper left corner"},
                                                                    {"upper-right", "the upper right corner"}};
  for (const auto& [name, phrase] : role == Role::corner ? corners : edges) {
    if (name == place) return phrase;
  }
  return role == Role::corner ? "the corner" : "the edge";
}

enum class Course { level, upright, rising, falling };
/// How a crease runs as the folder sees it.
Course course_of(const std::vector<Segment>& spans, const SheetState& state) {
  if (spans.empty()) return Course::level;
  const Segment* longest = &spans.front();
  for (const Segment& s : spans) {
    if (s.length() > longest->length()) longest = &s;
  }
  const Point d = view_of(state, Point::Zero()).linear * (longest->to - longest->from);
  double degrees = std::atan2(d.y(), d.x()) * 180 / std::numbers::pi;
  if (degrees < 0) degrees += 180;
  constexpr double straight = 7;
  if (degrees < straight || degrees > 180 - straight) return Course::level;
  if (std::abs(degrees - 90) < straight) return Course::upright;
  return degrees < 90 ? Course::rising : Course::falling;
}

const char* crease_along(const Element& e, const SheetState& state) {
  static constexpr const char* phrases[] = {"the level crease at {fraction}", "the upright crease at {fraction}",
                                            "the rising crease at {fraction}", "the falling crease at {fraction}"};
  return phrases[static_cast<int>(course_of(e.spans, state))];
}
const char* marks_along(const Element& e, const SheetState& state) {
  static constexpr const char* phrases[] = {
      "the marks of the level line {fraction}", "the marks of the upright line {fraction}",
      "the marks of the rising line {fraction}", "the marks of the falling line {fraction}"};
  return phrases[static_cast<int>(course_of(e.spans, state))];
}

/// A programme being told. What a sentence needs of the moves before its own is looked up where it has been collected
/// once, and else by going through them.
struct Told {
  const Programme& programme;
  const ProgrammeTeller::Index* index = nullptr;
  const std::vector<Element>& elements = programme.elements;
  const Polygon& sheet = programme.sheet;

  [[nodiscard]] const Element* find(int id) const {
    if (!index) return programme.find(id);
    const auto it = index->elements.find(id);
    return it == index->elements.end() ? nullptr : &programme.elements[it->second];
  }
  /// The place of a move in the programme; none for one that is told by itself.
  [[nodiscard]] std::optional<std::size_t> place(const Move& move) const {
    const auto at = &move - programme.moves.data();
    if (at < 0 || at >= static_cast<std::ptrdiff_t>(programme.moves.size())) return std::nullopt;
    return static_cast<std::size_t>(at);
  }
};

/// Whether an element is only pinched when `move` comes to use it.
bool only_pinched(const Told& p, int id, const Move& move) {
  if (p.index) {
    const auto it = p.index->makings.find(id);
    const auto here = p.place(move);
    if (it == p.index->makings.end() || !here) return false;
    const auto after = std::lower_bound(it->second.begin(), it->second.end(), *here);
    return after != it->second.begin() && p.programme.moves[*(after - 1)].extent == Extent::pinch;
  }
  bool pinched = false;
  for (const Move& earlier : p.programme.moves) {
    if (&earlier == &move) break;
    if (earlier.makes == id) pinched = earlier.extent == Extent::pinch;
  }
  return pinched;
}

void handle(SheetState& state, const Move& m) {
  if (m.kind == MoveKind::turn_over) state.underside_up = !state.underside_up, state.turned_deg = -state.turned_deg;
  if (m.kind == MoveKind::rotate) state.turned_deg += m.degrees;
}

SheetState state_at(const Told& p, const Move& move, const TextStyle& style) {
  const auto at = p.place(move);
  SheetState state;
  if (!style.as_it_lies || !at) return state;
  if (p.index) {
    std::tie(state.underside_up, state.turned_deg) = p.index->lies[*at];
    return state;
  }
  for (const Move& m : std::span(p.programme.moves).first(*at)) handle(state, m);
  return state;
}

/// Whether a move before this one refers to the element.
bool mentioned(const Told& p, int id, const Move& move) {
  if (p.index) {
    const auto it = p.index->mentioned.find(id);
    const auto here = p.place(move);
    return it != p.index->mentioned.end() && (!here || it->second < *here);
  }
  for (const Move& earlier : p.programme.moves) {
    if (&earlier == &move) break;
    for (const auto* ids : {&earlier.moving, &earlier.onto, &earlier.through}) {
      if (std::find(ids->begin(), ids->end(), id) != ids->end()) return true;
    }
  }
  return false;
}

/// An element as this move names it. A mark says at its first use where it is.
std::string named(const Told& p, int id, const Move& move, const TextStyle& style) {
  const Element* e = p.find(id);
  if (!e) return "?";
  const SheetState state = state_at(p, move, style);
  if (e->role == Role::crease && e->label.empty() && only_pinched(p, e->id, move)) {
    return say(style, e->by_direction ? marks_along(*e, state) : "the mark at {fraction}",
               {{"fraction", fraction(e->index, e->parts)}});
  }
  if (e->role == Role::point && e->made_of.size() == 2 && !mentioned(p, id, move)) {
    const Element* first = p.find(e->made_of[0]);
    const Element* second = p.find(e->made_of[1]);
    if (first && first->role == Role::raw_edge) std::swap(first, second);
    if (first && second) {
      return say(style, "mark {label}, where {first} crosses {second},",
                 {{"label", e->label},
                  {"first", element_name(*first, style, state)},
                  {"second", element_name(*second, style, state)}});
    }
  }
  return element_name(*e, style, state);
}

std::string names(const Told& p, const std::vector<int>& ids, const Move& move, const TextStyle& style) {
  return ids.empty() ? "?" : named(p, ids.front(), move, style);
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
std::string ruler_sentence(const Told& p, const Move& move, const TextStyle& style) {
  const Element* edge = move.onto.empty() ? nullptr : p.find(move.onto.front());
  const Element* corner = move.through.empty() ? nullptr : p.find(move.through.front());
  if (!edge || !corner || corner->spans.empty()) return say(style, "Mark it with a ruler.");
  std::string list;
  for (const int id : move.moving) {
    const Element* mark = p.find(id);
    if (!mark || mark->spans.empty()) continue;
    const double mm = (mark->spans.front().from - corner->spans.front().from).norm();
    list += (list.empty() ? "" : ", ") +
            say(style, "{label} at {distance}",
                {{"label", mark->label}, {"distance", format_length(Millimetres{mm}, style.unit)}});
  }
  const SheetState state = state_at(p, move, style);
  return say(
      style, "Mark along {edge} with a ruler, from {corner}: {list}.",
      {{"edge", element_name(*edge, style, state)}, {"corner", element_name(*corner, style, state)}, {"list", list}});
}

/// How the crease of a move runs as the folder sees it, where the alignment alone leaves a choice.
std::string choice_sentence(const Told& p, const Move& move, const TextStyle& style) {
  if (!move.choice || move.spans.empty() || move.spans.front().length() < 1e-9) return {};
  static constexpr const char* phrases[] = {"The crease runs level.", "The crease runs upright.",
                                            "The crease rises to the right.", "The crease falls to the right."};
  return say(style, phrases[static_cast<int>(course_of({move.spans.front()}, state_at(p, move, style)))]) + " ";
}

/// "Bring P to l and at the same time Q to m, so that the crease goes through R."
std::string alignment_sentence(const Told& p, const Move& move, const TextStyle& style) {
  std::vector<std::string> pairs;
  for (std::size_t i = 0; i < std::min(move.moving.size(), move.onto.size()); ++i) {
    const std::string moving = named(p, move.moving[i], move, style);
    const bool itself = move.moving[i] == move.onto[i];
    pairs.push_back(itself ? say(style, "{moving} onto itself", {{"moving", moving}})
                           : say(style, "{moving} to {target}",
                                 {{"moving", moving}, {"target", named(p, move.onto[i], move, style)}}));
  }
  if (pairs.empty()) return {};
  if (!move.through.empty()) {
    return say(style, "Bring {pair} so that the crease goes through {point}.",
               {{"pair", pairs[0]}, {"point", named(p, move.through[0], move, style)}});
  }
  if (pairs.size() == 1) return say(style, "Bring {pair}.", {{"pair", pairs[0]}});
  return say(style, "Bring {pair} and at the same time {other}.", {{"pair", pairs[0]}, {"other", pairs[1]}});
}

/// A crease that stops short says from where to where, as far as the places have names.
std::string partial_sentence(const Told& p, const Move& move, const TextStyle& style) {
  std::vector<std::string> ends;
  for (const int id : move.ends) {
    const Element* e = id == 0 ? nullptr : p.find(id);
    if (!e) break;
    ends.push_back(element_name(*e, style, state_at(p, move, style)));
  }
  const std::string pieces = std::to_string(move.spans.size());
  if (ends.size() >= 2 && move.spans.size() == 1)
    return say(style, "Crease from {from} to {to} only.", {{"from", ends[0]}, {"to", ends[1]}});
  if (ends.size() == 4 && move.spans.size() == 2)
    return say(style, "Crease from {from} to {to} and from {again} to {end} only.",
               {{"from", ends[0]}, {"to", ends[1]}, {"again", ends[2]}, {"end", ends[3]}});
  if (ends.size() >= 2)
    return say(style, "Crease only the {pieces} pieces drawn, the first from {from} to {to}.",
               {{"pieces", pieces}, {"from", ends[0]}, {"to", ends[1]}});
  if (move.spans.size() > 1) return say(style, "Crease only the {pieces} pieces drawn.", {{"pieces", pieces}});
  return say(style, "Crease only where drawn.");
}

/// Whether every span touches a raw edge.
bool ends_at_edges(const Told& p, const Move& move) {
  const auto at_edge = [&](const Point& point) {
    for (std::size_t i = 0; i < p.sheet.size(); ++i) {
      if (std::abs(Line::through(p.sheet[i], p.sheet[(i + 1) % p.sheet.size()]).distance(point)) < 1e-3) return true;
    }
    return false;
  };
  return std::all_of(move.spans.begin(), move.spans.end(),
                     [&](const Segment& s) { return at_edge(s.from) || at_edge(s.to); });
}

std::string extent_sentence(const Told& p, const Move& move, const TextStyle& style) {
  const Element* made = move.makes ? p.find(*move.makes) : nullptr;
  switch (move.extent) {
  case Extent::pinch:
    if ((made && !made->label.empty()) || !ends_at_edges(p, move)) return say(style, "Pinch where drawn.");
    return say(style, "Pinch at the raw edges only.");
  case Extent::to_diagonals:
    return say(style, "Crease from diagonal to diagonal only.");
  case Extent::inset:
    return say(style, "Crease between the stop lines only.");
  case Extent::partial:
    return say(style, "Crease only where the drawing shows it; keep the marked areas clean.");
  case Extent::between:
    return partial_sentence(p, move, style);
  case Extent::full:
    break;
  }
  return say(style, "Crease from edge to edge.");
}

} // namespace

std::string element_name(const Element& element, const TextStyle& style, const SheetState& state) {
  if (!element.label.empty()) {
    switch (element.role) {
    case Role::crease:
      return say(style, "crease {label}", {{"label", element.label}});
    case Role::point:
      return say(style, "mark {label}", {{"label", element.label}});
    case Role::corner:
      return say(style, "corner {label}", {{"label", element.label}});
    case Role::raw_edge:
      return say(style, "edge {label}", {{"label", element.label}});
    }
  }
  if (element.role == Role::crease) {
    return say(style, element.by_direction ? crease_along(element, state) : "the crease at {fraction}",
               {{"fraction", fraction(element.index, element.parts)}});
  }
  return say(style, place_phrase(element.role, seen_place(element.place, state)));
}

namespace {

std::string text_of(const Told& programme, const Move& move, const TextStyle& style) {
  if (const auto at = programme.place(move); at && programme.programme.folding)
    return programme.programme.folding->text(*at, style);
  const Element* made = move.makes ? programme.find(*move.makes) : nullptr;
  const std::string at =
      made && made->role == Role::crease && made->label.empty() ? fraction(made->index, made->parts) : "";
  const std::string again = move.replaces ? " " + say(style, "It replaces the earlier mark.") : "";
  switch (move.kind) {
  case MoveKind::align:
  case MoveKind::pinch:
    return tidied(alignment_sentence(programme, move, style)) + " " + choice_sentence(programme, move, style) +
           extent_sentence(programme, move, style) + " " + say(style, "Unfold.") + again;
  case MoveKind::crease_through:
    return say(style, "Fold on {axis} and mark where {moving} lands.",
               {{"axis", names(programme, move.onto, move, style)},
                {"moving", names(programme, move.moving, move, style)}}) +
           " " + say(style, "Unfold and crease through the mark.") + " " + extent_sentence(programme, move, style) +
           again;
  case MoveKind::crease_between:
    if (move.through.size() < 2) return say(style, "Crease through the two points.");
    return tidied(say(style, "Crease through {first} and {second}.",
                      {{"first", named(programme, move.through[0], move, style)},
                       {"second", named(programme, move.through[1], move, style)}})) +
           " " + extent_sentence(programme, move, style) + " " + say(style, "Unfold.");
  case MoveKind::guess:
    if (made && made->by_direction)
      return say(style, "Pinch lightly by eye for {crease}.",
                 {{"crease", element_name(*made, style, state_at(programme, move, style))}});
    if (move.extent == Extent::pinch) return say(style, "Pinch lightly by eye at {fraction}.", {{"fraction", at}});
    return say(style, "Fold by eye at {fraction}.", {{"fraction", at}}) + " " +
           extent_sentence(programme, move, style) + " " + say(style, "Unfold.");
  case MoveKind::mark: {
    if (!move.moving.empty()) return ruler_sentence(programme, move, style);
    const Element* edge = nullptr;
    for (const Element& e : programme.elements) {
      if (made && e.family == made->family && e.label.empty() && e.index == 0 && e.role != Role::crease) edge = &e;
    }
    if (!edge || edge->spans.empty() || move.spans.empty()) return say(style, "Mark it with a ruler.");
    const Segment low = edge->spans.front();
    const double mm = low.length() < 1e-9 ? (move.spans.front().from - low.from).norm()
                                          : std::abs(Line::through(low.from, low.to).distance(move.spans.front().from));
    return say(style, "Mark {fraction} with a ruler or from the printed template, {distance} from {edge}.",
               {{"fraction", at},
                {"distance", format_length(Millimetres{mm}, style.unit)},
                {"edge", element_name(*edge, style, state_at(programme, move, style))}});
  }
  case MoveKind::score:
    if (move.through.size() < 2) return say(style, "Score the line with a ruler and a blunt point.");
    return say(style, "Lay the ruler on {first} and {second}. Score along it with a blunt point.",
               {{"first", named(programme, move.through[0], move, style)},
                {"second", named(programme, move.through[1], move, style)}}) +
           " " + extent_sentence(programme, move, style);
  case MoveKind::cut:
    return say(style, "Cut along the outline.");
  case MoveKind::turn_over:
    return say(style, "Turn the sheet over, left to right.");
  case MoveKind::rotate: {
    const double turn = std::abs(move.degrees);
    if (std::abs(turn - 180) < 1e-9) return say(style, "Rotate the sheet by a half turn.");
    const std::string degrees = format_number(turn, 1);
    return move.degrees > 0 ? say(style, "Rotate the sheet {degrees}° to the left.", {{"degrees", degrees}})
                            : say(style, "Rotate the sheet {degrees}° to the right.", {{"degrees", degrees}});
  }
  case MoveKind::work_both_ways:
    if (made && (made->by_direction || !made->label.empty())) {
      const std::string crease = element_name(*made, style, state_at(programme, move, style));
      if (move.extent == Extent::full)
        return say(style, "Fold {crease} the other way along its whole length. Unfold.", {{"crease", crease}});
      return say(style, "Fold {crease} the other way.", {{"crease", crease}}) + " " +
             partial_sentence(programme, move, style) + " " + say(style, "Unfold.");
    }
    return say(style, "Fold the crease at {fraction} the other way too. Unfold.", {{"fraction", at}});
  case MoveKind::collapse:
    return say(style, "Collapse along the creases.");
  case MoveKind::join:
    return say(style, "Join the units.");
  case MoveKind::wait:
    return say(style, "Wait {minutes} minutes.", {{"minutes", format_number(move.wait_minutes, 1)}});
  case MoveKind::damp:
    return say(style, "Damp the paper lightly.");
  case MoveKind::clip:
    return say(style, "Hold it with clips.");
  case MoveKind::glue:
    return say(style, "Glue the tab.");
  case MoveKind::curl:
    return say(style, "Curl the edge.");
  case MoveKind::fold:
    return say(style, "Fold the paper and leave it folded.");
  case MoveKind::unfold:
    return say(style, "Unfold.");
  case MoveKind::check: {
    const Element* wanted = move.moving.empty() ? nullptr : programme.find(move.moving.front());
    if (!wanted) return say(style, "Check the work so far.");
    return tidied(say(style, "The reference is {wanted}.", {{"wanted", named(programme, wanted->id, move, style)}}));
  }
  }
  return {};
}

std::string check_of(const Told& programme, const Move& move, const TextStyle& style) {
  if (const auto at = programme.place(move); at && programme.programme.folding)
    return programme.programme.folding->check(*at, style);
  const std::string usual = format_error(Millimetres{1.645 * move.hand_sigma_mm}, style.unit);
  switch (move.kind) {
  case MoveKind::align:
  case MoveKind::pinch: {
    const Element* moving = move.moving.empty() ? nullptr : programme.find(move.moving.front());
    if (move.moving.size() > 1) {
      return say(style, "Both should meet what they are brought to; up to {usual} is normal for your hand.",
                 {{"usual", usual}});
    }
    if (moving && moving->role == Role::point) {
      return say(style, "The mark should lie where it was brought to; up to {usual} is normal for your hand.",
                 {{"usual", usual}});
    }
    if (moving && moving->role == Role::corner) {
      return say(style, "The corner should lie on the line; up to {usual} is normal for your hand.",
                 {{"usual", usual}});
    }
    return say(style, "Both lines should meet along their whole length; up to {usual} is normal for your hand.",
               {{"usual", usual}});
  }
  case MoveKind::crease_between:
    return say(style, "The crease should run through both; up to {usual} is normal for your hand.", {{"usual", usual}});
  case MoveKind::check:
    return move.moving.empty() ? std::string{} : say(style, "Measure it if you like; the log compares.");
  case MoveKind::crease_through:
    return say(style,
               "The fold should lie on the old crease along its whole length; up to {usual} is normal for your hand.",
               {{"usual", usual}});
  case MoveKind::score:
    return say(style, "The groove shows as a fine line; press, do not cut.");
  case MoveKind::mark:
    if (!move.moving.empty())
      return say(style, "Make the marks right at the edge, so that they are seen from both sides.");
    return say(style, "Mark both ends; a fine pencil, upright, is exact enough.");
  case MoveKind::guess:
    return say(style, "A guess is enough here; the next folds correct it.");
  case MoveKind::turn_over:
    return say(style, "The other side is up now; left and right have changed places.");
  case MoveKind::rotate:
    return say(style, "The sheet lies as drawn.");
  case MoveKind::work_both_ways:
    return say(style, "The crease should swing freely to both sides.");
  case MoveKind::cut:
    return say(style, "All sides should be equal.");
  default:
    return {};
  }
}

} // namespace

std::string move_text(const Programme& programme, const Move& move, const TextStyle& style) {
  return text_of(Told{programme}, move, style);
}
std::string check_text(const Programme& programme, const Move& move, const TextStyle& style) {
  return check_of(Told{programme}, move, style);
}

ProgrammeTeller::ProgrammeTeller(const Programme& programme, TextStyle style)
    : programme_(programme), style_(std::move(style)) {
  for (std::size_t i = 0; i < programme.elements.size(); ++i) index_.elements.try_emplace(programme.elements[i].id, i);
  SheetState state;
  index_.lies.reserve(programme.moves.size());
  for (std::size_t i = 0; i < programme.moves.size(); ++i) {
    const Move& m = programme.moves[i];
    index_.lies.emplace_back(state.underside_up, state.turned_deg);
    handle(state, m);
    if (m.makes) index_.makings[*m.makes].push_back(i);
    for (const auto* ids : {&m.moving, &m.onto, &m.through}) {
      for (const int id : *ids) index_.mentioned.try_emplace(id, i);
    }
  }
}

std::string ProgrammeTeller::text(std::size_t move) const {
  return text_of(Told{programme_, &index_}, programme_.moves[move], style_);
}
std::string ProgrammeTeller::check(std::size_t move) const {
  return check_of(Told{programme_, &index_}, programme_.moves[move], style_);
}

std::string short_text(const Programme& programme, const Move& move, const TextStyle& style) {
  if (const auto at = Told{programme}.place(move); at && programme.folding)
    return programme.folding->short_text(*at, style);
  if (move.kind == MoveKind::turn_over) return say(style, "turn over");
  if (move.kind == MoveKind::rotate) return say(style, "rotate");
  if (move.kind == MoveKind::cut) return say(style, "cut");
  if (const Element* made = move.makes ? programme.find(*move.makes) : nullptr) {
    if (!made->label.empty()) return element_name(*made, style);
    const std::string at = fraction(made->index, made->parts);
    if (move.kind == MoveKind::guess) return say(style, "guess {fraction}", {{"fraction", at}});
    return at;
  }
  if (move.kind == MoveKind::check) {
    if (const Element* wanted = move.moving.empty() ? nullptr : programme.find(move.moving.front()))
      return element_name(*wanted, style);
  }
  return style.translate(name_of(move.kind).c_str());
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
