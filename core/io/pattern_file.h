// Crease patterns to and from files, the format chosen by the ending: .json, .svg, .dxf, and .pdf for writing. Both
// programs call this.
#pragma once

#include "io/handout.h"
#include "io/line_work.h"
#include "io/pdf.h"
#include "pattern/hand_closing.h"

namespace uc {

constexpr std::size_t largest_pattern_file = std::size_t{256} << 20;

/// The patterns a file ending stands for, or an error that lists the endings.
enum class PatternFormat { json, svg, dxf, pdf };
Result<PatternFormat> pattern_format(const std::string& file_name, bool writing);

/// Lines of an SVG or DXF, not yet mapped.
Result<LineWork> parse_line_work(const std::string& text, PatternFormat format);

struct ReadPattern {
  HealedPattern healed;
  HandClosing closing; // per edge of `healed`
  std::map<std::string, int> left_out;
};
/// Reads and heals. In drawings (SVG, DXF) crossings are split; the pattern file of our own says exactly what it means,
/// so there they are left for the proof to find. Stopping `progress` is an error. Errors begin with "line N: ".
Result<ReadPattern> parse_pattern(const std::string& text, PatternFormat format, const KindMapping& mapping,
                                  const Progress* progress = nullptr);

/// One sentence for what was left out: "2 curves, 1 text left out."
std::string left_out_sentence(const std::map<std::string, int>& left_out);

/// How hands close it is kept by the format of our own only.
Result<std::string> pattern_bytes(const CreasePattern& pattern, PatternFormat format, const std::string& title,
                                  const PageFonts& fonts, const PrintOptions& print, const HandClosing& closing = {});

} // namespace uc
