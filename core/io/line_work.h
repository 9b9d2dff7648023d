// Lines read from a drawing that knows nothing of creases, each with the marks that may tell its kind, and the mapping
// from such marks to kinds.
#pragma once

#include "form/crease_pattern.h"

#include <map>
#include <string>
#include <vector>

namespace uc {

struct DrawnLine {
  Segment segment;
  std::vector<std::string> classes; // SVG
  std::string layer;                // DXF layer, or id or label of the SVG group
  std::string colour;               // #rrggbb, or the number of a DXF colour
  std::string dash;                 // "solid", the dash list, or the DXF linetype
  long line = 0;                    // in the file
};

struct LineWork {
  std::vector<DrawnLine> lines;
  std::map<std::string, int> left_out; // what was not read: curves, texts, ...
};

/// One rule of a mapping: lines whose class, layer, colour or dash is `value` are of `kind`, or not read at all.
struct KindRule {
  enum class By { css_class, layer, colour, dash } by = By::colour;
  std::string value;
  std::optional<EdgeKind> kind; // none: leave these lines out
};
using KindMapping = std::vector<KindRule>;

/// "colour:#7b3f91=mountain", "layer:Guides=skip".
Result<KindRule> parse_kind_rule(const std::string& text);
std::string kind_rule_text(const KindRule& rule);

/// The kind of a line: by the first rule that fits, else by a class or layer that is named as a kind.
struct ReadKind {
  bool known = false;
  std::optional<EdgeKind> kind; // none: left out
};
ReadKind kind_of(const DrawnLine& line, const KindMapping& mapping);

/// How the lines that no rule fits can be told apart, most lines first: what a mapping dialog offers.
struct UnknownLines {
  KindRule rule; // with no kind
  int count = 0;
  long first_line = 0;
};
std::vector<UnknownLines> unknown_lines(const LineWork& work, const KindMapping& mapping);

/// The pattern of all lines whose kind is known; fails for unknown ones, saying what to map.
Result<CreasePattern> mapped(const LineWork& work, const KindMapping& mapping);

/// Tells drawings of one origin apart from others: the marks in use, sorted.
std::string signature(const LineWork& work);

} // namespace uc
