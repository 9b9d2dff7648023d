#include "programme/move.h"

#include <algorithm>
#include <array>

namespace uc {
namespace {

constexpr std::array kinds = {"align",     "crease-through", "crease-between", "pinch",    "guess", "score", "cut",
                              "turn-over", "rotate",         "work-both-ways", "collapse", "join",  "wait",  "damp",
                              "clip",      "glue",           "curl",           "check",    "mark",  "fold",  "unfold"};
constexpr std::array folds = {"undirected", "valley", "mountain"};
constexpr std::array cautions = {"none", "blade", "glue", "damp", "heat", "small-parts"};
constexpr std::array roles = {"raw-edge", "corner", "crease", "point"};
constexpr std::array extents = {"full", "pinch", "to-diagonals", "inset", "partial", "between"};

template <class Kind, class Names> std::optional<Kind> named(const Names& names, const std::string& name) {
  const auto it = std::find(names.begin(), names.end(), name);
  if (it == names.end()) return std::nullopt;
  return static_cast<Kind>(it - names.begin());
}

} // namespace

std::string name_of(MoveKind kind) { return kinds.at(static_cast<std::size_t>(kind)); }
std::string name_of(Fold fold) { return folds.at(static_cast<std::size_t>(fold)); }
std::string name_of(Caution caution) { return cautions.at(static_cast<std::size_t>(caution)); }
std::string name_of(Role role) { return roles.at(static_cast<std::size_t>(role)); }
std::string name_of(Extent extent) { return extents.at(static_cast<std::size_t>(extent)); }

std::optional<MoveKind> move_kind_named(const std::string& name) { return named<MoveKind>(kinds, name); }
std::optional<Fold> fold_named(const std::string& name) { return named<Fold>(folds, name); }
std::optional<Caution> caution_named(const std::string& name) { return named<Caution>(cautions, name); }
std::optional<Role> role_named(const std::string& name) { return named<Role>(roles, name); }
std::optional<Extent> extent_named(const std::string& name) { return named<Extent>(extents, name); }

} // namespace uc
