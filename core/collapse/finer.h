// Facets divided so that they can curve: every triangle of the mesh becomes four, with hinges between them that bend.
#pragma once

#include "collapse/stages.h"

#include <vector>

namespace uc {

struct FinerPattern {
  HealedPattern pattern;                       // the vertices of the original first, in their order
  std::vector<double> full_deg;                // as fold_mesh takes it
  std::vector<CreaseGoals> goals;              // the same
  std::vector<std::vector<CreaseId>> parts_of; // per edge of the original: the edges it has become, from end to end
};

/// `times` is how often every facet is divided; 0 gives the pattern back. Fails where fold_mesh does.
Result<FinerPattern> finer(const HealedPattern& pattern, const std::vector<double>& full_deg, int times,
                           const std::vector<CreaseGoals>& goals = {});

/// Stages of the original, for the edges that its creases have become.
std::vector<DriveStage> stages_on(const FinerPattern& fine, const std::vector<DriveStage>& stages);

} // namespace uc
