// The folded form as a file: JSON with the isometry of every face and the order of the layers, and SVG from either
// side.
#pragma once

#include "pattern/proof.h"

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

} // namespace uc
