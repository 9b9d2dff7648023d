// The pattern file of our own:
// {"format":"under-crease/pattern","version":1,"vertices":[[x,y]..],"edges":[[i,j,kind]..]} in mm, and the folded form
// as JSON.
#pragma once

#include "form/crease_pattern.h"

#include <string>

namespace uc {

constexpr std::size_t most_pattern_edges = 2'000'000;
constexpr double most_pattern_mm = 1e5; // coordinates beyond 100 m are a mistake

/// The pattern as it stands in the text, unmended. An error names the line and what to change there.
Result<CreasePattern> parse_pattern_json(const std::string& text);
/// Written so that reading gives back every coordinate exactly.
std::string pattern_json(const CreasePattern& pattern);

} // namespace uc
