// The one table of file formats: what is read and written, by the ending of the name. Dialogs, help, error sentences
// and the tests of every ending are made from it.
#pragma once

#include "base/result.h"

#include <algorithm>
#include <iterator>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace uc {

/// What a file is read or written for.
enum class FileUse {
  open,
  save,
  read_pattern,
  write_pattern,
  write_folded,
  write_creasing,
  write_steps,
  write_units, // a hand-out
  write_project,
  write_runs,
  write_space,  // a sheet in space
  write_still,  // a picture of it
  write_scoring // for a plotter
};
constexpr FileUse all_file_uses[] = {
    FileUse::open,           FileUse::save,        FileUse::read_pattern, FileUse::write_pattern, FileUse::write_folded,
    FileUse::write_creasing, FileUse::write_steps, FileUse::write_units,  FileUse::write_project, FileUse::write_runs,
    FileUse::write_space,    FileUse::write_still, FileUse::write_scoring};

enum class FileFormat { project, steps, json, svg, dxf, pdf, html, csv, ics, glb, obj, stl, png, hpgl, gcode };

struct FormatEntry {
  FileUse use;
  FileFormat format;
  const char* ending; // with its point
  const char* title;  // in a dialog
};
constexpr FormatEntry format_table[] = {
    {FileUse::open, FileFormat::project, ".undercrease", "Projects"},
    {FileUse::open, FileFormat::steps, ".steps", "Steps"},
    {FileUse::save, FileFormat::project, ".undercrease", "Projects"},
    {FileUse::read_pattern, FileFormat::json, ".json", "Pattern"},
    {FileUse::read_pattern, FileFormat::svg, ".svg", "SVG"},
    {FileUse::read_pattern, FileFormat::dxf, ".dxf", "DXF"},
    {FileUse::write_pattern, FileFormat::json, ".json", "Pattern"},
    {FileUse::write_pattern, FileFormat::svg, ".svg", "SVG"},
    {FileUse::write_pattern, FileFormat::dxf, ".dxf", "DXF"},
    {FileUse::write_pattern, FileFormat::pdf, ".pdf", "PDF at true scale"},
    {FileUse::write_folded, FileFormat::svg, ".svg", "SVG"},
    {FileUse::write_folded, FileFormat::pdf, ".pdf", "PDF at true scale"},
    {FileUse::write_folded, FileFormat::json, ".json", "JSON"},
    {FileUse::write_creasing, FileFormat::pdf, ".pdf", "Hand-out to print"},
    {FileUse::write_creasing, FileFormat::html, ".html", "Hand-out for a browser"},
    {FileUse::write_steps, FileFormat::pdf, ".pdf", "Hand-out to print"},
    {FileUse::write_steps, FileFormat::html, ".html", "Hand-out for a browser"},
    {FileUse::write_steps, FileFormat::svg, ".svg", "Sheet of drawings"},
    {FileUse::write_steps, FileFormat::json, ".json", "States"},
    {FileUse::write_steps, FileFormat::steps, ".steps", "Steps file, spaced evenly"},
    {FileUse::write_units, FileFormat::pdf, ".pdf", "Hand-out to print"},
    {FileUse::write_units, FileFormat::html, ".html", "Hand-out for a browser"},
    {FileUse::write_project, FileFormat::pdf, ".pdf", "PDF at true scale"},
    {FileUse::write_project, FileFormat::svg, ".svg", "SVG of the grid"},
    {FileUse::write_project, FileFormat::csv, ".csv", "Table of lines"},
    {FileUse::write_project, FileFormat::html, ".html", "Hand-out for a browser"},
    {FileUse::write_project, FileFormat::ics, ".ics", "Calendar"},
    {FileUse::write_runs, FileFormat::csv, ".csv", "Table"},
    {FileUse::write_runs, FileFormat::json, ".json", "JSON"},
    {FileUse::write_space, FileFormat::glb, ".glb", "Model with both colours"},
    {FileUse::write_space, FileFormat::obj, ".obj", "Model"},
    {FileUse::write_space, FileFormat::stl, ".stl", "Model to print"},
    {FileUse::write_still, FileFormat::png, ".png", "Picture with a clear ground"},
    {FileUse::write_scoring, FileFormat::hpgl, ".hpgl", "HPGL for a plotter"},
    {FileUse::write_scoring, FileFormat::gcode, ".gcode", "G-code"},
};

/// The formats of one use, the usual one first.
std::vector<FormatEntry> formats_for(FileUse use);

/// ".json, .svg or .dxf"
std::string endings_for(FileUse use);
/// The format a name stands for by its ending, small or capital; fails with a sentence that says which there are.
Result<FileFormat> format_for(FileUse use, std::string_view file_name);

/// What is made for one format.
template <FileFormat Of, class Make> struct FormatCase {
  static constexpr FileFormat format = Of;
  Make make;
};
template <FileFormat Of, class Make> FormatCase<Of, Make> on(Make make) { return {std::move(make)}; }

/// Makes what the case of a format makes. A use must have one for each of its formats in the table and no other, or it
/// does not compile; `format` is one that `format_for` gave for this use.
template <FileUse use, class Made, class... Case> Made by_format(FileFormat format, Case... cases) {
  constexpr auto cased = [](FileFormat f) { return (0 + ... + (Case::format == f ? 1 : 0)); };
  constexpr auto listed = [](FileUse u) {
    return std::count_if(std::begin(format_table), std::end(format_table), [&](auto& e) { return e.use == u; });
  };
  static_assert(std::all_of(std::begin(format_table), std::end(format_table),
                            [&](const FormatEntry& e) { return e.use != use || cased(e.format) == 1; }),
                "each format of this use needs a case");
  static_assert(listed(use) == static_cast<std::ptrdiff_t>(sizeof...(Case)), "a case is of a format of another use");
  std::optional<Made> made;
  ((format == Case::format ? void(made.emplace(cases.make())) : void()), ...);
  return std::move(*made);
}

} // namespace uc
