// A fold sequence on paper: numbered figures with a sentence each, as PDF, HTML or SVG.
#pragma once

#include "fold/sequence.h"
#include "io/handout.h"
#include "io/pdf.h"

namespace uc {

/// One drawing per move, and the finished piece. The sequence must outlive what is returned.
HandoutMoves step_moves(const FoldSequence& sequence, const TextStyle& style);

/// All figures on one page of its own size, so many beside each other, the words this large.
Page steps_page(const FoldSequence& sequence, const TextStyle& style, const PageFonts& fonts, std::size_t columns = 3,
                double words_mm = 3);
std::string steps_svg(const FoldSequence& sequence, const TextStyle& style, const PageFonts& fonts);

/// The bytes of FILE.pdf, .html, .svg, .json or .steps, chosen by the ending; fails for others. `source` is the text
/// the sequence was read from.
Result<std::string> steps_bytes(const FoldSequence& sequence, std::string_view source, const std::string& file_name,
                                double sigma_mm, const PageFonts& fonts, const PrintOptions& print);

} // namespace uc
