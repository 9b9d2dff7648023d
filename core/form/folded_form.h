// The folded form: where each face of a crease pattern comes to lie when every crease is folded flat, and the cells
// into which the folded outlines divide the plane, each with the faces that cover it. No layer order yet.
#pragma once

#include "form/crease_pattern.h"

#include <vector>

namespace uc {

struct FoldedForm {
  std::vector<Isometry> place;   // per face: from the bare sheet to the folded form; face 0 stays
  std::vector<char> flipped;     // per face: underside up
  std::vector<Point> vertices;   // where each vertex of the pattern comes to lie
  double closure_mm = 0;         // how far the ends of an edge lie apart, seen from its two faces
  std::vector<FaceId> open_loop; // faces round a hole that does not close, when there is one
  Box box;                       // of the whole
};

/// Faces placed by walking from face to face, from face 0. Fails for a pattern without paper or in separate pieces.
Result<FoldedForm> folded_form(const CreasePattern& pattern, const PatternGraph& graph);

/// The sides of the least rectangle about the folded paper, the longer first: its size, wherever one is told.
Point folded_size(const FoldedForm& form);

struct FoldedCell {
  std::vector<VertexId> cycle; // vertices of the overlap, counter-clockwise
  std::vector<FaceId> faces;   // ascending
  double area = 0;
  bool sliver = false; // thinner than the tolerance: no overlap is read from it
};

/// A piece of the folded outlines and what is folded, joined or crossing there. `left` and `right` hold the two faces
/// of each folded crease that lie on that side; `across` the two faces, left first, of each crease that is not folded.
struct FoldedPiece {
  VertexId from; // of the overlap
  VertexId to;
  int left_cell = -1; // -1: outside
  int right_cell = -1;
  std::vector<std::array<FaceId, 2>> left, right, across;
  std::vector<CreaseId> edges; // of the pattern that lie here
};

struct Overlap {
  std::vector<Point> vertices;
  std::vector<FoldedCell> cells;
  std::vector<FoldedPiece> pieces;
  int layers_max = 0;
  std::size_t memory_needed = 0; // bytes, at least, when that is more than allowed
};

/// What work on a pattern may take.
struct WorkLimits {
  std::size_t memory_bytes = static_cast<std::size_t>(-1);
  const Progress* progress = nullptr;
};

/// `memory_needed` is set, and the rest empty, when the cells alone would take more than allowed. Stopping the progress
/// leaves the work where it is.
Result<Overlap> overlap_of(const CreasePattern& pattern, const PatternGraph& graph, const FoldedForm& form,
                           const WorkLimits& limits = {});

} // namespace uc
