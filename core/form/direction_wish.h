// What directions should look like when there is a choice: alternating from pleat to pleat, changing seldom along a
// line, or the same on both sides of a mirror line of the sheet.
#pragma once

#include "base/names.h"

#include "form/layer_constraints.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

enum class DirectionWish { any, alternating, few_changes, symmetric };
template <>
inline constexpr auto
    enum_words<DirectionWish> = std::to_array<Word<DirectionWish>>({{DirectionWish::any, "any"},
                                                                    {DirectionWish::alternating, "alternating"},
                                                                    {DirectionWish::few_changes, "few-changes"},
                                                                    {DirectionWish::symmetric, "symmetric"}});

/// Two creases whose directions should be the same, or opposite. The literals are true for valleys.
struct DirectionPair {
  Literal first = 0;
  Literal second = 0;
  bool same = true;
};

/// The pairs a wish is about. Alternating: parallel creases across one face, opposite. Few changes: creases that go on
/// straight at a vertex, the same. Symmetric: each crease and its mirror image in the first of the sheet's upright,
/// level and diagonal middle lines that maps all creases onto creases; none when there is no such line.
std::vector<DirectionPair> wished_pairs(DirectionWish wish, const CreasePattern& pattern, const PatternGraph& graph,
                                        const LayerConstraints& constraints);

} // namespace uc
