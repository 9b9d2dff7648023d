// The folded form as a file: JSON with the isometry of every face and the order of the layers, and SVG from either
// side.
#pragma once

#include "form/proof.h"
#include "io/handout.h"
#include "io/pdf.h"

#include <string>

namespace uc {

/// {"format":"under-crease/folded", ...}; the proof must have found an order.
std::string folded_json(const PatternProof& proof);

struct FoldedSvgOptions {
  bool from_behind = false;
  std::string face = "#F3C98B";
  std::string underside = "#FCFAF5";
};
/// What is seen of the folded form, opaque, one user unit per mm: each visible cell in the colour of its topmost face.
std::string folded_svg(const PatternProof& proof, const std::string& title, const FoldedSvgOptions& options = {});

/// The bytes of FILE.json, .svg or .pdf (the edges that show at true scale, on as many pages as it takes); fails for
/// other endings.
Result<std::string> folded_bytes(const PatternProof& proof, const std::string& file_name, const std::string& title,
                                 const FoldedSvgOptions& options, const PageFonts& fonts, const PrintOptions& print);

} // namespace uc
