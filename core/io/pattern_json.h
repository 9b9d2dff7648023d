// The pattern file of our own:
// {"format":"under-crease/pattern","version":1,"vertices":[[x,y]..],"edges":[[i,j,kind]..]} in mm, and the folded form
// as JSON. A pattern that hands close otherwise than flat and all together brings two lists more, one entry per edge:
// "full_deg", how far it is folded in the end, and "goals", [stage, degrees] for each stage that folds it.
#pragma once

#include "form/crease_pattern.h"
#include "pattern/hand_closing.h"

#include <nlohmann/json_fwd.hpp>

#include <string>

namespace uc {

constexpr std::size_t most_pattern_edges = 2'000'000;
constexpr double most_pattern_mm = 1e5; // coordinates beyond 100 m are a mistake

/// The pattern as it stands in the text, unmended. An error names the line and what to change there.
Result<CreasePattern> parse_pattern_json(const std::string& text);
/// How hands close the pattern of that text, which has so many edges; nothing where it does not say. Errors as above.
Result<HandClosing> parse_hand_closing(const std::string& text, std::size_t edges);
/// Written so that reading gives back every coordinate exactly.
std::string pattern_json(const CreasePattern& pattern, const HandClosing& closing = {});

nlohmann::json json_of(const std::vector<CreaseGoals>& goals);

} // namespace uc
