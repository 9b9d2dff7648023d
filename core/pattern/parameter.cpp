#include "pattern/parameter.h"

#include "base/clean_text.h"
#include "base/expression.h"

#include <fmt/format.h>

#include <cmath>

namespace uc {
namespace {

std::string listed(const std::vector<std::string>& words) {
  std::string all;
  for (std::size_t i = 0; i < words.size(); ++i)
    all += (i == 0 ? "" : i + 1 == words.size() ? " or " : ", ") + words[i];
  return all;
}

std::string range(const Parameter& p) {
  if (p.type == ParameterType::choice) return listed(p.choices);
  const char* unit = p.type == ParameterType::mm ? " mm" : p.type == ParameterType::degrees ? " degrees" : "";
  return fmt::format("{} to {}{}", format_number(p.least, 6), format_number(p.most, 6), unit);
}

Error refused(const Parameter& p, std::string_view typed) {
  return Error{fmt::format("{}: \"{}\" cannot be used; type {}", p.name, clipped(shown_text(typed), 60), range(p))};
}

} // namespace

Status check_parameter(const Parameter& p, double value) {
  const bool whole = p.type == ParameterType::integer || p.type == ParameterType::choice;
  if (!std::isfinite(value) || value < p.least || value > p.most || (whole && value != std::floor(value)))
    return refused(p, std::isfinite(value) ? format_number(value, 6) : std::string("not a number"));
  return Done{};
}

Result<double> parse_parameter(const Parameter& p, std::string_view text) {
  if (p.type == ParameterType::choice) {
    for (std::size_t i = 0; i < p.choices.size(); ++i) {
      if (p.choices[i] == text) return static_cast<double>(i);
    }
    return refused(p, text);
  }
  double value = 0;
  if (p.type == ParameterType::mm) {
    const auto length = parse_length(text);
    if (!length) return refused(p, text);
    value = length->value;
  } else {
    const auto number = p.type == ParameterType::degrees ? parse_degrees(text) : parse_number(text);
    if (!number) return refused(p, text);
    value = *number;
  }
  if (!check_parameter(p, value)) return refused(p, text);
  return value;
}

std::string parameter_text(const Parameter& p, double value) {
  if (p.type != ParameterType::choice) return format_number(value, 6);
  return p.choices.at(static_cast<std::size_t>(value));
}

} // namespace uc
