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

/// Faces for which an order of the layers breaks a condition of the flat-folded state; empty when it is sound. An
/// independent check of whatever made the order.
std::vector<FaceId> broken_layers(const PieceForm& form);

/// A point of the bare sheet inside a face, away from its edges.
Point inside_of(const CreasePattern& pattern, const GraphFace& face);

/// The faces that hold a point of the bare sheet, inside or on their edge.
std::vector<FaceId> faces_at(const PieceForm& form, const Point& on_sheet);

} // namespace uc
