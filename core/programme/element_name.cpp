#include "programme/element_name.h"

#include "programme/naming.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <numeric>

namespace uc {
namespace {

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

} // namespace

std::string fraction_name(const Element& element) {
  const int divisor = std::gcd(element.index, element.parts);
  return fmt::format("{}/{}", element.index / divisor, element.parts / divisor);
}

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

std::string element_name(const Element& element, const TextStyle& style, const SheetState& state) {
  if (!element.label.empty()) {
    const std::string label = name_in_text(style, element.label);
    switch (element.role) {
    case Role::crease:
      return say(style, "crease {label}", {{"label", label}});
    case Role::point:
      return say(style, "mark {label}", {{"label", label}});
    case Role::corner:
      return say(style, "corner {label}", {{"label", label}});
    case Role::raw_edge:
      return say(style, "edge {label}", {{"label", label}});
    }
  }
  if (element.role == Role::crease) {
    return say(style, element.by_direction ? crease_along(element, state) : "the crease at {fraction}",
               {{"fraction", fraction_name(element)}});
  }
  return say(style, place_phrase(element.role, seen_place(element.place, state)));
}

std::string pinch_name(const Element& element, const TextStyle& style, const SheetState& state) {
  return say(style, element.by_direction ? marks_along(element, state) : "the mark at {fraction}",
             {{"fraction", fraction_name(element)}});
}

} // namespace uc
