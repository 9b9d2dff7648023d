// What propagation left open, in parts that have nothing to do with each other: no parity and no stack of faces holds
// unknowns of two of them. Each is solved alone, and an answer serves again for every component that reads the same,
// which is how a proof after a small change stays cheap.
#pragma once

#include "form/layer_propagation.h"

#include <string>

namespace uc {

struct LayerComponent {
  std::vector<Literal> roots;              // its unknowns, in a canonical order and sense
  std::vector<std::size_t> parities;       // of the propagation
  std::vector<std::vector<FaceId>> stacks; // of faces that may still lie on a cycle
  std::string text;                        // equal for components that have the same solutions, root by root
};

/// What is returned when the progress was stopped is good for nothing.
std::vector<LayerComponent> components_of(const LayerConstraints& constraints, const LayerPropagation& propagated,
                                          const Progress* progress = nullptr);

/// Answers by the text of their components. Not for use by several threads at once.
class LayerCache {
public:
  /// Per root whether it is true; null when the component has not been met. Nobody meets impossible ones twice.
  [[nodiscard]] const std::vector<char>* find(const LayerComponent& component) const;
  void keep(const LayerComponent& component, std::vector<char> answer);

private:
  std::unordered_map<std::string, std::vector<char>> answers_;
  std::size_t bytes_ = 0;
};

/// Beyond this the cache begins anew.
constexpr std::size_t most_cached_bytes = 64U << 20U;

} // namespace uc
