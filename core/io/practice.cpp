#include "io/practice.h"

#include "fold/step_parameters.h"

#include <fmt/format.h>

#include <sstream>

namespace uc {
namespace {

constexpr std::string_view measure_sign = "# measure: ";

Result<std::vector<ExerciseMeasure>> measures_of(const LibrarySteps& steps) {
  std::vector<ExerciseMeasure> all;
  std::istringstream lines(steps.text);
  for (std::string line; std::getline(lines, line);) {
    if (!line.starts_with(measure_sign)) continue;
    const auto equals = line.rfind(" = ");
    if (equals == std::string::npos) return Error{fmt::format("{}: \"{}\" names no length", steps.name, line)};
    const auto length = number_from(line.substr(equals + 3), steps.file.parameters);
    if (!length) return Error{fmt::format("{}: {}", steps.name, length.error())};
    all.push_back({line.substr(measure_sign.size(), equals - measure_sign.size()), *length});
  }
  if (all.empty()) return Error{fmt::format("{}: an exercise says what is measured", steps.name)};
  return all;
}

} // namespace

Result<std::vector<Exercise>> exercises(const std::string& folder) {
  const auto files = steps_in(folder);
  if (!files) return Error{files.error()};
  std::vector<Exercise> all;
  for (const LibrarySteps& steps : *files) {
    const auto measures = measures_of(steps);
    if (!measures) return Error{measures.error()};
    all.push_back({steps, *measures});
  }
  return all;
}

} // namespace uc
