// The long work of the Prove stage, off the interface thread: proving, proposing repairs, finding directions, counting.
#pragma once

#include "collapse/space_proof.h"
#include "form/layer_components.h"
#include "form/proof.h"
#include "pattern/design.h"
#include "pattern/repair.h"

#include <memory>

namespace uc::app {

struct ProofFindings {
  std::shared_ptr<const DrawnPattern> drawn; // what was proved
  std::shared_ptr<const PatternProof> proof; // null when it could not be
  std::string error;
  std::vector<std::vector<VertexRepair>> repairs; // of the first violations
  std::optional<Directed> directed;               // when directions were asked for
  std::string states;                             // when a count was asked for
  std::optional<SpaceProof> space;                // of what closes in space; then nothing is asked of its layers
};

enum class ProofTask { prove, direct, count };

constexpr std::size_t most_repaired_violations = 24;

ProofFindings find_proof(ProofTask task, DirectionWish wish, std::shared_ptr<const DrawnPattern> drawn, double seconds,
                         Progress& progress, LayerCache& cache);

} // namespace uc::app
