// From one flat state of the paper to the next: faces come to lie anew, and an order of the layers is found in which
// what does not move keeps its own. Where paper would tear or pass through paper there is none, and the reason is told.
#pragma once

#include "form/piece_form.h"

#include <array>
#include <utility>
#include <vector>

namespace uc {

/// What a move does to paper that has all its creases.
struct Refolding {
  std::vector<Isometry> place;              // per face: from the bare sheet to where it lies afterwards
  std::vector<std::array<FaceId, 2>> above; // the first lies above the second, where they overlap
  std::vector<CreaseId> turned;             // folded creases that change sense: a valley becomes a mountain
  std::vector<CreaseId> may_turn;           // folded creases that may; all others keep it as long as they are folded
  std::vector<std::pair<CreaseId, EdgeKind>> senses; // creases that are folded as this, mountain or valley
};

/// The form afterwards. Faces that stay keep the order among themselves; of those that move, as many pairs as can keep
/// theirs: they turn over together. Fails with the reason and the faces when paper would tear or pass through paper.
Result<PieceForm> refolded(const PieceForm& form, const Refolding& to);

/// The places of the faces with these creases folded, and all others as they are: those of `opens` lie open. The face
/// `stays` keeps its place. Fails where the paper would tear.
Result<std::vector<Isometry>> places_after(const PieceForm& form, const std::vector<CreaseId>& folds,
                                           const std::vector<CreaseId>& opens, FaceId stays);

/// Of the parts into which these creases divide the paper the largest: one of its faces.
FaceId largest_part(const PieceForm& form, const std::vector<CreaseId>& edges);

/// The faces that are marked come to lie anew, on top of all others or below them, the order among them turned about
/// as the paper turns. Fails with the reason when paper would tear or pass through paper.
Result<PieceForm> refolded(const PieceForm& form, const std::vector<char>& moves, const Isometry& where, bool on_top);

/// These creases, by edge of the pattern, lie open afterwards; the largest part of the paper stays where it is, and the
/// order of what keeps its place to each other is kept where it can be. Fails when the others hold them.
Result<PieceForm> opened(const PieceForm& form, const std::vector<CreaseId>& edges);

/// The faces that are marked `flap` come to lie below those marked `under` where both overlap, or above them when
/// `from_below`; nothing else changes places. Fails when paper would pass through paper.
Result<PieceForm> tucked(const PieceForm& form, const std::vector<char>& flap, const std::vector<char>& under,
                         bool from_below);

} // namespace uc
