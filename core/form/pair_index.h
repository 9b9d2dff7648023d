// The pairs of faces that overlap, each with a number: the variables of a layer order. Millions of them lie in a few
// arrays, four bytes each; for the many look-ups over one stack of faces a table is laid out beforehand.
#pragma once

#include "base/index.h"
#include "base/parallel.h"

#include <array>
#include <cstddef>
#include <vector>

namespace uc {

/// A literal: +v says that the first face of pair v lies above the second, -v that it lies below. Pairs count from 1.
using Literal = int;

class PairIndex {
public:
  PairIndex() = default;
  /// Every two faces that one of the stacks holds are a pair. Faces are ascending in each stack. What is left when the
  /// progress was stopped is good for nothing.
  PairIndex(int faces, const std::vector<std::vector<FaceId>>& stacks, const Progress* progress = nullptr);
  /// How many pairs the stacks make, without keeping them.
  static std::size_t count(int faces, const std::vector<std::vector<FaceId>>& stacks);

  /// One more than the number of pairs, so that literals are indices.
  [[nodiscard]] std::size_t size() const { return second_.size(); }
  /// The faces of a pair, the lesser first.
  [[nodiscard]] std::array<FaceId, 2> operator[](std::size_t pair) const;
  /// The literal that says that `upper` lies above `lower`; 0 when they do not overlap.
  [[nodiscard]] Literal above(FaceId upper, FaceId lower) const;

private:
  friend class StackTable;
  std::vector<std::size_t> first_of_;    // per face: its first pair as the lesser face
  std::vector<FaceId> second_{FaceId()}; // per pair, ascending within the pairs of one face
};

/// The literals among the faces of one stack, by their places in it.
class StackTable {
public:
  void lay_out(const PairIndex& pairs, const std::vector<FaceId>& faces);
  /// The literal that says that the i-th face lies above the k-th.
  [[nodiscard]] Literal above(std::size_t i, std::size_t k) const { return table_[i * size_ + k]; }
  /// The literal that says that one face lies above another; 0 unless both are in the stack. A face beside a piece may
  /// be missing from the cell there: what is thinner than the tolerance is no overlap.
  [[nodiscard]] Literal above_face(FaceId upper, FaceId lower) const {
    return holds(upper) && holds(lower) ? above(place(upper), place(lower)) : 0;
  }

private:
  [[nodiscard]] std::size_t place(FaceId face) const { return place_[static_cast<std::size_t>(face)]; }
  [[nodiscard]] bool holds(FaceId face) const {
    return static_cast<std::size_t>(face) < place_.size() && place(face) < size_ && faces_[place(face)] == face;
  }
  std::size_t size_ = 0;
  std::vector<Literal> table_;
  std::vector<std::size_t> place_;
  std::vector<FaceId> faces_;
};

} // namespace uc
