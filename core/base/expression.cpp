#include "base/expression.h"

#include <fmt/format.h>

#include <cctype>
#include <charconv>
#include <cmath>
#include <optional>
#include <string>

namespace uc {
namespace {

struct Value {
  double number = 0;
  bool length = false; // in mm when true
};

class Parser {
public:
  Parser(std::string_view text, LengthUnit plain) : text_(text), plain_(mm_per(plain)) {}

  Result<Value> parse() {
    skip();
    if (at_ == text_.size()) return Error{"Nothing is typed here; type a length such as 240 mm or 7 1/2 in."};
    Value value = sum();
    skip();
    if (error_.empty() && at_ < text_.size()) fail(fmt::format("\"{}\" is not understood", text_.substr(at_)));
    if (!error_.empty()) {
      return Error{fmt::format("{} in \"{}\"; type a length such as 240 mm, 7 1/2 in or sqrt(2)*120.", error_, text_)};
    }
    if (!std::isfinite(value.number)) return Error{fmt::format("\"{}\" is not a finite number.", text_)};
    return value;
  }

  [[nodiscard]] double as_mm(Value v) const { return v.length ? v.number : v.number * plain_; }

private:
  Value sum() {
    if (++depth_ > 60) return fail("Too many brackets");
    Value left = product();
    while (error_.empty()) {
      const char op = peek();
      if (op != '+' && op != '-') break;
      ++at_;
      const Value right = product();
      const bool length = left.length || right.length;
      const double l = length ? as_mm(left) : left.number;
      const double r = length ? as_mm(right) : right.number;
      left = {op == '+' ? l + r : l - r, length};
    }
    --depth_;
    return left;
  }

  Value product() {
    Value left = factor();
    while (error_.empty()) {
      const char op = peek();
      if (op == '*') {
        ++at_;
        const Value right = factor();
        if (left.length && right.length) return fail("Two lengths multiplied give an area");
        left = {left.number * right.number, left.length || right.length};
      } else if (op == '/') {
        ++at_;
        const Value right = factor();
        if (right.number == 0 && error_.empty()) return fail("Division by zero");
        if (right.length && !left.length) return fail("A number divided by a length is not a length");
        left = {left.number / right.number, left.length && !right.length};
      } else {
        break;
      }
    }
    return left;
  }

  Value factor() {
    const char c = peek();
    if (c == '-') {
      ++at_;
      const Value v = factor();
      return {-v.number, v.length};
    }
    if (c == '(') return bracket();
    if (std::isdigit(static_cast<unsigned char>(c)) || c == '.') return with_unit({number(), false});
    if (text_.substr(at_, 4) == "sqrt") {
      at_ += 4;
      if (peek() != '(') return fail("A bracket is missing after sqrt");
      const Value v = bracket();
      if (v.length) return fail("The root of a length is not a length");
      if (v.number < 0) return fail("The root of a negative number does not exist");
      return {std::sqrt(v.number), false};
    }
    if (c == '\0') return fail("Something is missing at the end");
    return fail(fmt::format("\"{}\" is not understood", text_.substr(at_)));
  }

  Value bracket() {
    ++at_;
    const Value v = sum();
    if (peek() != ')') return fail("A closing bracket is missing");
    ++at_;
    return with_unit(v);
  }

  Value with_unit(Value v) {
    const std::optional<double> factor = unit();
    if (!factor) return v;
    if (v.length) return fail("Two units follow one number");
    return {v.number * *factor, true};
  }

  std::optional<double> unit() {
    skip();
    static constexpr std::pair<std::string_view, double> units[] = {
        {"mm", 1}, {"cm", 10}, {"inches", 25.4}, {"inch", 25.4}, {"in", 25.4}, {"\"", 25.4}, {"m", 1000}};
    for (const auto& [name, factor] : units) {
      if (text_.substr(at_, name.size()) != name) continue;
      const std::size_t end = at_ + name.size();
      if (name != "\"" && end < text_.size() && std::isalpha(static_cast<unsigned char>(text_[end]))) continue;
      at_ = end;
      return factor;
    }
    return std::nullopt;
  }

  double plain_number() {
    double value = 0;
    const char* begin = text_.data() + at_;
    const auto [end, code] = std::from_chars(begin, text_.data() + text_.size(), value);
    if (code != std::errc()) {
      fail(fmt::format("\"{}\" is not a number", text_.substr(at_)));
      return 0;
    }
    at_ += static_cast<std::size_t>(end - begin);
    return value;
  }

  std::optional<double> fraction() {
    const std::size_t back = at_;
    const double top = plain_number();
    if (error_.empty() && at_ < text_.size() && text_[at_] == '/' && at_ + 1 < text_.size() &&
        std::isdigit(static_cast<unsigned char>(text_[at_ + 1]))) {
      ++at_;
      const double bottom = plain_number();
      if (bottom != 0) return top / bottom;
      fail("Division by zero");
    }
    at_ = back;
    return std::nullopt;
  }

  double number() {
    if (const auto f = fraction()) return *f;
    const double whole = plain_number();
    if (at_ < text_.size() && text_[at_] == ' ') {
      std::size_t ahead = at_;
      while (ahead < text_.size() && text_[ahead] == ' ') ++ahead;
      if (ahead < text_.size() && std::isdigit(static_cast<unsigned char>(text_[ahead]))) {
        const std::size_t back = at_;
        at_ = ahead;
        if (const auto f = fraction()) return whole + *f;
        at_ = back;
      }
    }
    return whole;
  }

  void skip() {
    while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_]))) ++at_;
  }
  char peek() {
    skip();
    return at_ < text_.size() ? text_[at_] : '\0';
  }
  Value fail(std::string why) {
    if (error_.empty()) error_ = std::move(why);
    at_ = text_.size();
    return {};
  }

  std::string_view text_;
  double plain_;
  std::size_t at_ = 0;
  int depth_ = 0;
  std::string error_;
};

} // namespace

Result<Millimetres> parse_length(std::string_view text, LengthUnit plain_unit) {
  Parser parser(text, plain_unit);
  const auto value = parser.parse();
  if (!value) return Error{value.error()};
  return Millimetres{parser.as_mm(*value)};
}

Result<double> parse_number(std::string_view text) {
  Parser parser(text, LengthUnit::mm);
  const auto value = parser.parse();
  if (!value) return Error{value.error()};
  if (value->length) return Error{fmt::format("\"{}\" is a length; type a plain number here.", text)};
  return value->number;
}

Result<double> parse_degrees(std::string_view text) {
  std::string plain(text);
  for (const std::string_view unit : {"°", "degrees", "degree", "deg"})
    if (const std::size_t from = plain.find(unit); from != std::string::npos) {
      plain.replace(from, unit.size(), " ");
      break;
    }
  const auto number = parse_number(plain);
  if (!number) return Error{fmt::format("\"{}\" is not an angle; type degrees, such as 72 or 360/7.", text)};
  return *number;
}

} // namespace uc
