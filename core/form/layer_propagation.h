// What follows of the layer order without search: equations merged by union-find with signs, parities reduced by them,
// and transitivity closed over every stack of faces.
#pragma once

#include "base/parallel.h"
#include "form/layer_constraints.h"

#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace uc {

class LayerPropagation {
public:
  explicit LayerPropagation(const LayerConstraints& constraints);

  /// Takes in equations, parities and, if wanted, the directions of creases; then works to a fixed point. False when a
  /// contradiction turns up.
  bool run(bool directions, const Progress* progress = nullptr);

  /// The representative of a literal; constant_true or its negative when it is known.
  [[nodiscard]] Literal root(Literal l) const;
  /// Stands for "true"; no pair has this number.
  [[nodiscard]] Literal constant_true() const { return static_cast<Literal>(parent_.size()) - 1; }
  [[nodiscard]] bool known(Literal l) const { return std::abs(root(l)) == constant_true(); }
  [[nodiscard]] bool is_true(Literal l) const { return root(l) == constant_true(); }
  /// Parities that are left, over distinct unknown roots, all of which are positive: `odd` asks for an odd number.
  struct Parity {
    std::array<Literal, 4> root{};
    std::uint8_t count = 0;
    bool odd = false;
    [[nodiscard]] std::span<const Literal> roots() const { return {root.data(), count}; }
    bool operator<(const Parity& o) const { return root != o.root ? root < o.root : odd < o.odd; }
    bool operator==(const Parity& o) const { return odd == o.odd && root == o.root; }
  };
  [[nodiscard]] const std::vector<Parity>& parities() const { return parities_; }
  /// Faces of the constraint that failed.
  [[nodiscard]] const std::vector<FaceId>& conflict() const { return conflict_; }

private:
  /// Asks every now and then whether the work was stopped.
  [[nodiscard]] bool stopped(std::size_t& steps) const;
  bool merge(Literal a, Literal b, bool& changed);
  bool settle();
  bool reduce_parities(bool& changed);
  /// Over distinct unknown roots; false, with `fits` false, when that is a contradiction.
  bool reduce(Parity& parity, bool& left, bool& changed);
  bool close_stack(std::size_t stack, bool& changed);
  Literal find(Literal l);
  void blame(std::initializer_list<Literal> literals);

  const LayerConstraints& constraints_;
  const Progress* progress_ = nullptr;
  std::vector<Literal> parent_; // signed
  std::vector<Parity> parities_;
  std::vector<FaceId> conflict_;
  StackTable table_;
};

} // namespace uc
