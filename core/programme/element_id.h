// What elements of a programme are known by: who makes them, in which of its plans, and which item of the plan it is.
// Ids are values; they are compared, ordered and written ("grid.0.3"), and nothing is packed into them.
#pragma once

#include "base/names.h"

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <tuple>

namespace uc {

/// `start`: what is folded before a grid to begin it. `pattern`: creases that lie on no line of a grid, with the sheet
/// and marks of the pre-crease.
enum class ElementSource { none, grid, start, reference, pattern, steps };
template <>
inline constexpr auto
    enum_words<ElementSource> = std::to_array<Word<ElementSource>>({{ElementSource::none, "none"},
                                                                    {ElementSource::grid, "grid"},
                                                                    {ElementSource::start, "start"},
                                                                    {ElementSource::reference, "reference"},
                                                                    {ElementSource::pattern, "pattern"},
                                                                    {ElementSource::steps, "steps"}});

struct ElementId {
  ElementSource source = ElementSource::none;
  std::int32_t plan = 0; // of a grid the family of lines, of a reference its place in the list
  std::int32_t item = 0;
  bool operator==(const ElementId&) const = default;
  bool operator<(const ElementId& o) const { return std::tie(source, plan, item) < std::tie(o.source, o.plan, o.item); }
  explicit operator bool() const { return source != ElementSource::none; }
};

/// "grid.0.3"; "none" for no element.
std::string text_of(ElementId id);
std::optional<ElementId> element_id(std::string_view text);
/// What versions before ids were written as words put in their place: numbers.
std::optional<ElementId> element_id_of_number(std::int64_t number);

} // namespace uc

template <> struct std::hash<uc::ElementId> {
  std::size_t operator()(const uc::ElementId& id) const noexcept {
    const auto wide =
        (static_cast<std::uint64_t>(static_cast<std::uint32_t>(id.plan)) << 32) | static_cast<std::uint32_t>(id.item);
    return std::hash<std::uint64_t>{}(wide * 31 + static_cast<std::uint64_t>(id.source));
  }
};
