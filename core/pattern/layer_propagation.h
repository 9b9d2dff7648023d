// What follows of the layer order without search: equations merged by union-find with signs, parities reduced by them,
// and transitivity closed over every stack of faces.
#pragma once

#include "base/parallel.h"
#include "pattern/layer_constraints.h"

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
    std::vector<Literal> roots;
    bool odd = false;
    bool operator<(const Parity& o) const { return roots != o.roots ? roots < o.roots : odd < o.odd; }
    bool operator==(const Parity& o) const { return odd == o.odd && roots == o.roots; }
  };
  [[nodiscard]] const std::vector<Parity>& parities() const { return parities_; }
  /// Faces of the constraint that failed.
  [[nodiscard]] const std::vector<int>& conflict() const { return conflict_; }

private:
  bool merge(Literal a, Literal b, bool& changed);
  bool settle();
  bool reduce_parities(bool& changed);
  bool close_stack(std::size_t stack, bool& changed);
  Literal find(Literal l);
  void blame(std::initializer_list<Literal> literals);

  const LayerConstraints& constraints_;
  const Progress* progress_ = nullptr;
  std::vector<Literal> parent_; // signed
  std::vector<Parity> parities_;
  std::vector<int> conflict_;
};

} // namespace uc
