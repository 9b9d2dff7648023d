// How a crease was made, so that it can be found again when what it was aligned by lies a little off: the things that
// were aligned, each in its layer, and the pieces of the crease in all the layers it went through.
#pragma once

#include "align/alignment.h"

#include <array>
#include <string>
#include <vector>

namespace uc {

/// A point or line that was aligned, as it can be found again when creases lie a little off: a corner or edge of the
/// sheet, a crossing of two lines, a crease, each in a layer.
struct AlignedThing {
  enum class Kind { corner, edge, crossing, crease };
  Kind kind = Kind::corner;
  int index = 0;              // corner or edge of the sheet; paper line of a crease
  std::array<int, 2> lines{}; // crossing: two paper lines, -1 - i for edge i of the sheet
  std::vector<int> folded_at; // the layer it lay in: paper lines to be mirrored in, from the first face
};

/// A straight piece of a crease in one layer. Where it lies on the bare sheet follows from the fold that made it and
/// from the folds the paper lay in at that moment: lines to be mirrored in, from the first face to its layer.
struct PaperLine {
  int fold = 0;   // the record of the fold that made it
  int crease = 0; // the crease it belongs to
  std::vector<int> folded_at;
};

/// A fold as it was aligned: what its errors follow from.
struct FoldRecord {
  Alignment op = Alignment::O2;
  bool along = false;               // on the crease things[0], without a new alignment
  std::vector<AlignedThing> things; // points, then lines, as AlignmentInputs has them
  Line line;                        // as the paper lay, the first face in its place
  Segment aligned;                  // the part that was creased, where the errors of both ends act
  int layers = 1;
  std::string name;
};

} // namespace uc
