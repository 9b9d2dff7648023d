// One sheet of paper at one moment, folded flat: the creases made so far, which of them are folded, where each face
// lies and which face lies above which. A form is only ever made whole: what would pass paper through paper is an
// error.
#pragma once

#include "form/folded_form.h"
#include "form/layer_constraints.h"

#include <string>
#include <vector>

namespace uc {

struct PieceForm {
  CreasePattern pattern;    // on the bare sheet; mountains and valleys are folded now, `unfolded` are open creases
  std::vector<int> line_of; // per edge of the pattern: the paper line it lies on, -1 for the edge of the sheet
  PatternGraph graph;
  FoldedForm form; // as the paper lies before the folder, who may look at it from behind
  Overlap overlap;
  PairIndex pairs;               // of faces that overlap
  std::vector<char> first_above; // per pair; seen from the side of the table's ceiling
  std::vector<Segment> marks;    // pinches, on the bare sheet: they bound no face

  /// Whether `upper` lies above `lower`; both overlap.
  [[nodiscard]] bool above(FaceId upper, FaceId lower) const;
  [[nodiscard]] bool overlapping(FaceId f, FaceId g) const { return pairs.above(f, g) != 0; }
  /// The faces over a cell, topmost first.
  [[nodiscard]] std::vector<FaceId> layers_of(const FoldedCell& cell) const;
};

/// The sheet before anything is folded.
PieceForm bare_form(const Polygon& sheet);

/// New creases on the bare sheet, each with its paper line.
struct NewCrease {
  Segment on_sheet;
  int line = 0;
};

/// A pattern with open creases laid over it, neither joined nor split where they cross.
CreasePattern laid_over(CreasePattern pattern, const std::vector<NewCrease>& creases);

/// The form with more creases, all of them open: nothing moves. `parent`, when given, gets for each face the one it was
/// a part of. Fails when creases lie too close together to tell apart.
Result<PieceForm> with_creases(const PieceForm& form, const std::vector<NewCrease>& creases,
                               std::vector<FaceId>* parent = nullptr);

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

/// Faces for which an order of the layers breaks a condition of the flat-folded state; empty when it is sound. An
/// independent check of whatever made the order.
std::vector<FaceId> broken_layers(const PieceForm& form);

/// The faces that hold a point of the bare sheet, inside or on their edge.
std::vector<FaceId> faces_at(const PieceForm& form, const Point& on_sheet);

} // namespace uc
