// What stands in space as a file, by the ending of its name: a model other programs read, or a picture.
#pragma once

#include "command.h"

#include "io/still.h"

namespace uc::cli {

/// Options of a picture: from where, and how lit.
struct StillOptions {
  std::string view = "-25,-50", lamp, pixels = "2400";
  bool behind = false, sweep = false;
  double ambient = 0.55; // without a lamp
};
/// With a lamp's sweep where there is relief to see.
void add_still(CLI::App& command, StillOptions& options, bool sweep);

/// ".glb, .obj, .stl or .png"
std::string space_endings();
/// Fails, before anything is worked out, for other endings, for options that are not a view or a lamp, and for those of
/// pictures where none is asked for. No file: an empty name.
void check_space(const CLI::App& command, const std::string& file, const StillOptions& options);
/// Of a model `size_mm` across, 0 for what it is, with lines that only pictures show.
std::string space_file(const std::string& file, const SpatialModel& model, const StillOptions& options, double size_mm,
                       std::vector<StillLine> lines = {});

} // namespace uc::cli
