// Whether the layers of a flat-folded pattern can be ordered at all, in which way, in how many ways, and if not, which
// faces clash. Propagation first (equations by union-find, parities, transitivity over stacks), then a SAT solver.
#pragma once

#include "base/names.h"

#include "base/parallel.h"
#include "form/direction_wish.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

class LayerCache;

enum class LayerStatus { found, impossible, not_tried, out_of_time };
template <>
inline constexpr auto
    enum_words<LayerStatus> = std::to_array<Word<LayerStatus>>({{LayerStatus::found, "found"},
                                                                {LayerStatus::impossible, "impossible"},
                                                                {LayerStatus::not_tried, "not-tried"},
                                                                {LayerStatus::out_of_time, "out-of-time"}});

struct LayerOptions {
  double seconds = 60;
  const Progress* progress = nullptr; // cancelling ends the search as out of time
  LayerCache* cache = nullptr;        // of answers to components met before
  bool clash = true;                  // a "no" names faces that clash, which can take longer than the answer
  bool prove_most = true;             // kept wishes are as many as can be, not only none can be added
};

struct LayerOrder {
  LayerStatus status = LayerStatus::not_tried;
  std::vector<char> first_above; // per pair of the constraints: whether its first face lies above; [0] unused
  std::vector<FaceId> clash;     // faces that cannot be ordered; without any one of them the rest can
  bool most_wishes = false;      // no order keeps more of the wished relations than this one
  int components = 0;            // left to search by propagation
  int reused = 0;                // of them, answered from the cache
  double solver_seconds = 0;     // inside the SAT solver
  double seconds = 0;
};

/// Decides whether an order exists and finds one, component by component.
LayerOrder ordered_layers(const LayerConstraints& constraints, const LayerOptions& options = {});

/// An order that keeps as many of the wished relations as it can: none of those it breaks could be kept as well, and
/// where `most_wishes` says so none keeps more. With `all` every relation must hold, else there is no order.
LayerOrder ordered_layers(const LayerConstraints& constraints, const std::vector<DirectionPair>& wished, bool all,
                          const LayerOptions& options = {});

/// A smallest-by-inclusion set of faces whose own constraints have no solution, grown from `around`. Empty when the
/// whole can be ordered or time runs out.
std::vector<FaceId> clashing_faces(const LayerConstraints& constraints, const std::vector<FaceId>& around,
                                   const LayerOptions& options = {});

struct Contradiction {
  std::vector<CreaseId> edges; // of the pattern: directed creases that no order satisfies together, though without any
                               // one of them the rest goes; empty when the directions are not to blame
  bool smallest = false;       // no fewer creases contradict each other; false when time ran out before that was proved
};
/// nullopt when time runs out before any such set is found.
std::optional<Contradiction> contradictory_creases(const LayerConstraints& constraints,
                                                   const LayerOptions& options = {});

} // namespace uc
