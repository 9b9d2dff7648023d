// A route: a construction that ends in the wanted mark or line, with everything a folder weighs it by: how far off it
// lands by its geometry, how far by the hand, how many creases, how much of them must be seen, which move is its
// weakest.
#pragma once

#include "base/names.h"

#include "programme/move.h"
#include "reference/construction.h"
#include "reference/target.h"

#include <cmath>
#include <string_view>

namespace uc {

/// A route counts as exact when it lands this close, in parts of the sheet: rounding leaves exact ones within 1e-14,
/// while among many routes some come to 1e-12 by chance.
constexpr double exact_share = 1e-13;

/// How much of a crease has to be made, and why the route may be weak there.
struct CreaseNeed {
  int item = 0;
  Extent extent = Extent::full;
  Segment span; // the part that is creased; holds every crossing later used on it
};

enum class Weakness { none, shallow_crossing, short_alignment, far_reach };

struct Route {
  Target target;
  Construction construction;
  int result = -1; // item
  double error_mm = 0;
  double sigma_mm = 0;
  int creases = 0;
  int pinches = 0;
  double scar_mm = 0;  // length of all creases made
  double clean_mm = 0; // of it, inside areas to keep clean
  bool exact = false;  // the geometry hits the target: see `exact_share`
  std::vector<CreaseNeed> needs;
  Eigen::Matrix2d covariance = Eigen::Matrix2d::Zero(); // of the resulting point, mm²
  int weakest = -1;                                     // item whose own error weighs most in the result
  double weakest_share = 0;                             // of the variance
  Weakness weakness = Weakness::none;
  std::string_view idea; // short name of the way it works, a literal; routes with the same one are grouped

  [[nodiscard]] double total_mm() const { return std::hypot(error_mm, sigma_mm); }
  [[nodiscard]] const CreaseNeed* need(int item) const;
};

struct JudgeOptions {
  double sigma_mm = 0.25;
  std::vector<Box> keep_clean;
};

/// A route as far as ranking needs it, and the errors that the rest is told from.
struct RouteDraft {
  Route route; // target, construction, result, error, sigma, creases, exact
  ConstructionErrors errors;
};

/// The first half of `judged`: what a route costs and how far off it lands. The construction holds only what the result
/// needs.
std::optional<RouteDraft> drafted(Construction construction, int result, const Target& target, double sigma_mm);
/// The second half: what of each crease has to be made, the error's shape, the weakest move.
void finish(RouteDraft& draft, const std::vector<Box>& keep_clean);

/// Judges a construction whose item `result` answers the target. Only what the result needs is kept. Empty when the
/// hand's error is not determined, as when a crease is fixed by lines that meet along a point only.
std::optional<Route> judged(const Construction& construction, int result, const Target& target,
                            const JudgeOptions& options);

/// How much of each crease has to be made, given the item(s) wanted; `errors` fixes how long a pinch must be to be hit.
std::vector<CreaseNeed> needs_of(const Construction& construction, const std::vector<int>& results,
                                 const ConstructionErrors& errors);

/// Everything a route makes, made again in another construction that has the same corners, edges and, under the item
/// `carrier`, the same old line. Returns the item of its result, -1 when some fold cannot be made there.
int made_again(Construction& construction, const Route& route, int carrier = -1);

/// Distance of a result from its target as the contract defines it, mm.
double error_of(const Construction& construction, int result, const Target& target);

/// "the crossing is shallow (24°)": why the weakest move is weak; empty when nothing stands out.
std::string weakness_text(const Route& route);

} // namespace uc
