// What is seen of a folded form from one side: patches of paper, each with the face on top, and the edges that show.
// Data for drawings, the same on screen, in print and in files.
#pragma once

#include "form/proof.h"
#include "programme/figure.h"

namespace uc {

struct FoldedPatch {
  Polygon outline;
  FaceId face{0};       // the one on top
  bool coloured = true; // its coloured side shows
  int layers = 1;
};

struct FoldedEdge {
  Segment segment;
  bool raw = false; // a raw edge or a cut shows here, else a folded edge or an unfolded crease
};

struct FoldedView {
  std::vector<FoldedPatch> patches;
  std::vector<FoldedEdge> edges;
  Box box;
};

/// From the coloured side of face 0, or mirrored left to right from behind.
FoldedView folded_view(const PatternProof& proof, bool from_behind);

/// The edges that show, as a drawing for print.
Figure folded_figure(const FoldedView& view);

struct LayeredFace {
  Polygon outline; // where it lies folded
  FaceId face{0};
  int level = 0; // 0 lowest; above everything it covers
  bool coloured = true;
};

/// All faces from the lowest to the topmost, seen from one side. Where layers run in a circle (which a flat sheet can
/// do) one of them gives way.
std::vector<LayeredFace> layered_faces(const PatternProof& proof, bool from_behind);

/// The faces over a place of the folded form, topmost first, seen from the front.
std::vector<FaceId> faces_at(const PatternProof& proof, const Point& folded);

} // namespace uc
