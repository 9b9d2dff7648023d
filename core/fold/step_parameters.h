// Numbers by which a sequence of folds can be re-dimensioned: "let n = 3" in a steps file, and the name wherever a
// number stands.
#pragma once

#include "base/result.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace uc {

struct StepParameter {
  std::string name;
  double value = 0; // lengths in mm
  int line = 0;     // of the file, from 1
};
using StepParameters = std::vector<StepParameter>;
/// Values in place of those of the file.
using StepValues = std::map<std::string, double>;

constexpr std::size_t most_step_parameters = 100;

/// A number, a length in mm, or an expression of them and of parameters: "3", "9cm", "360/n".
Result<double> number_from(std::string_view typed, const StepParameters& known);

/// A sheet's code with lengths in place of the names of parameters: "strip:longxwide".
std::string sheet_code_from(std::string_view typed, const StepParameters& known);

/// Whether a parameter can be called so: what is a unit or a function already cannot.
bool can_name_parameter(const std::string& name);

} // namespace uc
