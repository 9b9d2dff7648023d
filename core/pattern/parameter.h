// What a family of patterns can be asked for: its parameters with their ranges, and the values a folder chose. Panels,
// the command line's lists, JSON, the guide's table and property tests are made from these.
#pragma once

#include "base/names.h"
#include "base/result.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace uc {

enum class ParameterType { integer, mm, degrees, number, choice };
template <>
inline constexpr auto
    enum_words<ParameterType> = std::to_array<Word<ParameterType>>({{ParameterType::integer, "integer"},
                                                                    {ParameterType::mm, "mm"},
                                                                    {ParameterType::degrees, "degrees"},
                                                                    {ParameterType::number, "number"},
                                                                    {ParameterType::choice, "choice"}});

struct Parameter {
  std::string name;  // as typed: count
  std::string title; // as shown: Cells across
  ParameterType type = ParameterType::integer;
  double least = 0;
  double most = 1;
  double normal = 0;
  std::string why;                       // one sentence: what it changes, and what limits it
  std::vector<std::string> choices = {}; // of a choice; its value is the place in this list
};

/// Values by the names of parameters; what is not there has its normal value.
using ParameterValues = std::map<std::string, double>;

/// A value as typed: a whole number, a length with its unit, an angle, a number, or one of the choices. Fails with one
/// sentence that names the parameter and its range.
Result<double> parse_parameter(const Parameter& parameter, std::string_view text);
/// The text that parse_parameter reads back.
std::string parameter_text(const Parameter& parameter, double value);
/// Fails unless the value lies in the parameter's range.
Status check_parameter(const Parameter& parameter, double value);

} // namespace uc
