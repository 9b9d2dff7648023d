#include "fold/step_parameters.h"

#include "base/clean_text.h"
#include "base/expression.h"
#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <optional>

namespace uc {
namespace {

const StepParameter* find(const StepParameters& known, std::string_view name) {
  const auto found = std::find_if(known.begin(), known.end(), [&](const StepParameter& p) { return p.name == name; });
  return found == known.end() ? nullptr : &*found;
}

bool begins_name(char c) { return std::isalpha(static_cast<unsigned char>(c)) != 0; }
bool in_name(char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_'; }

/// The parts between the signs, each as `use` makes it.
template <class Use> std::string replaced(std::string_view text, char sign, Use use) {
  std::string out;
  for (std::size_t from = 0;;) {
    const std::size_t to = std::min(text.find(sign, from), text.size());
    out += use(trimmed(text.substr(from, to - from)));
    if (to == text.size()) return out;
    out += sign;
    from = to + 1;
  }
}

} // namespace

Result<double> number_from(std::string_view typed, const StepParameters& known) {
  std::string text;
  for (std::size_t i = 0; i < typed.size();) {
    std::size_t end = i + 1;
    if (begins_name(typed[i]) && (i == 0 || !in_name(typed[i - 1]))) {
      while (end < typed.size() && in_name(typed[end])) ++end;
      const std::string_view name = typed.substr(i, end - i);
      if (const StepParameter* p = find(known, name))
        text += fmt::format("({})", p->value);
      else
        text += name;
    } else {
      text += typed[i];
    }
    i = end;
  }
  if (const auto number = parse_number(text)) return *number;
  if (const auto length = parse_length(text)) return length->value;
  return Error{fmt::format("\"{}\" is not a number; type one such as 3, 1/3 or 9cm, or the name of a parameter",
                           clipped(typed, 60))};
}

std::string sheet_code_from(std::string_view typed, const StepParameters& known) {
  return replaced(typed, ':', [&](std::string_view part) {
    const auto side = [&](std::string_view name) {
      const StepParameter* p = find(known, name);
      return p ? std::optional(fmt::format("{}mm", p->value)) : std::nullopt;
    };
    if (const auto whole = side(part)) return *whole;
    return replaced(part, 'x', [&](std::string_view name) { return side(name).value_or(std::string(name)); });
  });
}

bool can_name_parameter(const std::string& name) {
  const bool plain = !name.empty() && begins_name(name[0]) && std::all_of(name.begin(), name.end(), in_name);
  return plain && !parse_length("1 " + name) && !parse_number(name + "(1)") && !parse_number(name);
}

} // namespace uc
