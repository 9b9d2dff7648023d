// How the commands read and write patterns: by the ending of the file, mending what has to be mended and saying so.
#pragma once

#include "command.h"

#include "form/proof.h"
#include "pattern/hand_closing.h"

namespace uc::cli {

/// How FILE is read, shared by the commands: the file and --map.
struct PatternSource {
  std::string file; // - for standard input
  std::vector<std::string> maps;
  std::string format; // json, svg or dxf; by the ending of the name when empty
};
void add_source(CLI::App& command, PatternSource& source);

/// How hands close the pattern is given to `closing`, where the file says it.
/// A CallError names file and line. What was mended or left out is said on standard error.
/// Stopping the progress ends the reading with a CallError.
HealedPattern read_pattern(const PatternSource& source, const Progress* progress = nullptr,
                           HandClosing* closing = nullptr);
/// The name without folder and ending, "pattern" for what comes from standard input.
std::string title_of(const PatternSource& source);
/// Whether a pattern written to `file` would be of the format of its source, so that one may replace the other.
bool same_format(const PatternSource& source, const std::string& file);
/// `source` is refused as the place to write to unless it is of the same format.
void write_pattern(const CreasePattern& pattern, const std::string& file, const PatternSource& source = {},
                   const HandClosing& closing = {});

/// Values of --seconds.
double seconds_option(const std::string& text);
/// Values of --memory, in bytes; half of what is free when empty.
std::size_t memory_option(const std::string& text);

/// --seconds and --memory, shared by what proves.
struct ProofEffort {
  std::string seconds = "60";
  std::string memory;
};
void add_effort(CLI::App& command, ProofEffort& effort, const std::string& what);
/// "The layers need about 3.2 GB, ..." for a proof that would not fit.
std::string memory_sentence(std::size_t needed);
/// Why a pattern does not fold flat, or why that is not known.
std::string no_order_sentence(const PatternProof& proof);
/// What is said when time ran out before there was any answer.
inline constexpr const char* late_sentence = "No answer within the time; allow more --seconds.";

nlohmann::json violations_json(const std::vector<LocalViolation>& violations);
/// "Vertex 12 at 120, 60 mm: ..." for people.
std::string sentence(const LocalViolation& violation);

} // namespace uc::cli
