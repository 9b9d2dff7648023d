// What every reader's fuzz target does: read, check that a refusal is one line, and prove what is small enough.
#pragma once

#include "form/proof.h"
#include "io/pattern_file.h"

#include <algorithm>
#include <cstdint>
#include <cstdlib>
#include <string>

namespace uc::fuzz {

inline int read_and_prove(const std::string& text, PatternFormat format) {
  KindMapping mapping;
  mapping.push_back({KindRule::By::dash, "solid", EdgeKind::undirected});
  mapping.push_back({KindRule::By::dash, "bylayer", EdgeKind::undirected});
  const auto read = parse_pattern(text, format, mapping);
  if (!read) {
    if (!read.error().starts_with("line ") || read.error().find('\n') != std::string::npos) std::abort();
    return 0;
  }
  const CreasePattern& p = read->healed.pattern;
  for (const PatternEdge& e : p.edges) {
    if (e.from == e.to || e.from < 0 || e.to < 0 ||
        static_cast<std::size_t>(std::max(e.from, e.to)) >= p.vertices.size())
      std::abort();
  }
  if (p.edges.size() > 200) return 0;
  (void)proved(read->healed, {true, 1, nullptr});
  return 0;
}

} // namespace uc::fuzz
