#include "fold/folds/named_fold.h"

#include <algorithm>
#include <array>
#include <utility>

namespace uc {

FoldMaker fold_maker(StepVerb verb) {
  static constexpr std::array<std::pair<StepVerb, FoldMaker>, 6> makers = {{{StepVerb::reverse, reverse_fold},
                                                                            {StepVerb::sink, reverse_fold},
                                                                            {StepVerb::squash, squash_fold},
                                                                            {StepVerb::petal, petal_fold},
                                                                            {StepVerb::rabbit, rabbit_ear},
                                                                            {StepVerb::collapse, collapse_on_creases}}};
  const auto* maker = std::find_if(makers.begin(), makers.end(), [&](const auto& m) { return m.first == verb; });
  return maker == makers.end() ? nullptr : maker->second;
}

} // namespace uc
