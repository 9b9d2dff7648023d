#include "programme/move.h"

#include <algorithm>
#include <array>

namespace uc {
namespace {

constexpr std::array kinds = {"align",     "crease-through", "crease-between", "pinch",    "guess", "score", "cut",
                              "turn-over", "rotate",         "work-both-ways", "collapse", "join",  "wait",  "damp",
                              "clip",      "glue",           "curl",           "check",    "mark"};
constexpr std::array folds = {"undirected", "valley", "mountain"};
constexpr std::array cautions = {"none", "blade", "glue", "damp", "heat", "small-parts"};
constexpr std::array roles = {"raw-edge", "corner", "crease", "point"};
constexpr std::array extents = {"full", "pinch", "to-diagonals", "inset", "partial", "between"};

template <class Names> std::optional<std::size_t> find(const Names& names, const std::string& name) {
  const auto it = std::find(names.begin(), names.end(), name);
  if (it == names.end()) return std::nullopt;
  return static_cast<std::size_t>(it - names.begin());
}

} // namespace

std::string name_of(MoveKind kind) { return kinds.at(static_cast<std::size_t>(kind)); }
std::string name_of(Fold fold) { return folds.at(static_cast<std::size_t>(fold)); }
std::string name_of(Caution caution) { return cautions.at(static_cast<std::size_t>(caution)); }
std::string name_of(Role role) { return roles.at(static_cast<std::size_t>(role)); }
std::string name_of(Extent extent) { return extents.at(static_cast<std::size_t>(extent)); }

std::optional<MoveKind> move_kind_named(const std::string& name) {
  const auto at = find(kinds, name);
  if (!at) return std::nullopt;
  return static_cast<MoveKind>(*at);
}
Fold fold_named(const std::string& name) { return static_cast<Fold>(find(folds, name).value_or(0)); }
Caution caution_named(const std::string& name) { return static_cast<Caution>(find(cautions, name).value_or(0)); }
Role role_named(const std::string& name) { return static_cast<Role>(find(roles, name).value_or(2)); }
Extent extent_named(const std::string& name) { return static_cast<Extent>(find(extents, name).value_or(0)); }

} // namespace uc
