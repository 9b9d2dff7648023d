// A sequence of folds carried out: the state of the paper after every move, with names for points and creases that stay
// with the paper. Every state is proved; the first move that cannot be made ends it with its line and the reason.
#pragma once

#include "fold/names.h"
#include "fold/simple_fold.h"
#include "fold/steps_file.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace uc {

struct StepState {
  int line = 0;  // of the file; 0 for the bare sheet
  int step = -1; // in the list of moves made
  std::shared_ptr<const PieceForm> form;
  bool underside_up = false; // turned over an odd number of times
  double turned_deg = 0;
  int fold = -1;      // record of the fold this move made, the first of several
  int folds = 0;      // how many it made
  int layers = 0;     // that it went through
  bool moved = false; // paper lies elsewhere than before
  std::string remark; // said after this move
};

/// From the paper as it lies to how the folder looks at it: turned, then mirrored left to right when it was turned
/// over.
Isometry seen_by_folder(const StepState& state);

struct FoldSequence {
  StepsFile file;
  std::vector<StepLine> steps;   // as they were made: those of the file, repeated ones with the names they had there
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
