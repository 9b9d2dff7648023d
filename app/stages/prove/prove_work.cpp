#include "stages/prove/prove_work.h"

#include "base/memory.h"
#include "form/layer_count.h"

namespace uc::app {

ProofFindings find_proof(ProofTask task, DirectionWish wish, std::shared_ptr<const DrawnPattern> drawn, double seconds,
                         Progress& progress, LayerCache& cache) {
  ProofFindings out;
  out.drawn = std::move(drawn);
  ProofOptions options{true, seconds, &progress, &cache, free_memory() / 2};
  options.simple_folds = task != ProofTask::count;
  const bool in_space = task == ProofTask::prove && !out.drawn->lies_flat && out.drawn->healed.crossings.empty();
  options.layers = !in_space;
  auto proof = proved(out.drawn->healed, options);
  if (!proof) {
    out.error = proof.error();
    return out;
  }
  auto made = std::make_shared<PatternProof>(std::move(proof).value());
  out.proof = made;
  if (in_space) {
    made->violations.clear(); // they are of what folds flat
    if (out.drawn->usual_part == 0) return out;
    auto space = space_proof(*out.drawn, &progress);
    if (space)
      out.space = *space;
    else
      out.error = space.error();
    return out;
  }
  if (out.drawn->healed.crossings.empty()) {
    for (std::size_t i = 0; i < std::min(most_repaired_violations, made->violations.size()); ++i) {
      if (progress.cancelled()) break;
      out.repairs.push_back(repairs_of(made->pattern, *made->graph, made->violations[i]));
    }
  }
  if (task == ProofTask::direct) {
    auto d = directed(out.drawn->healed, options, wish);
    if (d)
      out.directed = std::move(d).value();
    else
      out.error = d.error();
  }
  if (task == ProofTask::count && made->status == LayerStatus::found) {
    const auto states = counted_states(*made->constraints, {seconds, &progress, nullptr});
    if (states)
      out.states = *states;
    else
      out.error = states.error();
  }
  return out;
}

} // namespace uc::app
