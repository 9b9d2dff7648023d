// What measured grids say about the hand: its standard error by restricted maximum likelihood, whether it always stops
// short, how well the ruler is read, and which lines do not belong to a normal hand.
#pragma once

#include "measure/measured.h"

#include <optional>
#include <vector>

namespace uc {

/// A line that was taken out of the fit: a slip of the hand there, or a misreading.
struct LeftOut {
  std::size_t run = 0; // index into what was measured
  int line = 0;
  double z = 0; // how many standard errors off, given all other lines of the run
};

struct HandFit {
  double sigma_mm = 0;
  double standard_error_mm = 0; // from the expected information
  int runs = 0;                 // that tell anything
  int lines = 0;
  std::vector<LeftOut> left_out;
  double bias_mm = 0; // how far short of its place a crease lies, towards the edge that was moved
  double bias_error_mm = 0;
  double ruler_mm = 0; // of one reading; as given, or learnt from lines measured twice
  bool ruler_learnt = false;
};

/// Beyond it a line is left out. 3.5 would do for one line; of the hundred lines and folds of a fit the worst is beyond
/// that once in ten fits.
constexpr double left_out_z = 3.6;
/// So many second readings tell the ruler's error.
constexpr int least_repeats = 3;

/// Restricted maximum likelihood (Patterson and Thompson 1971) of s, the errors of guesses and ruler held fixed:
/// zero and scale of each run are free, one bias of the hand is 0 ± 0.5 mm beforehand, and with Q a base of what they
/// leave, Qᵀd is normal with covariance Qᵀ(s² A Aᵀ + G² B Bᵀ + r² I)Q, A and B the coefficients over errors of folds
/// and guesses. Slips are shifts of the mean (Cook and Weisberg 1982) along one line or one fold, taken out one after
/// the other. Fails where too little is measured, or what is measured says nothing of the hand.
Result<HandFit> fit_hand(const std::vector<MeasuredFamily>& measured);

} // namespace uc
