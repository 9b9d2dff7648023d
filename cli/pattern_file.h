// How the commands read and write patterns: by the ending of the file, mending what has to be mended and saying so.
#pragma once

#include "command.h"

#include "pattern/proof.h"

namespace uc::cli {

/// How FILE is read, shared by the commands: the file and --map.
struct PatternSource {
  std::string file;
  std::vector<std::string> maps;
};
void add_source(CLI::App& command, PatternSource& source);

/// A CallError names file and line. What was mended or left out is said on standard error.
HealedPattern read_pattern(const PatternSource& source);
void write_pattern(const CreasePattern& pattern, const std::string& file);

/// Values of --seconds.
double seconds_option(const std::string& text);

nlohmann::json violations_json(const std::vector<LocalViolation>& violations);
/// "Vertex 12 at 120, 60 mm: ..." for people.
std::string sentence(const LocalViolation& violation);

} // namespace uc::cli
