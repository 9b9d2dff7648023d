// How the errors of all folds add up in the creases of a sequence: each fold's line is off at both ends of what was
// creased (domain.md, section 2 of the model), and whatever is aligned to it later is off with it, in every layer.
#pragma once

#include "fold/sequence.h"

#include <Eigen/Core>

#include <random>

namespace uc {

/// Where every paper line lies on the bare sheet when fold k errs by errors[2k] and errors[2k + 1] mm at the two ends
/// of its aligned part. Which faces there are is taken from the sequence. Empty when an alignment gets lost.
std::optional<std::vector<Line>> paper_lines(const FoldSequence& sequence, const std::vector<double>& errors);

/// Two vertices of the last state that lie on each other once it is folded, and how far they are expected to miss.
struct FoldedGap {
  VertexId first, second;
  double sigma_mm = 0; // in the worst direction
};

struct SequenceErrors {
  std::vector<Eigen::Matrix2d> covariance; // per vertex of the last state's pattern, on the bare sheet, in mm²
  std::vector<double> vertex_sigma_mm;     // in the worst direction
  double worst_sigma_mm = 0;
  std::vector<double> share;   // per fold: its part of the variance of the worst vertex
  std::vector<FoldedGap> gaps; // the widest first
  bool determined = true; // false where an alignment only just touches: no small error of the hand has a small effect
};
/// To first order, by central differences of the whole sequence. A crease through k layers lies off by creep as well,
/// the same at both ends: (k - 1) times `creep_per_layer_mm`, the paper's caliper times the hand's factor.
SequenceErrors sequence_errors(const FoldSequence& sequence, double sigma_mm, double creep_per_layer_mm = 0);

/// Where the vertices of the last state lie once it is folded, seen from its first face, with these lines.
std::vector<Point> folded_vertices(const FoldSequence& sequence, const std::vector<Line>& lines);

/// The vertices of the last state with random errors, for comparison; empty when an alignment gets lost.
std::optional<std::vector<Point>> sampled_vertices(const FoldSequence& sequence, double sigma_mm,
                                                   std::mt19937_64& random, double creep_per_layer_mm = 0);

} // namespace uc
