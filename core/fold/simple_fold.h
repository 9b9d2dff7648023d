// A fold on one straight line through all layers, through the top few, or of one flap: which faces move, and why it
// cannot be made when they are held. (Simple folds: Arkin, Bender, Demaine and others 2004.)
#pragma once

#include "form/refolding.h"

namespace uc {

struct FoldLayers {
  enum class Kind { all, top, flap };
  Kind kind = Kind::all;
  int count = 0;              // top: how many, from the side the folder sees
  Point flap = Point::Zero(); // flap: a point on the bare sheet that moves with it
};

struct SimpleFold {
  Line line;          // as the paper lies
  double side = 1;    // what moves lies where line.distance has this sign
  bool on_top = true; // it comes to lie on top, seen from the ceiling; else below everything
  FoldLayers layers;
};

/// The faces that are creased or move: those the wish names and whatever is tied to them where it moves. Fails with the
/// reason when nothing lies there, when layers below are tied to what should move, and when paper lies on it.
Result<std::vector<FaceId>> moving_faces(const PieceForm& form, const SimpleFold& fold);

/// These faces and all that is joined to them beyond the line, folded or not: the end of a flap. Ascending; those that
/// do not reach beyond the line are left out.
std::vector<FaceId> tied_faces(const PieceForm& form, const Line& line, double side, const std::vector<FaceId>& from);

/// Where the line runs over each of these faces, on the bare sheet.
std::vector<std::pair<FaceId, Segment>> creased_pieces(const PieceForm& form, const Line& line,
                                                       const std::vector<FaceId>& faces);

/// The fold made on a form that is creased along the line already; `moving` are faces of it.
Result<PieceForm> folded_over(const PieceForm& creased, const SimpleFold& fold, const std::vector<char>& moving);

/// How many layers of paper are creased at the thickest place of the line.
int layers_creased(const PieceForm& form, const SimpleFold& fold, const std::vector<FaceId>& faces);

} // namespace uc
