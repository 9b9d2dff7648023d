// A sequence of folds carried out: the state of the paper after every move, with names for points and creases that stay
// with the paper. Every state is proved; the first move that cannot be made ends it with its line and the reason.
#pragma once

#include "align/alignment.h"
#include "fold/names.h"
#include "fold/simple_fold.h"
#include "fold/steps_file.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace uc {

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

struct StepState {
  int line = 0;  // of the file; 0 for the bare sheet
  int step = -1; // in the file's list
  std::shared_ptr<const PieceForm> form;
  bool underside_up = false; // turned over an odd number of times
  double turned_deg = 0;
  int fold = -1;      // record of the fold this move made
  int layers = 0;     // that it went through
  bool moved = false; // paper lies elsewhere than before
  std::string remark; // said after this move
};

struct FoldSequence {
  StepsFile file;
  std::vector<StepState> states; // the bare sheet first, then one per move
  std::vector<FoldRecord> folds;
  std::vector<PaperLine> lines;
  std::map<std::string, int> creases;                  // by their names, several of one crease among them
  std::map<std::string, Point> points;                 // named in the file, on the bare sheet
  std::map<std::string, std::array<int, 2>> crossings; // of these points, the paper lines
};

/// Why a sequence ends early.
struct StepRefusal {
  int line = 0;
  std::string reason;
  bool unknown_name = false; // the file is wrong, whatever the paper does
  [[nodiscard]] std::string sentence() const;
};

struct FoldedSequence {
  FoldSequence made; // as far as it goes
  std::optional<StepRefusal> refused;
};

FoldedSequence fold_sequence(StepsFile file);

} // namespace uc
