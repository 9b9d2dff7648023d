// A measured grid judged as it is now: how far each line may be off, whether the sheet as a whole is normal, which one
// error explains the worst line, and which few creases to make again.
#pragma once

#include "measure/measured.h"

#include <array>
#include <optional>
#include <vector>

namespace uc {

enum class Verdict { normal, odd, again };
template <>
inline constexpr auto enum_words<Verdict> =
    std::to_array<Word<Verdict>>({{Verdict::normal, "normal"}, {Verdict::odd, "odd"}, {Verdict::again, "again"}});

struct LineVerdict {
  int line = 0;
  double deviation_mm = 0; // measured minus planned
  double off_mm = 0;       // the same less what zero and scale explain
  double limit_mm = 0;     // that holds 95 of 100 single lines of a normal hand
  double z = 0;            // off over its standard error
  Verdict verdict = Verdict::normal;
};

/// What moved a line most.
struct Cause {
  enum class Kind { fold, guess, start, ruler, sheet } kind = Kind::fold;
  std::size_t step = 0;       // of folds and guesses
  double contribution_mm = 0; // how far it moved the line
  double share = 0;           // of what the line is off, 0 to 1
};
template <>
inline constexpr auto enum_words<Cause::Kind> = std::to_array<Word<Cause::Kind>>({{Cause::Kind::fold, "fold"},
                                                                                  {Cause::Kind::guess, "guess"},
                                                                                  {Cause::Kind::start, "start"},
                                                                                  {Cause::Kind::ruler, "ruler"},
                                                                                  {Cause::Kind::sheet, "sheet"}});

/// A crease to make again by bringing two lines together, and how far off it is to be expected then (root mean square).
struct Repair {
  int line = 0;
  std::array<int, 2> from{};
  double then_mm = 0;
};

struct Judgement {
  std::vector<LineVerdict> lines; // in the order measured
  int worst = -1;                 // index into lines, by |z|; -1 where only edges are measured
  double joint_limit_z = 0;       // at most 5 of 100 normal sheets have a line beyond it
  bool again = false;             // a line is beyond it
  double zero_mm = 0;             // where the ruler's zero seems to have lain
  double size_mm = 0;             // by how much the sheet seems to be larger than planned
  std::optional<Cause> cause;     // none while nothing is off, or nothing explains most of it
  std::vector<Repair> repair;     // in the order to make them; empty unless `again`
};

/// What is known of a ruler's zero and of a sheet's size before anything is measured, as standard errors in mm; and
/// when one of them is wrong altogether, as once in a hundred.
constexpr double zero_sigma_mm = 0.4;
constexpr double size_sigma_mm = 1;
constexpr double wrong_place_mm = 5;

/// `sigma_error_mm` is the standard error of s itself: limits are wider for a hand that is known from few runs. The
/// joint limit is sampled from the covariance of all lines with a fixed seed.
///
/// Blame: E[error | measured] of each source times what it does to the worst line, in a model in which one source in a
/// hundred slips and is then far less exact than the hand.
Judgement judge(const MeasuredFamily& measured, double sigma_error_mm = 0);

} // namespace uc
