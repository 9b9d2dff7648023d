// One division in one direction: N parts between line 0 and line N, and the plan of folds that makes its lines.
// Steps are the moves of the one-dimensional model: bring a onto b, fold through a, or guess by eye.
#pragma once

#include "base/names.h"

#include "base/result.h"
#include "precision/hand_profile.h"
#include "precision/line_errors.h"
#include "programme/move.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

enum class Method { best, edges, neighbours, stepping, iterated };
template <>
inline constexpr auto enum_words<Method> = std::to_array<Word<Method>>({{Method::best, "best"},
                                                                        {Method::edges, "edges"},
                                                                        {Method::neighbours, "neighbours"},
                                                                        {Method::stepping, "stepping"},
                                                                        {Method::iterated, "iterated"}});
constexpr Method all_methods[] = {Method::best, Method::edges, Method::neighbours, Method::stepping, Method::iterated};

enum class StepKind { bring, through, guess };
template <>
inline constexpr auto enum_words<StepKind> = std::to_array<Word<StepKind>>({{StepKind::bring, "bring"},
                                                                            {StepKind::through, "through"},
                                                                            {StepKind::guess, "guess"}});
struct GridStep {
  StepKind kind = StepKind::bring;
  int a = 0;
  int b = 0;
  int makes = 0;
  bool pinch = false; // made again later, or only a reference for other lines
  bool operator==(const GridStep&) const = default;
};

/// Where a division may start from: a mark that exists, one that is folded first, one that is measured.
enum class StartKind { given, diagonals, corner_fold, binary, route, ruler, printed };
template <>
inline constexpr auto enum_words<StartKind> = std::to_array<Word<StartKind>>({{StartKind::given, "given"},
                                                                              {StartKind::diagonals, "diagonals"},
                                                                              {StartKind::corner_fold, "corner-fold"},
                                                                              {StartKind::binary, "binary"},
                                                                              {StartKind::route, "route"},
                                                                              {StartKind::ruler, "ruler"},
                                                                              {StartKind::printed, "printed"}});

/// A line that is had before the division starts, with its standard error in mm.
struct StartMark {
  int line = 0;
  double sigma_mm = 0; // at its worse end, what its geometry misses included
  StartKind kind = StartKind::given;
  std::vector<std::string> recipes = {}; // of a folded start: one per direction of the grid, see reference/recipe.h
  bool operator==(const StartMark&) const = default;
};

constexpr int least_parts = 2;
constexpr int greatest_parts = 256;

struct DivideTask {
  int parts = 8;
  double sigma_mm = 0.25;
  double guess_sigma_mm = 2;
  std::optional<StartMark> start;
  std::vector<int> left_out;    // lines that get no crease, though a pinch at the raw edge may serve as a reference
  std::vector<int> untouchable; // lines that may not even be pinched
  std::vector<Fold> directions; // per line 0..N, or empty: all valley
  bool operator==(const DivideTask&) const = default;
};

/// A line the plan cannot make, and the left-out line its references would need.
struct MissingLine {
  int line = 0;
  int needs = 0;
  bool operator==(const MissingLine&) const = default;
};

struct GridPlan {
  Method method = Method::best;
  DivideTask task;
  std::vector<GridStep> steps;
  std::vector<double> line_sigma_mm; // 0..N; 0 for the edges, NaN for lines without crease
  std::vector<MissingLine> missing;
  double worst_sigma_mm = 0;
  int worst_line = 0;
  double mean_sigma_mm = 0; // mean over the creased lines of the standard error
  int creases = 0;          // folds, pinches among them, guesses not
  int guesses = 0;
  int turn_overs = 0;
  int rotations = 0;
  double minutes = 0;
};

/// Checks ranges; the message names the figure and what to type instead.
Status check_task(const DivideTask& task);

/// The plan of one method. Positions, variances and covariances follow the model of the hand profile exactly.
/// `best` is within 1 % of the least worst-line error any sequence of such moves can give, and never above the other
/// methods; among such plans it takes few folds, then little handling.
GridPlan plan_division(const DivideTask& task, Method method, const HandProfile& hand = {});

/// Replays steps and returns the errors they leave on every line.
LineErrors replay(const DivideTask& task, const std::vector<GridStep>& steps);

} // namespace uc
