#include "io/steps_library.h"

#include "base/atomic_file.h"
#include "unit/unit_family.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

namespace uc {
namespace {

int moves_in(const StepsFile& file) {
  const auto moves = [&](int first, int last) {
    return static_cast<int>(std::count_if(file.lines.begin(), file.lines.end(), [&](const StepLine& l) {
      return l.number >= first && l.number <= last && l.kind != StepVerb::cross && l.kind != StepVerb::say &&
             l.kind != StepVerb::repeat;
    }));
  };
  int all = file.lines.empty() ? 0 : moves(0, file.lines.back().number);
  for (const StepLine& l : file.lines) {
    if (l.kind != StepVerb::repeat) continue;
    const int times = std::max(1, static_cast<int>(l.repeat.places.size()));
    all += times * (moves(l.repeat.first, l.repeat.last) + (l.repeat.way == CarryWay::behind ? 2 : 0));
  }
  return all;
}

void sort_by_name(std::vector<LibrarySteps>& all) {
  std::sort(all.begin(), all.end(), [](const LibrarySteps& a, const LibrarySteps& b) { return a.name < b.name; });
}

} // namespace

Result<std::vector<LibrarySteps>> steps_in(const std::string& folder) {
  namespace fs = std::filesystem;
  std::vector<LibrarySteps> all;
  std::error_code wrong;
  for (const auto& entry : fs::directory_iterator(folder, wrong)) {
    if (entry.path().extension() != ".steps") continue;
    const auto text = read_file(entry.path().string());
    if (!text) return Error{text.error()};
    auto file = parse_steps(*text);
    if (!file) return Error{fmt::format("{}: {}", entry.path().string(), file.error())};
    const int moves = moves_in(*file);
    all.push_back({entry.path().stem().string(), std::move(file).value(), *text, moves});
  }
  if (wrong) return Error{fmt::format("{}: {}", folder, wrong.message())};
  sort_by_name(all);
  return all;
}

Result<std::vector<LibrarySteps>> step_library(const std::string& folder) {
  auto found = steps_in(folder);
  if (!found) return Error{found.error()};
  std::vector<LibrarySteps> all = std::move(found).value();
  for (const UnitFamily& family : unit_families()) {
    if (family.steps.empty()) continue;
    auto file = parse_steps(family.steps);
    if (!file) return Error{fmt::format("unit-{}: {}", family.name, file.error())};
    const int moves = moves_in(*file);
    all.push_back({"unit-" + family.name, std::move(file).value(), family.steps, moves});
  }
  sort_by_name(all);
  return all;
}

bool is_library_name(const std::string& text) {
  return !text.empty() && std::all_of(text.begin(), text.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-';
  });
}

} // namespace uc
