#include "programme/text.h"

#include <fmt/args.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <numeric>
#include <span>

namespace uc {
namespace {

std::string fraction(int index, int parts) {
  const int divisor = std::gcd(index, parts);
  return fmt::format("{}/{}", index / divisor, parts / divisor);
}

std::string say(const TextStyle& style, const char* phrase,
                std::initializer_list<std::pair<const char*, std::string>> values = {}) {
  fmt::dynamic_format_arg_store<fmt::format_context> store;
  for (const auto& [name, value] : values) store.push_back(fmt::arg(name, value));
  return fmt::vformat(style.translate(phrase), store);
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

/// Whether an element is only pinched when `move` comes to use it.
bool only_pinched(const Programme& p, int id, const Move& move) {
  bool pinched = false;
  for (const Move& earlier : p.moves) {
    if (&earlier == &move) break;
    if (earlier.makes == id) pinched = earlier.extent == Extent::pinch;
  }
  return pinched;
}

SheetState state_at(const Programme& p, const Move& move, const TextStyle& style) {
  const auto at = &move - p.moves.data();
  const bool listed = at >= 0 && at < static_cast<std::ptrdiff_t>(p.moves.size());
  SheetState state;
  if (!style.as_it_lies || !listed) return state;
  for (const Move& m : std::span(p.moves).first(static_cast<std::size_t>(at))) {
    if (m.kind == MoveKind::turn_over) state.underside_up = !state.underside_up, state.turned_deg = -state.turned_deg;
    if (m.kind == MoveKind::rotate) state.turned_deg += m.degrees;
  }
  return state;
}

std::string names(const Programme& p, const std::vector<int>& ids, const Move& move, const TextStyle& style) {
  const Element* e = ids.empty() ? nullptr : p.find(ids.front());
  if (!e) return "?";
  if (e->role == Role::crease && only_pinched(p, e->id, move)) {
    return say(style, "the mark at {fraction}", {{"fraction", fraction(e->index, e->parts)}});
  }
  return element_name(*e, style, state_at(p, move, style));
}

std::string extent_sentence(const Move& move, const TextStyle& style) {
  switch (move.extent) {
  case Extent::pinch:
    return say(style, "Pinch at the raw edges only.");
  case Extent::to_diagonals:
    return say(style, "Crease from diagonal to diagonal only.");
  case Extent::inset:
    return say(style, "Crease between the stop lines only.");
  case Extent::partial:
    return say(style, "Crease only where the drawing shows it; keep the marked areas clean.");
  case Extent::full:
    break;
  }
  return say(style, "Crease from edge to edge.");
}

} // namespace

std::string element_name(const Element& element, const TextStyle& style, const SheetState& state) {
  if (element.role == Role::crease) {
    return say(style, "the crease at {fraction}", {{"fraction", fraction(element.index, element.parts)}});
  }
  return say(style, place_phrase(element.role, seen_place(element.place, state)));
}

std::string move_text(const Programme& programme, const Move& move, const TextStyle& style) {
  const Element* made = move.makes ? programme.find(*move.makes) : nullptr;
  const std::string at = made && made->role == Role::crease ? fraction(made->index, made->parts) : "";
  const std::string again = move.replaces ? " " + say(style, "It replaces the earlier mark.") : "";
  switch (move.kind) {
  case MoveKind::align:
  case MoveKind::pinch:
    return say(style, "Bring {moving} to {target}.",
               {{"moving", names(programme, move.moving, move, style)},
                {"target", names(programme, move.onto, move, style)}}) +
           " " + extent_sentence(move, style) + " " + say(style, "Unfold.") + again;
  case MoveKind::crease_through:
    return say(style, "Fold on {axis} and mark where {moving} lands.",
               {{"axis", names(programme, move.onto, move, style)},
                {"moving", names(programme, move.moving, move, style)}}) +
           " " + say(style, "Unfold and crease through the mark.") + " " + extent_sentence(move, style) + again;
  case MoveKind::crease_between:
    return say(style, "Crease through the two points.") + " " + extent_sentence(move, style);
  case MoveKind::guess:
    if (move.extent == Extent::pinch) return say(style, "Pinch lightly by eye at {fraction}.", {{"fraction", at}});
    return say(style, "Fold by eye at {fraction}.", {{"fraction", at}}) + " " + extent_sentence(move, style) + " " +
           say(style, "Unfold.");
  case MoveKind::score:
    return say(style, "Score the line with a ruler and a blunt point.");
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
  case MoveKind::check:
    return say(style, "Check the work so far.");
  }
  return {};
}

std::string check_text(const Programme& programme, const Move& move, const TextStyle& style) {
  const std::string usual = format_error(Millimetres{1.645 * move.hand_sigma_mm}, style.unit);
  switch (move.kind) {
  case MoveKind::align:
  case MoveKind::pinch: {
    const Element* moving = move.moving.empty() ? nullptr : programme.find(move.moving.front());
    if (moving && moving->role == Role::corner) {
      return say(style, "The corner should lie on the line; up to {usual} is normal for your hand.",
                 {{"usual", usual}});
    }
    return say(style, "Both lines should meet along their whole length; up to {usual} is normal for your hand.",
               {{"usual", usual}});
  }
  case MoveKind::crease_through:
    return say(style,
               "The fold should lie on the old crease along its whole length; up to {usual} is normal for your hand.",
               {{"usual", usual}});
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

std::string short_text(const Programme& programme, const Move& move, const TextStyle& style) {
  if (move.kind == MoveKind::turn_over) return say(style, "turn over");
  if (move.kind == MoveKind::rotate) return say(style, "rotate");
  if (move.kind == MoveKind::cut) return say(style, "cut");
  if (const Element* made = move.makes ? programme.find(*move.makes) : nullptr) {
    const std::string at = fraction(made->index, made->parts);
    if (move.kind == MoveKind::guess) return say(style, "guess {fraction}", {{"fraction", at}});
    return at;
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
