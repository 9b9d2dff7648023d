// The whole proof of a pattern: every vertex, then the order of all layers, with everything found on the way, so that
// it can be drawn, written to a file or asked further.
#pragma once

#include "form/layer_proof.h"
#include "form/local_proof.h"
#include "form/simple_folding.h"

#include <optional>
#include <vector>

namespace uc {

struct ProofOptions {
  bool layers = true;
  double seconds = 60;
  const Progress* progress = nullptr;
  LayerCache* cache = nullptr; // of layers solved before, for proofs of a pattern that changes little by little
  std::size_t memory_bytes = static_cast<std::size_t>(-1); // layers that would take more are not tried
  bool simple_folds = true; // first look for simple folds one after the other, which need no search
};

struct PatternProof {
  CreasePattern pattern;
  std::vector<LocalViolation> violations;
  std::optional<PatternGraph> graph; // of the pattern; with crossings split where edges cross
  LayerStatus status = LayerStatus::not_tried;
  std::size_t memory_needed = 0; // bytes, when the layers were not tried because they do not fit
  std::vector<FaceId> clash;
  std::optional<FoldedForm> form; // these two when layers were tried
  std::optional<Overlap> overlap;
  std::optional<SimpleFolding> simple;         // when simple folds lead there; then there is no
  std::optional<LayerConstraints> constraints; // and no order by pairs
  LayerOrder order;

  [[nodiscard]] bool locally_flat() const { return violations.empty(); }
  [[nodiscard]] bool folds_flat() const { return locally_flat() && status == LayerStatus::found; }
  /// After an order was found, for faces that overlap: whether `upper` lies above `lower`, seen from the coloured side
  /// of face 0.
  [[nodiscard]] bool above(FaceId upper, FaceId lower) const;
  /// The faces over a cell, topmost first.
  [[nodiscard]] std::vector<FaceId> layers_of(const FoldedCell& cell) const;
  /// The faces that overlap, each two once, upper before lower.
  [[nodiscard]] std::vector<std::array<FaceId, 2>> overlapping() const;
};

/// Fails when the pattern encloses no paper or lies in separate pieces. The status is out-of-time when the progress was
/// stopped at whatever point; then what was found before stands.
Result<PatternProof> proved(const HealedPattern& healed, const ProofOptions& options = {});

struct Directed {
  std::optional<CreasePattern> pattern;   // all creases directed, when layers exist
  std::vector<LocalViolation> violations; // when a vertex stands in the way
  std::vector<CreaseId> contradiction; // else directed creases that do not go together; without any one the rest does
  bool contradiction_smallest = false; // no fewer creases contradict each other
  std::vector<FaceId> clash;           // else faces that clash whatever the directions
  bool out_of_time = false;
  std::size_t memory_needed = 0; // bytes, when the layers do not fit
  bool most_wishes = false;      // no directions keep more of the wish than these
  bool no_symmetry = false;      // the creases have no mirror line, or no layers go with it
};

/// Gives every undirected crease a direction so that layers exist; directions that are there are kept. Of a wish as
/// much is kept as goes together; symmetric directions are wholly so or not found (`no_symmetry`).
Result<Directed> directed(const HealedPattern& healed, const ProofOptions& options = {},
                          DirectionWish wish = DirectionWish::any);

} // namespace uc
