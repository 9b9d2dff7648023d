#include "paper/sheet.h"

#include "base/expression.h"
#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

namespace uc {
namespace {

Polygon box_outline(double w, double h) { return {{0, 0}, {w, 0}, {w, h}, {0, h}}; }

constexpr std::string_view examples =
    "type a sheet such as square:240mm, 210x297mm, a4, strip:300x40mm or ngon:6:100mm";

Result<Millimetres> side(std::string_view text, std::string_view what, LengthUnit unit) {
  const auto length = parse_length(text, unit);
  if (!length) return Error{fmt::format("The {} is not a length: {}", what, length.error())};
  return checked_length(*length, what);
}

/// "210x297mm": a unit after the last number holds for both.
Result<std::pair<double, double>> two_sides(std::string_view text, LengthUnit unit) {
  const auto cross = text.find('x');
  const bool named = !text.empty() && std::isalpha(static_cast<unsigned char>(text[0])) &&
                     text.substr(0, 4) != "sqrt" && text[0] != 'x';
  if (cross == std::string_view::npos || named) return Error{fmt::format("\"{}\" names no sheet; {}.", text, examples)};
  std::string first(text.substr(0, cross));
  const std::string second(text.substr(cross + 1));
  const auto has_unit = [](const std::string& s) {
    return s.find("mm") != s.npos || s.find("cm") != s.npos || s.find("in") != s.npos || s.find('"') != s.npos ||
           (!s.empty() && s.back() == 'm');
  };
  if (!has_unit(first) && has_unit(second)) {
    const auto start = second.find_last_of("0123456789.)") + 1;
    first += second.substr(start);
  }
  const auto w = side(first, "width", unit);
  if (!w) return Error{w.error()};
  const auto h = side(second, "height", unit);
  if (!h) return Error{h.error()};
  return std::pair{w->value, h->value};
}

const NamedSize* find_named(std::string_view name) {
  for (const NamedSize& size : named_sizes()) {
    if (lower_case(size.name) == name) return &size;
  }
  return nullptr;
}

} // namespace

Sheet::Sheet(SheetShape shape, Polygon outline) : shape_(shape), outline_(std::move(outline)) {
  const Point size = bounding_box(outline_).size();
  width_ = size.x();
  height_ = size.y();
}

Sheet Sheet::square(Millimetres side) { return {SheetShape::square, box_outline(side.value, side.value)}; }
Sheet Sheet::rectangle(Millimetres width, Millimetres height) {
  return {SheetShape::rectangle, box_outline(width.value, height.value)};
}
Sheet Sheet::strip(Millimetres length, Millimetres width) {
  return {SheetShape::strip, box_outline(length.value, width.value)};
}
Sheet Sheet::regular(int sides, Millimetres edge) {
  return {SheetShape::regular_polygon, regular_polygon(sides, edge.value)};
}

Sheet Sheet::scaled(double factor) const {
  Polygon outline = outline_;
  for (Point& p : outline) p *= factor;
  return {shape_, std::move(outline)};
}

std::string Sheet::code() const {
  const std::string w = format_number(width_, 6);
  const std::string h = format_number(height_, 6);
  switch (shape_) {
  case SheetShape::square:
    return fmt::format("square:{}mm", w);
  case SheetShape::rectangle:
    return fmt::format("{}x{}mm", w, h);
  case SheetShape::strip:
    return fmt::format("strip:{}x{}mm", w, h);
  case SheetShape::regular_polygon:
    return fmt::format("ngon:{}:{}mm", sides(), format_number((outline_[1] - outline_[0]).norm(), 6));
  }
  return {};
}

const std::vector<NamedSize>& named_sizes() {
  static const std::vector<NamedSize> sizes = {{"A0", 841, 1189},
                                               {"A1", 594, 841},
                                               {"A2", 420, 594},
                                               {"A3", 297, 420},
                                               {"A4", 210, 297},
                                               {"A5", 148, 210},
                                               {"A6", 105, 148},
                                               {"A7", 74, 105},
                                               {"A8", 52, 74},
                                               {"B0", 1000, 1414},
                                               {"B1", 707, 1000},
                                               {"B2", 500, 707},
                                               {"B3", 353, 500},
                                               {"B4", 250, 353},
                                               {"B5", 176, 250},
                                               {"B6", 125, 176},
                                               {"B7", 88, 125},
                                               {"Letter", 215.9, 279.4},
                                               {"Legal", 215.9, 355.6},
                                               {"Tabloid", 279.4, 431.8},
                                               {"Executive", 184.15, 266.7},
                                               {"Half letter", 139.7, 215.9}};
  return sizes;
}

Result<Millimetres> checked_length(Millimetres length, std::string_view what) {
  if (!std::isfinite(length.value) || length.value < least_length_mm) {
    return Error{fmt::format("The {} is {} mm; type a length of at least 1 mm.", what, format_number(length.value, 3))};
  }
  if (length.value > greatest_length_mm) {
    return Error{
        fmt::format("The {} is {} m; type a length of at most 100 m.", what, format_number(length.value / 1000, 1))};
  }
  return length;
}

Result<Sheet> parse_sheet(std::string_view text, LengthUnit plain_unit) {
  const std::string t = lower_case(text);
  if (t.empty()) return Error{fmt::format("No sheet is given; {}.", examples)};
  const auto starts = [&](std::string_view word) { return t.compare(0, word.size(), word) == 0; };

  if (starts("square:")) {
    const auto s = side(t.substr(7), "side", plain_unit);
    if (!s) return Error{s.error()};
    return Sheet::square(*s);
  }
  if (starts("strip:")) {
    const auto wh = two_sides(t.substr(6), plain_unit);
    if (!wh) return Error{wh.error()};
    return Sheet::strip(Millimetres{wh->first}, Millimetres{wh->second});
  }
  if (starts("ngon:")) {
    const auto colon = t.find(':', 5);
    int sides = 0;
    const std::string count = t.substr(5, colon == std::string::npos ? colon : colon - 5);
    const auto [end, code] = std::from_chars(count.data(), count.data() + count.size(), sides);
    if (colon == std::string::npos || code != std::errc() || end != count.data() + count.size()) {
      return Error{fmt::format("\"{}\" is not a regular polygon; type sides and edge, such as ngon:6:100mm.", text)};
    }
    if (sides < 3 || sides > 24) {
      return Error{fmt::format("A polygon of {} sides cannot be used; type 3 to 24 sides.", sides)};
    }
    const auto edge = side(t.substr(colon + 1), "edge", plain_unit);
    if (!edge) return Error{edge.error()};
    return Sheet::regular(sides, *edge);
  }

  std::string name = t;
  bool half = false;
  if (name.size() > 2 && name.compare(name.size() - 2, 2, "/2") == 0) {
    half = true;
    name.resize(name.size() - 2);
  }
  if (const NamedSize* size = find_named(name)) {
    if (!half) return Sheet::rectangle(Millimetres{size->width_mm}, Millimetres{size->height_mm});
    return Sheet::rectangle(Millimetres{size->height_mm / 2}, Millimetres{size->width_mm});
  }

  // "15 cm" and "15cm square" are squares.
  std::string one = t;
  if (const auto word = one.rfind("square"); word != std::string::npos && word > 0 && word + 6 == one.size())
    one.erase(one.find_last_not_of(' ', word - 1) + 1);
  if (parse_length(one, plain_unit)) {
    const auto s = side(one, "side", plain_unit);
    if (!s) return Error{s.error()};
    return Sheet::square(*s);
  }
  const auto wh = two_sides(starts("rect:") ? t.substr(5) : t, plain_unit);
  if (!wh) return Error{wh.error()};
  return Sheet::rectangle(Millimetres{wh->first}, Millimetres{wh->second});
}

} // namespace uc
