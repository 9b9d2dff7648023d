#include "io/formats.h"

#include "base/clean_text.h"
#include "base/text.h"

#include <fmt/format.h>

#include <filesystem>

namespace uc {
std::vector<FormatEntry> formats_for(FileUse use) {
  std::vector<FormatEntry> out;
  for (const FormatEntry& entry : format_table) {
    if (entry.use == use) out.push_back(entry);
  }
  return out;
}

std::string endings_for(FileUse use) {
  const auto all = formats_for(use);
  std::string list;
  for (std::size_t i = 0; i < all.size(); ++i)
    list += (i == 0 ? "" : i + 1 == all.size() ? " or " : ", ") + std::string(all[i].ending);
  return list;
}

Result<FileFormat> format_for(FileUse use, std::string_view file_name) {
  const std::string ending = lower_case(std::filesystem::path(file_name).extension().string());
  for (const FormatEntry& entry : format_table) {
    if (entry.use == use && entry.ending == ending) return entry.format;
  }
  const char* say = use == FileUse::open || use == FileUse::read_pattern ? "{}: files that are read here end in {}"
                                                                         : "{}: end the name with {}";
  return Error{fmt::format(fmt::runtime(say), shown_text(file_name), endings_for(use))};
}

} // namespace uc
