#include "io/steps_library.h"

#include "base/atomic_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

namespace uc {

Result<std::vector<LibrarySteps>> step_library(const std::string& folder) {
  namespace fs = std::filesystem;
  std::vector<LibrarySteps> all;
  std::error_code wrong;
  for (const auto& entry : fs::directory_iterator(folder, wrong)) {
    if (entry.path().extension() != ".steps") continue;
    const auto text = read_file(entry.path().string());
    if (!text) return Error{text.error()};
    auto file = parse_steps(*text);
    if (!file) return Error{fmt::format("{}: {}", entry.path().string(), file.error())};
    const auto moves = std::count_if(file->lines.begin(), file->lines.end(), [](const StepLine& l) {
      return l.kind != StepVerb::cross && l.kind != StepVerb::say;
    });
    all.push_back({entry.path().stem().string(), std::move(file).value(), static_cast<int>(moves)});
  }
  if (wrong) return Error{fmt::format("{}: {}", folder, wrong.message())};
  std::sort(all.begin(), all.end(), [](const LibrarySteps& a, const LibrarySteps& b) { return a.name < b.name; });
  return all;
}

bool is_library_name(const std::string& text) {
  return !text.empty() && std::all_of(text.begin(), text.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-';
  });
}

} // namespace uc
