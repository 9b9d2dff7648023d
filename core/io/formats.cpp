#include "io/formats.h"

#include "base/clean_text.h"
#include "base/text.h"

#include <fmt/format.h>

#include <filesystem>

namespace uc {
namespace {

using F = FileFormat;
using U = FileUse;

constexpr FormatEntry table[] = {
    {U::open, F::project, ".undercrease", "Projects"},
    {U::open, F::steps, ".steps", "Steps"},
    {U::save, F::project, ".undercrease", "Projects"},
    {U::read_pattern, F::json, ".json", "Pattern"},
    {U::read_pattern, F::svg, ".svg", "SVG"},
    {U::read_pattern, F::dxf, ".dxf", "DXF"},
    {U::write_pattern, F::json, ".json", "Pattern"},
    {U::write_pattern, F::svg, ".svg", "SVG"},
    {U::write_pattern, F::dxf, ".dxf", "DXF"},
    {U::write_pattern, F::pdf, ".pdf", "PDF at true scale"},
    {U::write_folded, F::svg, ".svg", "SVG"},
    {U::write_folded, F::pdf, ".pdf", "PDF at true scale"},
    {U::write_folded, F::json, ".json", "JSON"},
    {U::write_creasing, F::pdf, ".pdf", "Hand-out to print"},
    {U::write_creasing, F::html, ".html", "Hand-out for a browser"},
    {U::write_steps, F::pdf, ".pdf", "Hand-out to print"},
    {U::write_steps, F::html, ".html", "Hand-out for a browser"},
    {U::write_steps, F::svg, ".svg", "Sheet of drawings"},
    {U::write_steps, F::json, ".json", "States"},
    {U::write_project, F::pdf, ".pdf", "PDF at true scale"},
    {U::write_project, F::svg, ".svg", "SVG of the grid"},
    {U::write_project, F::csv, ".csv", "Table of lines"},
    {U::write_project, F::html, ".html", "Hand-out for a browser"},
    {U::write_project, F::ics, ".ics", "Calendar"},
    {U::write_runs, F::csv, ".csv", "Table"},
    {U::write_runs, F::json, ".json", "JSON"},
    {U::write_space, F::glb, ".glb", "Model with both colours"},
    {U::write_space, F::obj, ".obj", "Model"},
    {U::write_space, F::stl, ".stl", "Model to print"},
    {U::write_still, F::png, ".png", "Picture with a clear ground"},
};

} // namespace

std::vector<FormatEntry> formats_for(FileUse use) {
  std::vector<FormatEntry> out;
  for (const FormatEntry& entry : table) {
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
  for (const FormatEntry& entry : table) {
    if (entry.use == use && entry.ending == ending) return entry.format;
  }
  const char* say = use == FileUse::open || use == FileUse::read_pattern ? "{}: files that are read here end in {}"
                                                                         : "{}: end the name with {}";
  return Error{fmt::format(fmt::runtime(say), shown_text(file_name), endings_for(use))};
}

} // namespace uc
