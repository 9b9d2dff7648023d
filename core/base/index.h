// Numbers of vertices, faces and creases are types of their own, so that one cannot be taken for another: made from a
// plain number only by name, used as one freely, -1 for none. Containers are indexed without a sign; this is the one
// place where the one becomes the other.
#pragma once

#include <compare>
#include <concepts>
#include <cstddef>
#include <functional>
#include <vector>

namespace uc {

/// The number of one thing of a kind among its like, compared as a value; none until it is given one.
template <class Kind> class Id {
public:
  constexpr Id() = default;
  template <std::integral Number> constexpr explicit Id(Number number) : number_(static_cast<int>(number)) {}
  constexpr operator int() const { return number_; } // NOLINT(google-explicit-constructor): it indexes and prints so
  constexpr Id& operator++() {
    ++number_;
    return *this;
  }
  friend constexpr bool operator==(Id, Id) = default;
  friend constexpr auto operator<=>(Id, Id) = default; // NOLINT(modernize-use-nullptr): clang-tidy 14 sees a 0
  template <class Other>
  requires(!std::same_as<Kind, Other>) friend bool operator==(Id, Id<Other>) = delete;

private:
  int number_ = -1;
};

using VertexId = Id<struct VertexKind>;
using FaceId = Id<struct FaceKind>;
using CreaseId = Id<struct CreaseKind>; // an edge of a pattern: the raw ones and the cuts are counted with the creases
using UnitId = Id<struct UnitKind>;     // a piece of paper among those that are joined

/// Found by the JSON library.
template <class Json, class Kind> void to_json(Json& json, Id<Kind> id) { json = static_cast<int>(id); }

/// Ids as plain numbers, and plain numbers as ids.
template <class Kind> std::vector<int> numbers_of(const std::vector<Id<Kind>>& ids) { return {ids.begin(), ids.end()}; }
template <class Of> std::vector<Of> ids_of(const std::vector<int>& numbers) {
  std::vector<Of> ids;
  ids.reserve(numbers.size());
  for (const int n : numbers) ids.emplace_back(n);
  return ids;
}

constexpr std::size_t at(int index) { return static_cast<std::size_t>(index); }

} // namespace uc

template <class Kind> struct std::hash<uc::Id<Kind>> {
  std::size_t operator()(uc::Id<Kind> id) const { return std::hash<int>{}(id); }
};
