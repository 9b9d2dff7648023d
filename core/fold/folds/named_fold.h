// Folds that have names: where their creases lie follows by reflection through the layers they meet, and which faces
// come where. All of them are carried out by the same means; a new one is a maker here and a line in the table.
#pragma once

#include "fold/scene.h"
#include "form/refolding.h"

#include <functional>
#include <vector>

namespace uc {

/// A crease that a fold makes, or folds on anew.
struct FoldLine {
  FoldRecord record;                              // `line` as the paper lies; layers and name are filled in later
  std::vector<std::pair<FaceId, Segment>> pieces; // in the faces of the form as it was, on the bare sheet
  int crease = -1;                                // of which it is a part; -1: a new one
};

struct NamedFolding {
  std::vector<FoldLine> lines;
  /// What is done once these are creased; `parent` gives for each face the one it was a part of.
  std::function<Refolding(const PieceForm& creased, const std::vector<FaceId>& parent)> then;
};

/// `next_line` is the number the first piece of paper line will get, those after it the next ones.
using FoldMaker = NamedFolding (*)(const Scene& scene, const StepLine& step, int next_line);

/// The makers throw NotMade where the paper has no such flap.
NamedFolding reverse_fold(const Scene& scene, const StepLine& step, int next_line); // and open sinks
NamedFolding squash_fold(const Scene& scene, const StepLine& step, int next_line);
NamedFolding petal_fold(const Scene& scene, const StepLine& step, int next_line);
NamedFolding rabbit_ear(const Scene& scene, const StepLine& step, int next_line);
NamedFolding collapse_on_creases(const Scene& scene, const StepLine& step, int next_line);

/// Null for verbs that are no named folds.
FoldMaker fold_maker(StepVerb verb);

} // namespace uc
