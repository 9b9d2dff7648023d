// The one table of file formats: what is read and written, by the ending of the name. Dialogs, help, error sentences
// and the tests of every ending are made from it.
#pragma once

#include "base/result.h"

#include <optional>
#include <string>
#include <string_view>
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
  write_project,
  write_runs,
  write_space, // a sheet in space
  write_still  // a picture of it
};
constexpr FileUse all_file_uses[] = {FileUse::open,          FileUse::save,          FileUse::read_pattern,
                                     FileUse::write_pattern, FileUse::write_folded,  FileUse::write_creasing,
                                     FileUse::write_steps,   FileUse::write_project, FileUse::write_runs,
                                     FileUse::write_space,   FileUse::write_still};

enum class FileFormat { project, steps, json, svg, dxf, pdf, html, csv, ics, glb, obj, stl, png };

struct FormatEntry {
  FileUse use;
  FileFormat format;
  const char* ending; // with its point
  const char* title;  // in a dialog
};
/// The formats of one use, the usual one first.
std::vector<FormatEntry> formats_for(FileUse use);

/// ".json, .svg or .dxf"
std::string endings_for(FileUse use);
/// The format a name stands for by its ending, small or capital; fails with a sentence that says which there are.
Result<FileFormat> format_for(FileUse use, std::string_view file_name);

} // namespace uc
